import type { Control } from "../../api/client";
import { QuantityField } from "../../components/quantity/QuantityField";
import { useDirections } from "../../queries/models";
import type { TabProps } from "./BenchPage";

const CONTROLS = [
  ["elevator", "Elevator", "nose_up"],
  ["aileron", "Ailerons", "roll_right"],
  ["rudder", "Rudder", "yaw_right"],
] as const;

/** Per control: what a click does, where millimetres are read, the horn and the thread, so that clicks become turns. */
export function ControlsTab({ setup, readOnly, save }: TabProps) {
  const directions = useDirections();
  const put = (name: (typeof CONTROLS)[number][0], next: Partial<Control>) =>
    save({ ...setup, [name]: { ...setup[name], ...next } }, `${name} measured`);
  return (
    <div>
      <p className="mb-2 text-sm font-semibold text-accent">Propeller off, or the motor disconnected.</p>
      {CONTROLS.map(([name, title, response]) => {
        const c = setup[name];
        const words = directions.data?.responses[response];
        return (
          <fieldset key={name} className="mb-2 border-b border-base-300 pb-2">
            <legend className="pt-1 text-base font-bold">{title}</legend>
            {words ? (
              <p className="label-small mb-1">
                {words.stick}: {words.surface}, the model goes {words.model}
              </p>
            ) : null}
            <QuantityField
              label="Full throw, each way"
              quantity="angle"
              value={c.throw_rad}
              disabled={readOnly}
              onCommit={(v) => put(name, { throw_rad: v })}
            />
            <QuantityField
              label="One trim click moves it"
              quantity="angle"
              extraDigits={1}
              value={c.rad_per_click}
              disabled={readOnly}
              onCommit={(v) => put(name, { rad_per_click: v })}
            />
            <QuantityField
              label="Hinge to trailing edge"
              quantity="length"
              value={c.chord_m}
              disabled={readOnly}
              onCommit={(v) => put(name, { chord_m: v })}
            />
            <QuantityField
              label="Horn, hinge to clevis pin"
              quantity="length"
              extraDigits={1}
              value={c.horn_arm_m}
              disabled={readOnly}
              onCommit={(v) => put(name, { horn_arm_m: v })}
            />
            <label className="flex items-center justify-between gap-2 py-1">
              Clevis thread
              <select
                className="select select-sm w-40 text-base"
                value={String(c.thread_pitch_m ?? 0.0004)}
                disabled={readOnly}
                onChange={(e) => void put(name, { thread_pitch_m: Number(e.target.value) })}
              >
                {/* Pitch of ISO metric coarse threads (ISO 261) and of 2-56 and 4-40 (ASME B1.1). */}
                <option value="0.0004">M2, 0.4 mm</option>
                <option value="0.0005">M3, 0.5 mm</option>
                <option value="0.00045357">2-56, 56 per inch</option>
                <option value="0.000635">4-40, 40 per inch</option>
              </select>
            </label>
          </fieldset>
        );
      })}
    </div>
  );
}
