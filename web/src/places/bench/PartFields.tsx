import type { Airframe, Configuration } from "../../api/client";
import { Choice, Group, Measure, SmallButton, Tick, useEdit } from "./editing";

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
  { key: "width_m", label: "Greatest width", quantity: "length", focus: "body:width_m" },
  { key: "height_m", label: "Greatest height", quantity: "length", focus: "body:height_m" },
];

const FIN: Row<"z_m" | "y_m" | "x_m" | "height_m" | "root_chord_m" | "tip_chord_m" | "sweep_offset_m">[] = [
  { key: "x_m", label: "Root leading edge, from the datum", quantity: "length", focus: "fin:x_m" },
  { key: "height_m", label: "Height", quantity: "length", focus: "fin:height_m" },
  { key: "root_chord_m", label: "Root chord", quantity: "length", focus: "fin:root_chord_m" },
  { key: "tip_chord_m", label: "Tip chord", quantity: "length", focus: "fin:tip_chord_m" },
  { key: "sweep_offset_m", label: "Tip leading edge behind the root's", quantity: "length" },
  { key: "z_m", label: "Foot above the datum line", quantity: "length" },
  { key: "y_m", label: "From the centre line, one each side", hint: "0 for a single fin", quantity: "length" },
];

const MOTOR: Row<
  | "x_m"
  | "z_m"
  | "y_m"
  | "propeller_diameter_m"
  | "static_thrust_n"
  | "tilt_down_rad"
  | "tilt_right_rad"
  | "bolt_spacing_m"
>[] = [
  {
    key: "x_m",
    label: "Propeller, from the datum",
    hint: "behind the balance point it is a pusher",
    quantity: "length",
    focus: "motor:x_m",
  },
  { key: "z_m", label: "Height above the datum line", quantity: "length" },
  { key: "y_m", label: "From the centre line, one each side", hint: "0 for a single one", quantity: "length" },
  { key: "propeller_diameter_m", label: "Propeller diameter", quantity: "length" },
  { key: "static_thrust_n", label: "Static thrust, full throttle", quantity: "force" },
  { key: "tilt_down_rad", label: "Tilt, forward end down", hint: "up is negative", quantity: "angle" },
  { key: "tilt_right_rad", label: "Tilt, forward end right", hint: "left is negative", quantity: "angle" },
  { key: "bolt_spacing_m", label: "Between the bolt rows of the mount", quantity: "length" },
];

const DRIVES = [
  ["by_place", "by its place: behind the balance it pushes"],
  ["tractor", "propeller ahead of its mount"],
  ["pusher", "propeller behind its mount"],
  ["fan", "fan in a duct: no washers"],
] as const;

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
  y_m: 0,
  counter_rotating: false,
  drive: null,
});

/** A further row: a pair on the nacelles, or where nacelles would be. */
const outboardMotor = (s: Configuration): Motor => {
  const nacelle = s.airframe.nacelles?.[0] ?? newNacelle(s);
  return { ...newMotor(s), x_m: nacelle.nose_x_m, z_m: nacelle.z_m, y_m: nacelle.y_m };
};

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
          at={`body.${key}`}
          change={(s, v) => withAirframe(s, { body: { ...s.airframe.body, [key]: v } })}
        />
      ))}
    </Group>
  );
}

/** The fin, or one of two. */
export function FinFields({ fin }: { fin: Fin | null }) {
  const { edit } = useEdit();
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
          at={`fin.${key}`}
          change={(s, v) => withAirframe(s, { fin: { ...(s.airframe.fin ?? fin), [key]: v } })}
        />
      ))}
    </Group>
  );
}

/** Motors, propellers and thrust lines: one row, or several. */
export function MotorFields({ airframe }: { airframe: Airframe }) {
  const { edit } = useEdit();
  const motors = airframe.motor ? [airframe.motor, ...(airframe.further_motors ?? [])] : [];
  const add = (s: Configuration) => withMotors(s, [...motors, motors.length === 0 ? newMotor(s) : outboardMotor(s)]);
  return (
    <>
      {motors.map((motor, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a row of motors has no other identity than its place
        <OneMotor key={at} motor={motor} at={at} motors={motors} />
      ))}
      {motors.length < 4 ? (
        <SmallButton
          words={motors.length === 0 ? "Add a motor" : "Add further motors"}
          onClick={() => void edit(add, "motor added")}
        />
      ) : null}
    </>
  );
}

const withMotors = (s: Configuration, motors: Motor[]): Configuration =>
  withAirframe(s, { motor: motors[0] ?? null, further_motors: motors.slice(1) });

function OneMotor({ motor, at, motors }: { motor: Motor; at: number; motors: Motor[] }) {
  const { edit } = useEdit();
  const pair = (motor.y_m ?? 0) > 0;
  const remove = () =>
    void edit(
      (s) =>
        withMotors(
          s,
          motors.filter((_, i) => i !== at),
        ),
      "motor removed",
    );
  const put = (part: Partial<Motor>) => (s: Configuration) => {
    const rows = s.airframe.motor ? [s.airframe.motor, ...(s.airframe.further_motors ?? [])] : [];
    return withMotors(
      s,
      rows.map((m, i) => (i === at ? { ...m, ...part } : m)),
    );
  };
  return (
    <Group
      title={`${at === 0 ? "Motor and propeller" : "Further motor"}${pair ? ", each of two" : ""}`}
      action={<SmallButton words="remove" quiet onClick={remove} />}
    >
      <p className="mb-1 text-sm font-semibold text-accent">Propeller off while you measure.</p>
      {MOTOR.map(({ key, ...row }) => (
        <Measure
          key={key}
          {...row}
          value={motor[key] ?? 0}
          words="motor measured"
          {...(at === 0 ? { at: `motor.${key}` } : {})}
          change={(s, v) => put({ [key]: v })(s)}
        />
      ))}
      <Choice
        label="Drive"
        value={motor.drive ?? "by_place"}
        options={DRIVES}
        onChoose={(d) => void edit(put({ drive: d === "by_place" ? null : d }), "drive entered")}
      />
      <Tick
        label="Propeller turns clockwise, seen from behind"
        checked={motor.turns_right ?? true}
        onChange={(turns_right) => void edit(put({ turns_right }), "propeller's sense entered")}
      />
      {pair ? (
        <Tick
          label="The other one turns the other way"
          checked={motor.counter_rotating ?? false}
          onChange={(counter_rotating) => void edit(put({ counter_rotating }), "propellers' senses entered")}
        />
      ) : null}
    </Group>
  );
}

const NACELLE: Row<"nose_x_m" | "length_m" | "width_m" | "height_m" | "y_m" | "z_m">[] = [
  { key: "nose_x_m", label: "Nose, from the datum", quantity: "length" },
  { key: "length_m", label: "Length", quantity: "length" },
  { key: "width_m", label: "Greatest width", quantity: "length" },
  { key: "height_m", label: "Greatest height", quantity: "length" },
  { key: "y_m", label: "From the centre line, one each side", hint: "0 for a single one", quantity: "length" },
  { key: "z_m", label: "Middle above the datum line", quantity: "length" },
];

const newNacelle = ({ airframe }: Configuration): Body => {
  const wing = airframe.surfaces.find((s) => s.role === "wing");
  const chord = wing?.sections[0]?.chord_m ?? 0.2;
  return {
    nose_x_m: (wing?.x_m ?? 0) - 0.5 * chord,
    length_m: 1.2 * chord,
    width_m: 0.28 * chord,
    height_m: 0.32 * chord,
    boom_y_m: 0,
    y_m: airframe.motor?.y_m || 0.3 * (wing?.sections.at(-1)?.y_m ?? 0.6),
    z_m: wing?.z_m ?? 0,
  };
};

/** Bodies other than the fuselage: nacelles, floats, pods. */
export function NacelleFields({ nacelles }: { nacelles: Body[] }) {
  const { edit } = useEdit();
  const put = (at: number, part: Partial<Body>) => (s: Configuration) =>
    withAirframe(s, { nacelles: (s.airframe.nacelles ?? []).map((n, i) => (i === at ? { ...n, ...part } : n)) });
  const without = (at: number) => (s: Configuration) =>
    withAirframe(s, { nacelles: (s.airframe.nacelles ?? []).filter((_, i) => i !== at) });
  const add = (s: Configuration) => withAirframe(s, { nacelles: [...(s.airframe.nacelles ?? []), newNacelle(s)] });
  return (
    <>
      {nacelles.map((n, at) => (
        <Group
          // biome-ignore lint/suspicious/noArrayIndexKey: a nacelle has no other identity than its place
          key={at}
          title={(n.y_m ?? 0) > 0 ? "Nacelles, each" : "Nacelle"}
          action={<SmallButton words="remove" quiet onClick={() => void edit(without(at), "nacelle removed")} />}
        >
          {NACELLE.map(({ key, ...row }) => (
            <Measure
              key={key}
              {...row}
              value={n[key] ?? 0}
              words="nacelle measured"
              change={(s, v) => put(at, { [key]: v })(s)}
            />
          ))}
        </Group>
      ))}
      {nacelles.length < 4 ? (
        <SmallButton words="Add nacelles or floats" onClick={() => void edit(add, "nacelle added")} />
      ) : null}
    </>
  );
}

type Gear = NonNullable<Airframe["gear"]>;

const GEAR: Row<"main_x_m" | "main_y_m" | "third_x_m" | "ground_z_m">[] = [
  { key: "main_x_m", label: "Main wheels, from the datum", quantity: "length", focus: "gear:main_x_m" },
  { key: "main_y_m", label: "Main wheel from the centre line", quantity: "length", focus: "gear:main_y_m" },
  {
    key: "third_x_m",
    label: "Nose or tail wheel, from the datum",
    hint: "ahead of the mains it is a nose wheel",
    quantity: "length",
    focus: "gear:third_x_m",
  },
  {
    key: "ground_z_m",
    label: "Ground, from the datum line",
    hint: "below is negative",
    quantity: "length",
    focus: "gear:ground_z_m",
  },
];

const newGear = ({ airframe: { body, surfaces } }: Configuration): Gear => {
  const wing = surfaces.find((s) => s.role === "wing");
  return {
    main_x_m: wing?.x_m ?? 0,
    main_y_m: 0.15 * (wing?.sections.at(-1)?.y_m ?? 0.6),
    third_x_m: body.nose_x_m + 0.95 * body.length_m,
    ground_z_m: -1.1 * body.height_m,
    folds: false,
  };
};

/** Where the wheels stand. */
export function GearFields({ gear }: { gear: Gear | null }) {
  const { edit } = useEdit();
  if (!gear)
    return (
      <SmallButton
        words="Add wheels"
        onClick={() => void edit((s) => withAirframe(s, { gear: newGear(s) }), "wheels added")}
      />
    );
  const remove = () => void edit((s) => withAirframe(s, { gear: null }), "wheels removed");
  return (
    <Group title="Wheels" action={<SmallButton words="remove" quiet onClick={remove} />}>
      {GEAR.map(({ key, ...row }) => (
        <Measure
          key={key}
          {...row}
          value={gear[key]}
          words="wheels measured"
          at={`gear.${key}`}
          change={(s, v) => withAirframe(s, { gear: { ...(s.airframe.gear ?? gear), [key]: v } })}
        />
      ))}
      <Tick
        label="folds away in flight"
        checked={gear.folds ?? false}
        onChange={(folds) =>
          void edit(
            (s) => withAirframe(s, { gear: { ...(s.airframe.gear ?? gear), folds } }),
            folds ? "gear folds" : "gear is fixed",
          )
        }
      />
    </Group>
  );
}
