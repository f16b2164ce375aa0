import { useState } from "react";
import type { ControlSetup } from "../../../api/client";
import { useSettings } from "../../../components/settings-context";
import { SaturationSquare } from "../../../drawing/controls/SaturationSquare";
import { Choice, Group, SmallButton, useEdit, useEditing } from "../editing";
import { SetupNumber, useDesk, usePut, WayNumber } from "./desk";

type Mix = ControlSetup["mixes"][number];
type Target = "pitch" | "roll" | "yaw";

/** Where combined surfaces run out of travel, what flights say of mixes, and the schools of weights. */
export function MixesBoard() {
  const { answer } = useDesk();
  const { show } = useSettings();
  return (
    <div>
      <h2 className="mb-1 text-lg">Where the travel runs out</h2>
      {answer.saturation.length === 0 ? (
        <p>Every surface has one task and no mix reaches it: nothing can be cut.</p>
      ) : (
        <div className="grid gap-4 md:grid-cols-2">
          {answer.saturation.map((s) => (
            <figure key={s.pair + s.flap}>
              <figcaption className="mb-1">
                <span className="font-semibold">{s.pair}</span>
                {s.flap ? `, ${(s.flap * 100).toFixed(0)} % flap` : ""}. {s.words}
              </figcaption>
              <SaturationSquare
                map={s.map}
                label={`Stick box of the ${s.pair}: ${s.words}`}
                words={{
                  left: s.edges[0] ?? "",
                  right: s.edges[1] ?? "",
                  bottom: s.edges[2] ?? "",
                  top: s.edges[3] ?? "",
                }}
              />
              <p className="label-small">
                Hatched: cut short. Falling lines the left surface, rising the right, crossed both.
              </p>
            </figure>
          ))}
          {answer.weight_schools.length > 0 ? (
            <section>
              <h2 className="mb-1 text-lg">Two schools of weights</h2>
              <ul className="grid gap-2">
                {answer.weight_schools.map((s) => (
                  <WeightSchool key={s.key} school={s} show={show} />
                ))}
              </ul>
            </section>
          ) : null}
        </div>
      )}
      <FromFlights />
      {answer.mixes.length > 0 ? (
        <>
          <h2 className="mt-3 mb-1 text-lg">Mixes as set</h2>
          <ul className="list-disc pl-5">
            {answer.mixes.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        </>
      ) : null}
    </div>
  );
}

interface SchoolProps {
  school: ReturnType<typeof useDesk>["answer"]["weight_schools"][number];
  show: ReturnType<typeof useSettings>["show"];
}

function WeightSchool({ school, show }: SchoolProps) {
  const { readOnly } = useEdit();
  const put = usePut();
  return (
    <li className="sheet p-2">
      <p className="font-semibold">{school.name}</p>
      <p className="text-sm">{school.words}</p>
      <p className="mt-1">
        {(school.cut_share * 100).toFixed(0)} % of the stick box cut; pitch alone {show(school.pitch_rad, "angle")}
      </p>
      {readOnly ? null : (
        <SmallButton
          words="Use these weights"
          onClick={() =>
            void put(
              (s) => ({ ...s, weights: { ...s.weights, pitch: school.pitch, roll: school.other, yaw: school.other } }),
              `weights: ${school.name.toLowerCase()}`,
            )
          }
        />
      )}
    </li>
  );
}

/** Mix values computed from the stick that was held in flight. */
function FromFlights() {
  const { answer } = useDesk();
  const { show } = useSettings();
  const { readOnly } = useEdit();
  const put = usePut();
  if (answer.mix_values.length === 0)
    return (
      <p className="mt-3 text-sm">
        Fly the flap step, the power step or knife-edge: the stick that was held becomes the mix.
      </p>
    );
  return (
    <>
      <h2 className="mt-3 mb-1 text-lg">What the flights ask for</h2>
      <ul className="space-y-2">
        {answer.mix_values.map((m) => (
          <li key={m.card + m.mix.target} className="sheet p-2" data-mix={`${m.mix.source} ${m.mix.target}`}>
            <p className="font-semibold">
              {m.card}: {m.setting}
            </p>
            <p className="text-sm">{m.words}</p>
            <p>
              That is {show(m.surface_rad, "angle")} at full {m.mix.source}; {(m.left_share * 100).toFixed(0)} % of the
              travel stays for the stick.
            </p>
            <p className="text-sm">{m.advice}</p>
            {readOnly || !m.fits ? null : (
              <SmallButton
                words="Set this mix"
                onClick={() =>
                  void put(
                    (s) => ({
                      ...s,
                      mixes: [
                        ...s.mixes.filter((x) => x.source !== m.mix.source || x.target !== m.mix.target),
                        m.mix as Mix,
                      ],
                    }),
                    `mix set: ${m.setting}`,
                  )
                }
              />
            )}
          </li>
        ))}
      </ul>
    </>
  );
}

const SOURCES = [
  ["flap", "flap"],
  ["throttle", "throttle"],
  ["yaw", "rudder"],
  ["roll", "aileron"],
  ["pitch", "elevator"],
] as const;
const TARGETS = [
  ["pitch", "elevator"],
  ["roll", "aileron"],
  ["yaw", "rudder"],
] as const;
const WEIGHTS = [
  ["pitch", "Elevator"],
  ["roll", "Aileron"],
  ["yaw", "Rudder"],
  ["flap", "Flap"],
] as const;

/** "At full rudder, nose left": which end of the source a share belongs to. */
function sourceWords(source: string, way: string): string {
  return `At full ${SOURCES.find(([k]) => k === source)?.[1]}${way ? `, ${way}` : ""}`;
}

/** Weights of combined surfaces and free mixes, each direction a word. */
export function MixesFields() {
  const { answer, setup } = useDesk();
  const { readOnly } = useEdit();
  const put = usePut();
  const { setup: configuration } = useEditing();
  const flaps = setup.fittings.some((f) => f.role.includes("flap"));
  const sources = SOURCES.filter(
    ([k]) => (k !== "flap" || flaps) && (k !== "throttle" || configuration.airframe.motor !== null),
  );
  const [chosen, setSource] = useState<(typeof SOURCES)[number][0]>("flap");
  const source = sources.some(([k]) => k === chosen) ? chosen : (sources[0]?.[0] ?? "yaw");
  const [wanted, setTarget] = useState<Target>("pitch");
  const target = wanted === source ? "roll" : wanted;
  const combined = new Set(
    setup.fittings.flatMap((f) =>
      f.role.endsWith("elevon")
        ? ["pitch", "roll"]
        : f.role.endsWith("v_tail")
          ? ["pitch", "yaw"]
          : f.role.endsWith("flaperon")
            ? ["roll", "flap"]
            : [],
    ),
  );
  const ways = (axis: string): readonly [string, string] => {
    const w = answer.ways.find((x) => x.axis === axis);
    return [w?.positive ?? "", w?.negative ?? ""];
  };
  return (
    <div>
      {combined.size > 0 ? (
        <Group title="Weights of surfaces with two tasks">
          {WEIGHTS.filter(([key]) => combined.has(key)).map(([key, label]) => (
            <SetupNumber
              key={key}
              label={label}
              quantity="fraction"
              value={setup.weights[key]}
              words="weights set"
              change={(v) => (s) => ({ ...s, weights: { ...s.weights, [key]: v } })}
            />
          ))}
        </Group>
      ) : null}
      <Group title="Mixes">
        {setup.mixes.map((m, i) => (
          <div key={`${m.source}${m.target}`} className="border-b border-base-300 py-1">
            <div className="flex items-center justify-between">
              <span className="font-semibold">
                {SOURCES.find(([k]) => k === m.source)?.[1]} → {TARGETS.find(([k]) => k === m.target)?.[1]}
              </span>
              <SmallButton
                quiet
                words="Remove"
                onClick={() => void put((s) => ({ ...s, mixes: s.mixes.filter((_, j) => j !== i) }), "mix removed")}
              />
            </div>
            <WayNumber
              label={sourceWords(m.source, ways(m.source)[0])}
              quantity="fraction"
              ways={ways(m.target)}
              value={m.share}
              words="mix set"
              change={(v) => (s) => ({ ...s, mixes: s.mixes.map((x, j) => (j === i ? { ...x, share: v } : x)) })}
            />
            {m.source === "flap" || m.source === "throttle" ? null : (
              <WayNumber
                label={sourceWords(m.source, ways(m.source)[1])}
                quantity="fraction"
                ways={[ways(m.target)[1], ways(m.target)[0]]}
                value={m.share_other ?? m.share}
                words="mix set"
                change={(v) => (s) => ({
                  ...s,
                  mixes: s.mixes.map((x, j) => (j === i ? { ...x, share_other: v } : x)),
                })}
              />
            )}
          </div>
        ))}
        {readOnly ? null : (
          <>
            <Choice label="From" value={source} options={sources} onChoose={setSource} />
            <Choice label="To" value={target} options={TARGETS.filter(([k]) => k !== source)} onChoose={setTarget} />
            <SmallButton
              words="Add this mix"
              onClick={() =>
                void put(
                  (s) => ({
                    ...s,
                    mixes: [
                      ...s.mixes.filter((x) => x.source !== source || x.target !== target),
                      { source, target, share: 0.05, share_other: null },
                    ],
                  }),
                  "mix added",
                )
              }
            />
          </>
        )}
      </Group>
      <Group title="Crow and motors">
        <SetupNumber
          label="Crow: both ailerons up at full flap"
          quantity="fraction"
          value={setup.crow}
          words="crow set"
          change={(v) => (s) => ({ ...s, crow: v })}
        />
        <SetupNumber
          label="Differential thrust with the rudder"
          hint="none while the throttle is closed"
          quantity="fraction"
          value={setup.differential_thrust}
          words="differential thrust set"
          change={(v) => (s) => ({ ...s, differential_thrust: v })}
        />
      </Group>
    </div>
  );
}
