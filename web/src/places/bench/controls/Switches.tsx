import { useState } from "react";
import { type ControlSetup, ProblemError } from "../../../api/client";
import { Choice, Group, SmallButton, Tick, useEdit } from "../editing";
import { useDesk, usePut } from "./desk";

type Switch = ControlSetup["radio"]["switches"][number];
type Job = Switch["jobs"][number];
type Mode = Switch["modes"][number];

const JOBS: readonly (readonly [Job, string])[] = [
  ["motor_cut", "motor cut (disarm)"],
  ["mode", "flight mode"],
  ["launch", "launch mode"],
  ["rates", "rates"],
  ["flaps", "flaps"],
  ["gear", "landing gear"],
  ["gyro", "gyro"],
  ["timer", "timer"],
  ["trainer", "trainer"],
  ["other", "something else"],
];
const MODES: readonly (readonly [Mode, string])[] = [
  ["pass_through", "pass-through"],
  ["rate", "rate-stabilised"],
  ["self_level", "self-levelling"],
  ["circle", "circle"],
  ["return", "return-home"],
  ["launch", "launch"],
];
const SIDES = [
  ["left", "left"],
  ["right", "right"],
] as const;

/** What a switch does, in words. */
export function switchWords(s: Switch): string {
  const jobs = s.jobs.map((j) => JOBS.find(([k]) => k === j)?.[1] ?? j).join(" and ");
  const modes = s.jobs.includes("mode")
    ? `: ${s.modes.map((m) => MODES.find(([k]) => k === m)?.[1] ?? m).join(", ")}`
    : "";
  return (jobs || "nothing") + modes;
}

/** The switches of the radio: name, place, jobs, modes of the positions. */
export function Switches() {
  const { setup } = useDesk();
  const { readOnly } = useEdit();
  const put = usePut();
  const [name, setName] = useState("");
  const [error, setError] = useState<string | null>(null);
  const { switches } = setup.radio;
  const set = (next: (all: Switch[]) => Switch[], words: string) =>
    put((s) => ({ ...s, radio: { ...s.radio, switches: next(s.radio.switches) } }), words).then(
      () => setError(null),
      (e) => setError(e instanceof ProblemError ? e.problem.title : "This could not be saved."),
    );
  const one = (at: number, change: (s: Switch) => Switch) =>
    set((all) => all.map((s, i) => (i === at ? change(s) : s)), "switch edited");
  const add = () => {
    const taken = new Set(switches.map((s) => `${s.side} ${s.place}`));
    const free = [1, 2, 3, 4, 5, 6]
      .flatMap((place) => SIDES.map(([side]) => ({ side, place })))
      .find((p) => !taken.has(`${p.side} ${p.place}`));
    void set(
      (all) => [
        ...all,
        {
          name: name.trim(),
          side: free?.side ?? "left",
          place: free?.place ?? 12,
          positions: 2,
          jobs: [],
          modes: [],
          momentary: false,
        },
      ],
      `switch ${name.trim()} added`,
    ).then(() => setName(""));
  };
  return (
    <Group title="Switches">
      {error ? (
        <p role="alert" className="text-sm font-semibold text-error">
          {error}
        </p>
      ) : null}
      {switches.map((s, i) => (
        <details key={s.name} className="border-b border-base-300 py-1" data-switch={s.name}>
          <summary className="min-h-8">
            <span className="font-semibold">{s.name}</span> {switchWords(s)}
          </summary>
          <Choice
            label={`${s.name} is on the`}
            value={s.side as "left" | "right"}
            options={SIDES}
            onChoose={(side) => void one(i, (x) => ({ ...x, side }))}
          />
          <Choice
            label={`${s.name}, place from outside`}
            value={String(s.place)}
            options={Array.from({ length: 8 }, (_, k) => [String(k + 1), String(k + 1)] as const)}
            onChoose={(p) => void one(i, (x) => ({ ...x, place: Number(p) }))}
          />
          <Choice
            label={`${s.name} has positions`}
            value={String(s.positions)}
            options={[
              ["2", "2"],
              ["3", "3"],
            ]}
            onChoose={(p) =>
              void one(i, (x) => ({
                ...x,
                positions: Number(p),
                modes: x.jobs.includes("mode") ? padded(x.modes, Number(p)) : x.modes,
              }))
            }
          />
          <Tick
            label={`${s.name} springs back`}
            checked={s.momentary}
            onChange={(momentary) => void one(i, (x) => ({ ...x, momentary }))}
          />
          <fieldset>
            <legend className="label-small">{s.name} does</legend>
            <div className="grid grid-cols-2">
              {JOBS.map(([job, words]) => (
                <Tick
                  key={job}
                  label={words}
                  checked={s.jobs.includes(job)}
                  onChange={(on) =>
                    void one(i, (x) => ({
                      ...x,
                      jobs: on ? [...x.jobs, job] : x.jobs.filter((j) => j !== job),
                      modes: job === "mode" ? (on ? padded(x.modes, x.positions) : []) : x.modes,
                    }))
                  }
                />
              ))}
            </div>
          </fieldset>
          {s.jobs.includes("mode")
            ? s.modes.map((m, k) => (
                <Choice
                  // biome-ignore lint/suspicious/noArrayIndexKey: a position of the switch is its index
                  key={k}
                  label={k === 0 ? "Away from you" : k === s.modes.length - 1 ? "Towards you" : "In the middle"}
                  value={m}
                  options={MODES}
                  onChoose={(mode) =>
                    void one(i, (x) => ({ ...x, modes: x.modes.map((y, n) => (n === k ? mode : y)) }))
                  }
                />
              ))
            : null}
          <SmallButton
            quiet
            words={`Remove ${s.name}`}
            onClick={() => void set((all) => all.filter((_, k) => k !== i), "switch removed")}
          />
        </details>
      ))}
      {readOnly ? null : (
        <div className="flex items-center gap-2 py-1">
          <input
            className="input input-sm w-28 text-base"
            aria-label="Name of the new switch"
            placeholder="name"
            value={name}
            onChange={(e) => setName(e.target.value)}
            onKeyDown={(e) => e.key === "Enter" && add()}
          />
          <SmallButton words="Add a switch" onClick={add} />
        </div>
      )}
    </Group>
  );
}

function padded(modes: Mode[], positions: number): Mode[] {
  const usual: Mode[] = ["pass_through", "self_level", "return"];
  return Array.from({ length: positions }, (_, i) => modes[i] ?? usual[i] ?? "rate");
}
