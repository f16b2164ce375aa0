import { useState } from "react";
import type { ControlSetup } from "../../../api/client";
import { QuantityField } from "../../../components/quantity/QuantityField";
import { useSettings } from "../../../components/settings-context";
import { ProblemNote } from "../../../components/ui/feedback";
import { useDevices, useLevelReference } from "../../../queries/controls";
import { Choice, Group, SmallButton, Tick, useEdit } from "../editing";
import { Findings, useDesk, usePut, WayNumber } from "./desk";
import { TextField } from "./TextField";

type Stabiliser = NonNullable<ControlSetup["stabiliser"]>;
type Seen = Stabiliser["gains"][number]["seen"];
type Mode = Stabiliser["proofs"][number]["mode"];

const SEEN = [
  ["sluggish", "droops, feels soft"],
  ["fine", "crisp and still"],
  ["oscillates", "shakes"],
  ["nose_dips", "nose dips in the climb"],
  ["rolls_away", "rolls away in the climb"],
] as const;
const MODES = [
  ["pass_through", "pass-through"],
  ["rate", "rate-stabilised"],
  ["self_level", "self-levelling"],
  ["circle", "circle"],
  ["return", "return-home"],
  ["launch", "launch"],
] as const;
const AXIS = { pitch: "Pitch", roll: "Roll", yaw: "Yaw" } as const;

/** What the device is set to, what is wrong with it, and what flights say of level and gains. */
export function StabiliserBoard() {
  const { answer, setup, view } = useDesk();
  if (!setup.stabiliser)
    return <p>No gyro and no flight controller: sticks go straight to the surfaces, and trims belong in the radio.</p>;
  return (
    <div data-testid="stabiliser-board">
      <Findings findings={answer.stabiliser} none="Nothing is wrong with how it is set." />
      <Level />
      {view.level ? (
        <p className="sheet my-2 p-2">
          From the last self-levelling flight: <span className="font-semibold">{view.level.words}</span>
        </p>
      ) : null}
      {answer.gains.length > 0 ? (
        <>
          <h2 className="mt-3 text-lg">Gains, next values</h2>
          <ul className="list-disc pl-5" data-testid="gains">
            {answer.gains.map((g) => (
              <li key={g.axis + g.term} className={g.settled ? "" : "font-semibold"}>
                {AXIS[g.axis]} {g.term}: {g.value}. <span className="font-normal">{g.words}</span>
              </li>
            ))}
          </ul>
        </>
      ) : null}
      <Masks />
      <Instruments />
    </div>
  );
}

function Level() {
  const { modelId } = useDesk();
  const { show } = useSettings();
  const [climbs, setClimbs] = useState<"climbs" | "sinks">("climbs");
  const [height, setHeight] = useState(5);
  const [seconds, setSeconds] = useState(20);
  const level = useLevelReference(modelId);
  return (
    <section className="mt-2 max-w-xl">
      <h2 className="text-lg">Self-levelling, cruise throttle, hands off</h2>
      <Choice
        label="It"
        value={climbs}
        options={[
          ["climbs", "climbs"],
          ["sinks", "sinks"],
        ]}
        onChoose={setClimbs}
      />
      <QuantityField label="Height" quantity="distance" value={height} onCommit={setHeight} />
      <QuantityField label="Time" quantity="time" value={seconds} onCommit={setSeconds} />
      <button
        type="button"
        className="btn btn-sm"
        onClick={() => level.mutate({ height_m: climbs === "climbs" ? height : -height, seconds })}
      >
        What does that mean?
      </button>
      {level.error ? <ProblemNote error={level.error} /> : null}
      {level.data ? (
        <div className="sheet my-2 p-2" data-testid="level">
          <p className="text-lg font-semibold">{level.data.words}</p>
          <p className="text-sm">
            ± {show(level.data.sigma_rad, "angle")}; {level.data.factor.toFixed(1)} times the path angle, because more
            attitude also slows it. Rule of thumb: {show(Math.abs(level.data.thumb_rad), "angle")} at a time.
          </p>
        </div>
      ) : null}
    </section>
  );
}

function Masks() {
  const { answer } = useDesk();
  const rows = answer.masked.filter((m) => m.what.length > 0);
  if (rows.length === 0) return null;
  return (
    <section className="mt-3">
      <h2 className="text-lg">Not to be concluded from these modes</h2>
      <ul className="list-disc pl-5">
        {rows.map(({ mode, what }) => (
          <li key={mode}>
            {MODES.find(([k]) => k === mode)?.[1]}: {what.join(", ")}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Instruments() {
  const { modelId } = useDesk();
  const { show } = useSettings();
  const devices = useDevices(modelId);
  return (
    <section className="mt-3" data-testid="devices">
      <h2 className="text-lg">Radio and controller</h2>
      <p className="text-sm">Stand-ins until real ones are connected: they hold what is entered here.</p>
      <div className="mt-1 flex gap-2">
        <button type="button" className="btn btn-sm" onClick={() => devices.mutate(false)}>
          Read them
        </button>
        <button type="button" className="btn btn-sm" onClick={() => devices.mutate(true)}>
          Write the set-up sheet to them
        </button>
      </div>
      {devices.error ? <ProblemNote error={devices.error} /> : null}
      {devices.data ? (
        <ul className="mt-1 list-disc pl-5">
          {devices.data.words.map((w) => (
            <li key={w}>{w}</li>
          ))}
          {devices.data.midpoints.map((m) => (
            <li key={m.role}>
              Midpoint of the {m.role.replaceAll("_", " ")}: {m.pulse_us.toFixed(0)} µs
            </li>
          ))}
          {devices.data.level_offset_rad === null ? null : (
            <li>Level reference: {show(Math.abs(devices.data.level_offset_rad), "angle")}</li>
          )}
          {devices.data.sheet_written ? <li>The set-up sheet is kept in both.</li> : null}
        </ul>
      ) : null}
    </section>
  );
}

/** The device: what it is, how it lies, its level reference in one place, learning, gains and modes. */
export function StabiliserFields() {
  const { answer, setup } = useDesk();
  const pitch = answer.ways.find((w) => w.axis === "pitch");
  const { readOnly } = useEdit();
  const put = usePut();
  const s = setup.stabiliser;
  const set = (part: Partial<Stabiliser>, words: string) =>
    put((c) => ({ ...c, stabiliser: { ...(c.stabiliser ?? answer.starting_stabiliser), ...part } }), words);
  if (!s)
    return readOnly ? null : (
      <div className="flex flex-wrap gap-2">
        <SmallButton words="A flight controller is fitted" onClick={() => void set({}, "flight controller fitted")} />
        <SmallButton words="A gyro is fitted" onClick={() => void set({ device: "gyro" }, "gyro fitted")} />
      </div>
    );
  return (
    <div>
      <Group
        title="Device"
        action={
          <SmallButton
            quiet
            words="Take it out"
            onClick={() => void put((c) => ({ ...c, stabiliser: null }), "stabiliser taken out")}
          />
        }
      >
        <Choice
          label="What it is"
          value={s.device}
          options={[
            ["controller", "flight controller"],
            ["gyro", "gyro, rates only"],
          ]}
          onChoose={(device) => void set({ device }, "device chosen")}
        />
        <TextField
          label="How it lies"
          value={s.mounting}
          onCommit={(mounting) => set({ mounting }, "mounting noted")}
        />
        <Tick
          label="Every surface works against the tilt"
          checked={s.directions_checked}
          onChange={(v) => void set({ directions_checked: v }, "stabiliser directions checked")}
        />
        <Tick
          label="Calibrated in six positions"
          checked={s.calibrated}
          onChange={(v) => void set({ calibrated: v }, "calibrated")}
        />
      </Group>
      <Group title="Level reference">
        <WayNumber
          label="On the board"
          quantity="angle"
          ways={[pitch?.first ?? "", pitch?.second ?? ""]}
          value={s.level_board_rad}
          words="level reference entered"
          change={(v) => (c) => ({
            ...c,
            stabiliser: { ...(c.stabiliser ?? answer.starting_stabiliser), level_board_rad: v },
          })}
        />
        <WayNumber
          label="In the mode's trim"
          quantity="angle"
          ways={[pitch?.first ?? "", pitch?.second ?? ""]}
          value={s.level_mode_rad}
          words="level reference entered"
          change={(v) => (c) => ({
            ...c,
            stabiliser: { ...(c.stabiliser ?? answer.starting_stabiliser), level_mode_rad: v },
          })}
        />
      </Group>
      <Group title="Servo midpoints">
        <Choice
          label="Learning"
          value={s.learning}
          options={[
            ["none", "none"],
            ["one_shot", "once, on command"],
            ["continuous", "all the time"],
          ]}
          onChoose={(learning) => void set({ learning, stored_proved: false }, "midpoint learning chosen")}
        />
        {s.learning === "none" ? null : (
          <Tick
            label="Found again after re-powering"
            checked={s.stored_proved}
            onChange={(v) => void set({ stored_proved: v }, "midpoints proved")}
          />
        )}
      </Group>
      <GainLog gains={s.gains} onAdd={(gains) => set({ gains }, "gain logged")} />
      <ModeProofs proofs={s.proofs} onAdd={(proofs) => set({ proofs }, "mode proved")} />
    </div>
  );
}

/** The number of the last flight, which what is logged here belongs to; 0 before any. */
function useLastSortie(): number {
  const { view } = useDesk();
  return Math.max(0, ...view.sortie_trims.map((s) => s.sortie));
}

function GainLog({
  gains,
  onAdd,
}: {
  gains: Stabiliser["gains"];
  onAdd: (g: Stabiliser["gains"]) => Promise<unknown>;
}) {
  const { readOnly } = useEdit();
  const [axis, setAxis] = useState<"pitch" | "roll" | "yaw">("pitch");
  const [term, setTerm] = useState<"P" | "I">("P");
  const [value, setValue] = useState(20);
  const [seen, setSeen] = useState<Seen>("fine");
  const sortie = useLastSortie();
  return (
    <Group title="Gains flown">
      <ul className="text-sm">
        {gains.slice(-6).map((g) => (
          <li key={`${g.axis}${g.term}${g.value}${g.seen}`}>
            {AXIS[g.axis]} {g.term} {g.value}: {SEEN.find(([k]) => k === g.seen)?.[1]}
          </li>
        ))}
      </ul>
      {readOnly ? null : (
        <>
          <Choice
            label="Gain of"
            value={axis}
            options={[
              ["pitch", "pitch"],
              ["roll", "roll"],
              ["yaw", "yaw"],
            ]}
            onChoose={setAxis}
          />
          <Choice
            label="Term"
            value={term}
            options={[
              ["P", "proportional (P)"],
              ["I", "integral (I)"],
            ]}
            onChoose={setTerm}
          />
          <QuantityField label="Value flown" quantity="count" extraDigits={1} value={value} onCommit={setValue} />
          <Choice label="It" value={seen} options={SEEN} onChoose={setSeen} />
          <SmallButton
            words="Log this gain"
            onClick={() => void onAdd([...gains, { axis, term, value, seen, sortie }])}
          />
        </>
      )}
    </Group>
  );
}

function ModeProofs({
  proofs,
  onAdd,
}: {
  proofs: Stabiliser["proofs"];
  onAdd: (p: Stabiliser["proofs"]) => Promise<unknown>;
}) {
  const { readOnly } = useEdit();
  const [mode, setMode] = useState<Mode>("self_level");
  const [hunted, setHunted] = useState(false);
  const sortie = useLastSortie();
  return (
    <Group title="Modes proved in flight">
      <ul className="text-sm">
        {proofs.map((p) => (
          <li key={`${p.mode}${p.proved_on}${p.hunted}`}>
            {MODES.find(([k]) => k === p.mode)?.[1]}, {p.proved_on}
            {p.sortie ? `, sortie ${p.sortie}` : ""}
            {p.hunted ? ": it hunted" : ""}
          </li>
        ))}
      </ul>
      {readOnly ? null : (
        <>
          <Choice label="Mode" value={mode} options={MODES} onChoose={setMode} />
          <Tick label="It hunted" checked={hunted} onChange={setHunted} />
          <SmallButton
            words="Proved today, high and close"
            onClick={() =>
              void onAdd([...proofs, { mode, hunted, sortie, proved_on: new Date().toISOString().slice(0, 10) }])
            }
          />
        </>
      )}
    </Group>
  );
}
