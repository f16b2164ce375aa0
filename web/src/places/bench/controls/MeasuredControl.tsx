import type { Control } from "../../../api/client";
import { type Change, Group, Measure, useEditing } from "../editing";
import { useDesk } from "./desk";

const KEY = { pitch: "elevator", roll: "aileron", yaw: "rudder" } as const;

const CLICK = { key: "rad_per_click", label: "One trim click moves it", quantity: "angle", extraDigits: 1 } as const;
/** What the linkage starts from; once it is described its own sizes count. */
const STARTS_FROM = [
  { key: "throw_rad", label: "Full throw, each way", quantity: "angle" },
  { key: "chord_m", label: "Hinge to trailing edge, where it is read", quantity: "length" },
  { key: "horn_arm_m", label: "Horn, hinge to clevis pin", quantity: "length", extraDigits: 1 },
] as const;

/** What was measured on the model itself: flights are read with it. */
export function MeasuredControl({ axis }: { axis: keyof typeof KEY }) {
  const { configuration, name, started } = useMeasured(axis);
  const control = KEY[axis];
  const put =
    (part: Partial<Control>): Change =>
    (s) => ({ ...s, [control]: { ...s[control], ...part } });
  return (
    <Group title={`Measured: ${name}`}>
      {[...(started ? STARTS_FROM : []), CLICK].map(({ key, ...row }) => (
        <Measure
          key={key}
          {...row}
          value={configuration[key]}
          words={`${control} measured`}
          change={(s, v) => put({ [key]: v })(s)}
        />
      ))}
    </Group>
  );
}

function useMeasured(axis: keyof typeof KEY) {
  const { answer } = useDesk();
  const { setup } = useEditing();
  return {
    configuration: setup[KEY[axis]],
    started: answer.started,
    name: answer.ways.find((w) => w.axis === axis)?.name ?? axis,
  };
}
