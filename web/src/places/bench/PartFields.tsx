import type { Airframe, Configuration } from "../../api/client";
import { Group, Measure, SmallButton, Tick, useEditing } from "./editing";

type Body = Airframe["body"];
type Fin = NonNullable<Airframe["fin"]>;
type Motor = NonNullable<Airframe["motor"]>;

const withAirframe = (s: Configuration, part: Partial<Airframe>): Configuration => ({
  ...s,
  airframe: { ...s.airframe, ...part },
});

/** A row of a part's measures: which number, what it is called, in which quantity. */
interface Row<K> {
  key: K;
  label: string;
  quantity: "length" | "angle" | "force";
  hint?: string;
  focus?: string;
}

const BODY: Row<"nose_x_m" | "length_m" | "width_m" | "height_m">[] = [
  {
    key: "nose_x_m",
    label: "Nose, from the datum",
    hint: "forward of the datum is negative",
    quantity: "length",
    focus: "body:nose_x_m",
  },
  { key: "length_m", label: "Length", quantity: "length", focus: "body:length_m" },
  { key: "width_m", label: "Greatest width", quantity: "length" },
  { key: "height_m", label: "Greatest height", quantity: "length" },
];

const FIN: Row<"z_m" | "y_m" | "x_m" | "height_m" | "root_chord_m" | "tip_chord_m" | "sweep_offset_m">[] = [
  { key: "x_m", label: "Root leading edge, from the datum", quantity: "length" },
  { key: "height_m", label: "Height", quantity: "length" },
  { key: "root_chord_m", label: "Root chord", quantity: "length" },
  { key: "tip_chord_m", label: "Tip chord", quantity: "length" },
  { key: "sweep_offset_m", label: "Tip leading edge behind the root's", quantity: "length" },
  { key: "z_m", label: "Foot above the datum line", quantity: "length" },
  { key: "y_m", label: "From the centre line, one each side", hint: "0 for a single fin", quantity: "length" },
];

const MOTOR: Row<
  "x_m" | "z_m" | "propeller_diameter_m" | "static_thrust_n" | "tilt_down_rad" | "tilt_right_rad" | "bolt_spacing_m"
>[] = [
  {
    key: "x_m",
    label: "Propeller, from the datum",
    hint: "behind the balance point it is a pusher",
    quantity: "length",
    focus: "motor",
  },
  { key: "z_m", label: "Height above the datum line", quantity: "length" },
  { key: "propeller_diameter_m", label: "Propeller diameter", quantity: "length" },
  { key: "static_thrust_n", label: "Static thrust, full throttle", quantity: "force" },
  { key: "tilt_down_rad", label: "Tilt, forward end down", hint: "up is negative", quantity: "angle" },
  { key: "tilt_right_rad", label: "Tilt, forward end right", hint: "left is negative", quantity: "angle" },
  { key: "bolt_spacing_m", label: "Between the bolt rows of the mount", quantity: "length" },
];

const newFin = ({ airframe: { body } }: Configuration): Fin => ({
  x_m: body.nose_x_m + 0.85 * body.length_m,
  z_m: 0.2 * body.height_m,
  height_m: 0.14 * body.length_m,
  root_chord_m: 0.14 * body.length_m,
  tip_chord_m: 0.09 * body.length_m,
  sweep_offset_m: 0.04 * body.length_m,
  y_m: 0,
  hinge_fraction: 0.65,
});

const newMotor = ({ airframe: { body }, items }: Configuration): Motor => ({
  x_m: body.nose_x_m,
  z_m: 0,
  static_thrust_n: Math.max(0.5, 6 * items.reduce((sum, i) => sum + i.mass_kg, 0)),
  propeller_diameter_m: 0.2 * body.length_m,
  tilt_down_rad: 0,
  tilt_right_rad: 0,
  bolt_spacing_m: 0.025,
  turns_right: true,
});

/** Where the body lies and how big it is. */
export function BodyFields({ body }: { body: Body }) {
  return (
    <Group title="Body">
      {BODY.map(({ key, ...row }) => (
        <Measure
          key={key}
          {...row}
          value={body[key]}
          words="body measured"
          change={(s, v) => withAirframe(s, { body: { ...s.airframe.body, [key]: v } })}
        />
      ))}
    </Group>
  );
}

/** The fin, or one of two. */
export function FinFields({ fin }: { fin: Fin | null }) {
  const { edit } = useEditing();
  if (!fin)
    return (
      <SmallButton
        words="Add a fin"
        onClick={() => void edit((s) => withAirframe(s, { fin: newFin(s) }), "fin added")}
      />
    );
  const remove = () => void edit((s) => withAirframe(s, { fin: null }), "fin removed");
  return (
    <Group title={fin.y_m ? "Fins, each" : "Fin"} action={<SmallButton words="remove" quiet onClick={remove} />}>
      {FIN.map(({ key, ...row }) => (
        <Measure
          key={key}
          {...row}
          value={fin[key] ?? 0}
          words="fin measured"
          change={(s, v) => withAirframe(s, { fin: { ...(s.airframe.fin ?? fin), [key]: v } })}
        />
      ))}
    </Group>
  );
}

/** Motor, propeller and thrust line. */
export function MotorFields({ motor }: { motor: Motor | null }) {
  const { edit } = useEditing();
  if (!motor)
    return (
      <SmallButton
        words="Add a motor"
        onClick={() => void edit((s) => withAirframe(s, { motor: newMotor(s) }), "motor added")}
      />
    );
  const remove = () => void edit((s) => withAirframe(s, { motor: null }), "motor removed");
  const put = (part: Partial<Motor>) => (s: Configuration) =>
    withAirframe(s, { motor: { ...(s.airframe.motor ?? motor), ...part } });
  return (
    <Group title="Motor and propeller" action={<SmallButton words="remove" quiet onClick={remove} />}>
      <p className="mb-1 text-sm font-semibold text-accent">Propeller off while you measure.</p>
      {MOTOR.map(({ key, ...row }) => (
        <Measure
          key={key}
          {...row}
          value={motor[key] ?? 0}
          words="motor measured"
          change={(s, v) => put({ [key]: v })(s)}
        />
      ))}
      <Tick
        label="Propeller turns clockwise, seen from behind"
        checked={motor.turns_right ?? true}
        onChange={(turns_right) => void edit(put({ turns_right }), "propeller's sense entered")}
      />
    </Group>
  );
}
