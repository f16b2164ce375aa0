import { useState } from "react";
import type { ControlSetup, ControlsAnswer } from "../../../api/client";
import { QuantityField } from "../../../components/quantity/QuantityField";
import { useSettings } from "../../../components/settings-context";
import { Curve } from "../../../drawing/controls/Curve";
import { useRateFor } from "../../../queries/controls";
import { Choice, Group, SmallButton, useEdit } from "../editing";
import { type SetupChange, SetupNumber, useDesk, usePut, WayNumber } from "./desk";
import { MeasuredControl } from "./MeasuredControl";

type Steps = ControlSetup["rates"][number]["steps"];
type Axis = "pitch" | "roll" | "yaw";
const AXES = ["pitch", "roll", "yaw"] as const;
/** Stick at the left and right end of the curve; what the model does there comes from the core. */
const STICK: Record<Axis, readonly [string, string]> = {
  pitch: ["stick forward", "stick back"],
  roll: ["stick left", "stick right"],
  yaw: ["stick left", "stick right"],
};

/** Every rate of every axis: its curve, throws in millimetres, and what it is worth in the air. */
export function ThrowsBoard() {
  const { answer } = useDesk();
  return (
    <div>
      {AXES.map((axis) => (
        <AxisBoard key={axis} axis={axis} />
      ))}
      <h2 className="mt-2 mb-1 text-lg">Schools of throw for this class</h2>
      <ul className="grid gap-2 md:grid-cols-3" data-testid="throw-schools">
        {answer.throw_schools.map((s) => (
          <School key={s.key} school={s} />
        ))}
      </ul>
    </div>
  );
}

function AxisBoard({ axis }: { axis: Axis }) {
  const { answer } = useDesk();
  const { show } = useSettings();
  const rows = answer.rates.filter((r) => r.axis === axis);
  const name = answer.ways.find((w) => w.axis === axis)?.name ?? axis;
  const moved = rows.some((r) => r.first_rad > 0);
  if (!moved) return null;
  return (
    <section className="grid items-start gap-3 border-b border-base-300 py-2 md:grid-cols-[13rem_1fr]">
      <Curve
        label={`Command over stick, ${name}`}
        ends={[...STICK[axis], rows[0]?.second_way ?? "", rows[0]?.first_way ?? ""]}
        lines={rows.map((r, i) => ({
          name: r.rate,
          points: r.curve.map(([x, y]) => [x ?? 0, y ?? 0] as const),
          dashed: i > 0,
        }))}
      />
      <div>
        <h2 className="text-lg">{name[0]?.toUpperCase() + name.slice(1)}</h2>
        {rows.map((r) => (
          <div key={r.rate} className="mt-1" data-rate={`${axis} ${r.rate}`}>
            <p>
              <span className="font-semibold">{r.rate}</span>: {show(r.first_m, "length", 1)} (
              {show(r.first_rad, "angle")}) {r.first_way}, {show(r.second_m, "length", 1)} (
              {show(r.second_rad, "angle")}) {r.second_way}, at {show(r.chord_m, "length")} chord
            </p>
            <p className={r.floor_passed === false ? "font-semibold text-accent" : "text-sm"}>
              {r.floor_passed === null ? "" : r.floor_passed ? "Authority floor passed. " : "Authority floor failed. "}
              {r.words}
            </p>
          </div>
        ))}
      </div>
    </section>
  );
}

function School({ school }: { school: ControlsAnswer["throw_schools"][number] }) {
  const { show } = useSettings();
  const { readOnly } = useEdit();
  const put = usePut();
  const reachable = school.pitch_rate !== null && school.roll_rate !== null;
  const use = () =>
    void put(
      (s) => ({
        ...s,
        rates: s.rates.map((r) => {
          const share = r.axis === "pitch" ? school.pitch_rate : r.axis === "roll" ? school.roll_rate : null;
          if (share === null) return r;
          const expo = r.axis === "pitch" ? school.pitch_expo : school.roll_expo;
          const at = r.steps.length - 1;
          return {
            ...r,
            steps: r.steps.map((step, i) => (i === at ? { ...step, first: share, second: share, expo } : step)),
          };
        }),
      }),
      `throws: ${school.name.toLowerCase()}`,
    );
  return (
    <li className={`sheet p-2 ${school.usual ? "border-2 border-base-content" : ""}`}>
      <p className="font-semibold">
        {school.name}
        {school.usual ? <span className="label-small"> usual for this class</span> : null}
      </p>
      <p className="text-sm">{school.words}</p>
      <p className="mt-1">
        pitch {show(school.pitch_rad, "angle")}, roll {show(school.roll_rad, "angle")}, expo{" "}
        {(school.pitch_expo * 100).toFixed(0)} / {(school.roll_expo * 100).toFixed(0)} %
      </p>
      {reachable ? (
        readOnly ? null : (
          <SmallButton words="Set the lowest rate so" onClick={use} />
        )
      ) : (
        <p className="text-sm font-semibold text-accent">This linkage does not reach it: other holes first.</p>
      )}
    </li>
  );
}

/** Rates of an axis as numbers: share of full throw each way, expo, differential; flight phases. */
export function ThrowsFields() {
  const { answer, setup } = useDesk();
  const [axis, setAxis] = useState<Axis>("pitch");
  const { readOnly } = useEdit();
  const put = usePut();
  const rates = setup.rates.find((r) => r.axis === axis);
  if (!rates) return null;
  const change = (next: (steps: Steps) => Steps, words: string) =>
    void put(
      (s) => ({ ...s, rates: s.rates.map((r) => (r.axis === axis ? { ...r, steps: next(r.steps) } : r)) }),
      words,
    );
  const ways = answer.ways.find((w) => w.axis === axis);
  const [one, other] = [ways?.first ?? "", ways?.second ?? ""];
  return (
    <div>
      <Choice
        label="Axis"
        value={axis}
        options={AXES.map(
          (a) => [a, a === "pitch" ? "pitch (elevator)" : a === "roll" ? "roll (aileron)" : "yaw (rudder)"] as const,
        )}
        onChoose={setAxis}
      />
      <MeasuredControl axis={axis} />
      {rates.steps.map((step, i) => (
        <Group
          key={axis + step.name}
          title={`${step.name} rate`}
          action={
            rates.steps.length > 1 ? (
              <SmallButton
                quiet
                words="Remove"
                onClick={() => change((s) => s.filter((_, k) => k !== i), "rate removed")}
              />
            ) : null
          }
        >
          {(["first", "second"] as const).map((key) => (
            <RateRow key={key} axis={axis} index={i} name={step.name} side={key} way={key === "first" ? one : other} />
          ))}
          <WayNumber
            label="Expo"
            quantity="fraction"
            ways={["softer centre", "sharper centre"]}
            value={step.expo}
            words={`${axis} expo set`}
            change={(v) => withStep(axis, i, { expo: v })}
          />
        </Group>
      ))}
      {rates.steps.length < 3 && !readOnly ? (
        <SmallButton
          words="Add a rate"
          onClick={() =>
            change(
              (s) => [
                ...s,
                {
                  name: ["low", "mid", "high", "third"].find((n) => !s.some((x) => x.name === n)) ?? "fourth",
                  first: 0.6,
                  second: 0.6,
                  expo: 0.2,
                },
              ],
              "rate added",
            )
          }
        />
      ) : null}
      {axis === "roll" ? (
        <SetupNumber
          label="Differential"
          hint="taken off the aileron that goes down"
          quantity="fraction"
          value={rates.differential}
          words="differential set"
          change={(v) => (s) => ({
            ...s,
            rates: s.rates.map((r) => (r.axis === "roll" ? { ...r, differential: v } : r)),
          })}
        />
      ) : null}
      <Phases />
      <SetupNumber
        label="Fastest dive"
        hint="empty: the usual one for this cruise speed"
        quantity="speed"
        value={setup.dive_speed_mps}
        words="fastest dive entered"
        change={(v) => (s) => ({ ...s, dive_speed_mps: v })}
      />
      <TakeLinkage />
    </div>
  );
}

/** Replace parts of one rate of an axis. */
function withStep(axis: Axis, index: number, part: Partial<Steps[number]>): SetupChange {
  return (s) => ({
    ...s,
    rates: s.rates.map((r) =>
      r.axis === axis ? { ...r, steps: r.steps.map((t, k) => (k === index ? { ...t, ...part } : t)) } : r,
    ),
  });
}

interface RateRowProps {
  axis: Axis;
  index: number;
  name: string;
  side: "first" | "second";
  way: string;
}

/** One way of a rate: as a share of the full throw, or by the throw a ruler is to read. */
function RateRow({ axis, index, name, side, way }: RateRowProps) {
  const { modelId, answer, setup } = useDesk();
  const { readOnly } = useEdit();
  const put = usePut();
  const ask = useRateFor(modelId);
  const step = setup.rates.find((r) => r.axis === axis)?.steps[index];
  const shown = answer.rates.find((r) => r.axis === axis && r.rate === name);
  if (!step || !shown) return null;
  return (
    <>
      <SetupNumber
        label={`Share of full throw, ${way}`}
        quantity="fraction"
        value={step[side]}
        words={`${axis} rate set`}
        change={(v) => withStep(axis, index, { [side]: v })}
      />
      <QuantityField
        label={`By the ruler, ${way}`}
        quantity="length"
        extraDigits={1}
        value={side === "first" ? shown.first_m : shown.second_m}
        disabled={readOnly}
        onCommit={async (straight_m) => {
          const found = await ask.mutateAsync({ axis, straight_m, first: side === "first" });
          await put(withStep(axis, index, { [side]: found.share }), `${axis} throw set by the ruler`);
        }}
      />
    </>
  );
}

/** Flight phases: which rates, how much flap. The first is what the model is trimmed in. */
function Phases() {
  const { setup } = useDesk();
  const put = usePut();
  const { readOnly } = useEdit();
  return (
    <Group title="Flight phases">
      {setup.phases.map((p, i) => (
        <details key={p.name} className="py-1">
          <summary className="min-h-8">{p.name}</summary>
          {AXES.map((a) => (
            <Choice
              key={a}
              label={`${a} rate`}
              value={String(p[`${a}_rate`])}
              options={(setup.rates.find((r) => r.axis === a)?.steps ?? []).map((s, k) => [String(k), s.name] as const)}
              onChoose={(k) =>
                void put(
                  (s) => ({ ...s, phases: s.phases.map((q, j) => (j === i ? { ...q, [`${a}_rate`]: Number(k) } : q)) }),
                  `${p.name}: rate chosen`,
                )
              }
            />
          ))}
          <SetupNumber
            label={`Flap in ${p.name}`}
            quantity="fraction"
            value={p.flap}
            words={`${p.name}: flap set`}
            change={(v) => (s) => ({ ...s, phases: s.phases.map((q, j) => (j === i ? { ...q, flap: v } : q)) })}
          />
          {i > 0 ? (
            <SmallButton
              quiet
              words="Remove"
              onClick={() => void put((s) => ({ ...s, phases: s.phases.filter((_, j) => j !== i) }), "phase removed")}
            />
          ) : null}
        </details>
      ))}
      {setup.phases.length < 5 && !readOnly ? (
        <SmallButton
          words="Add a phase"
          onClick={() =>
            void put((s) => {
              const first = s.phases[0];
              if (!first) return s;
              const name = ["landing", "take-off", "speed", "thermal"][s.phases.length - 1] ?? "phase";
              return {
                ...s,
                phases: [
                  ...s.phases,
                  { ...first, name, pitch_clicks: 0, roll_clicks: 0, yaw_clicks: 0, speed_words: "" },
                ],
              };
            }, "flight phase added")
          }
        />
      ) : null}
    </Group>
  );
}

/** Where measurement and linkage disagree about a click: take what the linkage says for what flights are read with. */
function TakeLinkage() {
  const { answer } = useDesk();
  const { edit, readOnly } = useEdit();
  const off = answer.agreements.filter((a) => !a.agrees);
  if (off.length === 0 || answer.started) return null;
  const KEY = { pitch: "elevator", roll: "aileron", yaw: "rudder" } as const;
  return (
    <Group title="Measured against linkage">
      {off.map((a) => (
        <div key={a.axis} className="py-1">
          <p className="text-sm">{a.words}</p>
          {readOnly ? null : (
            <SmallButton
              words="Take the linkage's"
              onClick={() =>
                void edit(
                  (s) => ({
                    ...s,
                    [KEY[a.axis]]: { ...s[KEY[a.axis]], rad_per_click: a.per_click_rad },
                  }),
                  `${KEY[a.axis]}: click taken from the linkage`,
                )
              }
            />
          )}
        </div>
      ))}
    </Group>
  );
}
