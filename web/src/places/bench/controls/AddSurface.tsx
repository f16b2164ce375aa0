import type { ControlSetup, Fitting } from "../../../api/client";
import { Choice, Group, SmallButton, useEdit } from "../editing";
import { useDesk, usePut } from "./desk";

type Role = Fitting["role"];

const PAIRS: readonly (readonly [string, readonly Role[]])[] = [
  ["flaps", ["left_flap", "right_flap"]],
  ["ailerons", ["left_aileron", "right_aileron"]],
  ["elevons", ["left_elevon", "right_elevon"]],
  ["V-tail", ["left_v_tail", "right_v_tail"]],
  ["elevator", ["elevator"]],
  ["foreplane", ["foreplane"]],
  ["rudder", ["rudder"]],
];

const AILERONS = ["left_aileron", "right_aileron"];
const FLAPERONS = ["left_flaperon", "right_flaperon"];

/** The first channels nobody uses. */
function freeChannels(setup: ControlSetup, count: number): number[] {
  const used = new Set([...setup.fittings.map((f) => f.channel), ...setup.radio.channels.map((c) => c.channel)]);
  return Array.from({ length: 32 }, (_, i) => i + 1)
    .filter((n) => !used.has(n))
    .slice(0, count);
}

/** Which surfaces the model has: add a pair, make flaperons of the ailerons, take one off. */
export function AddSurface() {
  const { setup, fitting, choose } = useDesk();
  const { readOnly } = useEdit();
  const put = usePut();
  const has = (role: string) => setup.fittings.some((f) => f.role === role);
  const missing = PAIRS.filter(([, roles]) => !roles.some(has));
  const ailerons = AILERONS.every(has);
  const flaperons = FLAPERONS.every(has);
  if (readOnly) return null;
  const rename = (from: string[], to: string[], words: string) => {
    const next = (role: string) => (from.includes(role) ? (to[from.indexOf(role)] as Role) : (role as Role));
    void put((s) => ({ ...s, fittings: s.fittings.map((f) => ({ ...f, role: next(f.role) })) }), words).then(
      () => choose(next(fitting.role)),
      () => undefined,
    );
  };
  return (
    <Group title="Which surfaces">
      <Choice
        label="Add"
        value=""
        options={[["", "choose…"] as const, ...missing.map(([words]) => [words, words] as const)]}
        onChoose={(words) => {
          const roles = missing.find(([w]) => w === words)?.[1];
          if (!roles) return;
          void put((s) => {
            const channels = freeChannels(s, roles.length);
            const added = roles.map((role, i) => ({
              ...fitting,
              role,
              channel: channels[i] ?? 32,
              reversed: false,
            }));
            return { ...s, fittings: [...s.fittings, ...added] };
          }, `${words} added`).then(
            () => roles[0] && choose(roles[0]),
            () => undefined,
          );
        }}
      />
      <div className="flex flex-wrap gap-2">
        {ailerons ? (
          <SmallButton
            words="Ailerons are flaperons"
            onClick={() => rename(AILERONS, FLAPERONS, "ailerons made flaperons")}
          />
        ) : null}
        {flaperons ? (
          <SmallButton
            words="Flaperons are plain ailerons"
            onClick={() => rename(FLAPERONS, AILERONS, "flaperons made ailerons")}
          />
        ) : null}
        {setup.fittings.length > 1 ? (
          <SmallButton
            words={`Take off the ${fitting.role.replaceAll("_", " ")}`}
            onClick={() =>
              void put(
                (s) => ({ ...s, fittings: s.fittings.filter((f) => f.role !== fitting.role) }),
                "surface taken off",
              )
            }
          />
        ) : null}
      </div>
    </Group>
  );
}
