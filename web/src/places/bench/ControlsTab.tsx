import type { Control } from "../../api/client";
import { useTheModel } from "../../components/model-context";
import { useDirections } from "../../queries/models";
import { type Change, Choice, Group, Measure, useEditing } from "./editing";

const CONTROLS = [
  ["elevator", "pitch", "nose_up"],
  ["aileron", "roll", "roll_right"],
  ["rudder", "yaw", "yaw_right"],
] as const;

// Pitch of ISO metric coarse threads (ISO 261) and of 2-56 and 4-40 (ASME B1.1).
const THREADS = [
  ["0.0004", "M2, 0.4 mm"],
  ["0.0005", "M3, 0.5 mm"],
  ["0.00045357", "2-56, 56 per inch"],
  ["0.000635", "4-40, 40 per inch"],
] as const;

const ROWS = [
  { key: "throw_rad", label: "Full throw, each way", quantity: "angle" },
  { key: "rad_per_click", label: "One trim click moves it", quantity: "angle", extraDigits: 1 },
  { key: "chord_m", label: "Hinge to trailing edge", quantity: "length" },
  { key: "horn_arm_m", label: "Horn, hinge to clevis pin", quantity: "length", extraDigits: 1 },
] as const;

/** Per control: what a click does, where millimetres are read, the horn and the thread, so that clicks become turns. */
export function ControlsTab() {
  const { setup, edit } = useEditing();
  const directions = useDirections(useTheModel().pitch_control);
  return (
    <div>
      <p className="mb-2 text-sm font-semibold text-accent">Propeller off, or the motor disconnected.</p>
      {CONTROLS.map(([name, axis, response]) => {
        const put =
          (part: Partial<Control>): Change =>
          (s) => ({ ...s, [name]: { ...s[name], ...part } });
        const title = directions.data?.controls[axis] ?? name;
        const words = directions.data?.responses[response];
        return (
          <Group key={name} title={(title[0] ?? "").toUpperCase() + title.slice(1)}>
            {words ? (
              <p className="label-small mb-1">
                {words.stick}: {words.surface}, the model goes {words.model}
              </p>
            ) : null}
            {ROWS.map(({ key, ...row }) => (
              <Measure
                key={key}
                {...row}
                value={setup[name][key]}
                words={`${name} measured`}
                change={(s, v) => put({ [key]: v })(s)}
              />
            ))}
            <Choice
              label="Clevis thread"
              value={String(setup[name].thread_pitch_m ?? 0.0004) as (typeof THREADS)[number][0]}
              options={THREADS}
              onChoose={(pitch) => void edit(put({ thread_pitch_m: Number(pitch) }), `${name} thread chosen`)}
            />
          </Group>
        );
      })}
    </div>
  );
}
