import type { Airframe, Section, Surface } from "../../api/client";
import { QuantityField } from "../../components/quantity/QuantityField";
import { useMoveDatum } from "../../queries/models";
import type { TabProps } from "./BenchPage";

const CAMBER: Record<string, string> = {
  flat_plate: "flat plate",
  symmetrical: "symmetrical",
  semi_symmetrical: "semi-symmetrical",
  flat_bottom: "flat-bottomed",
  reflexed: "reflexed",
};

/** The airframe by ruler, in the order one measures a model lying on a table. */
export function AirframeTab({
  setup,
  readOnly,
  save,
  onFocus,
  modelId,
  revision,
}: TabProps & { modelId: string; revision: number }) {
  const airframe = setup.airframe;
  const put = (next: Partial<Airframe>, words: string) => save({ ...setup, airframe: { ...airframe, ...next } }, words);
  const putSurface = (key: string, next: Partial<Surface>, words: string) =>
    put({ surfaces: airframe.surfaces.map((s) => (s.key === key ? { ...s, ...next } : s)) }, words);
  return (
    <div>
      <Datum {...{ setup, readOnly, modelId, revision }} />
      {airframe.surfaces.map((s) => (
        <SurfaceFields
          key={s.key}
          surface={s}
          readOnly={readOnly}
          onFocus={onFocus}
          put={(next, words) => putSurface(s.key, next, words)}
        />
      ))}
      <Group title="Body">
        <QuantityField
          label="Nose, from the datum"
          hint="forward of the datum is negative"
          quantity="length"
          value={airframe.body.nose_x_m}
          disabled={readOnly}
          onFocus={() => onFocus("body:nose_x_m")}
          onCommit={(v) => put({ body: { ...airframe.body, nose_x_m: v } }, "nose station measured")}
        />
        <QuantityField
          label="Length"
          quantity="length"
          value={airframe.body.length_m}
          disabled={readOnly}
          onFocus={() => onFocus("body:length_m")}
          onCommit={(v) => put({ body: { ...airframe.body, length_m: v } }, "body length measured")}
        />
        <QuantityField
          label="Greatest width"
          quantity="length"
          value={airframe.body.width_m}
          disabled={readOnly}
          onCommit={(v) => put({ body: { ...airframe.body, width_m: v } }, "body width measured")}
        />
        <QuantityField
          label="Greatest height"
          quantity="length"
          value={airframe.body.height_m}
          disabled={readOnly}
          onCommit={(v) => put({ body: { ...airframe.body, height_m: v } }, "body height measured")}
        />
      </Group>
      {airframe.fin ? <FinFields airframe={airframe} readOnly={readOnly} put={put} /> : null}
      {airframe.motor ? <MotorFields airframe={airframe} readOnly={readOnly} put={put} onFocus={onFocus} /> : null}
    </div>
  );
}

function Group({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <fieldset className="mb-2 border-b border-base-300 pb-2">
      <legend className="pt-1 text-base font-bold">{title}</legend>
      {children}
    </fieldset>
  );
}

function SurfaceFields({
  surface,
  readOnly,
  onFocus,
  put,
}: {
  surface: Surface;
  readOnly: boolean;
  onFocus: TabProps["onFocus"];
  put: (next: Partial<Surface>, words: string) => Promise<unknown>;
}) {
  const name = surface.key;
  const set = (index: number, field: keyof Section, value: number) =>
    put({ sections: surface.sections.map((s, i) => (i === index ? { ...s, [field]: value } : s)) }, `${name} measured`);
  return (
    <Group title={name[0]?.toUpperCase() + name.slice(1)}>
      <QuantityField
        label="Root leading edge, from the datum"
        quantity="length"
        value={surface.x_m}
        disabled={readOnly}
        onFocus={() => onFocus(`surface:${name}:0:x_m`)}
        onCommit={(v) => put({ x_m: v }, `${name} station measured`)}
      />
      <QuantityField
        label="Height above the datum line"
        quantity="length"
        value={surface.z_m}
        disabled={readOnly}
        onCommit={(v) => put({ z_m: v }, `${name} height measured`)}
      />
      <QuantityField
        label="Incidence of the root"
        hint="leading edge up is positive"
        quantity="angle"
        value={surface.incidence_rad ?? 0}
        disabled={readOnly}
        onCommit={(v) => put({ incidence_rad: v }, `${name} incidence measured`)}
      />
      {surface.sections.map((section, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: chords have no other identity than their place
        <div key={i} className="mt-1 border-l-2 border-base-300 pl-2">
          <p className="flex items-center justify-between text-sm font-semibold">
            {i === 0 ? "Root chord" : i === surface.sections.length - 1 ? "Tip chord" : `Chord ${i + 1}`}
            {!readOnly && i > 0 && surface.sections.length > 2 ? (
              <button
                type="button"
                className="btn btn-ghost btn-xs"
                onClick={() =>
                  void put({ sections: surface.sections.filter((_, k) => k !== i) }, `${name} chord removed`)
                }
              >
                remove
              </button>
            ) : null}
          </p>
          {i > 0 ? (
            <QuantityField
              label="Distance from the centre line"
              quantity="length"
              value={section.y_m}
              disabled={readOnly}
              onFocus={() => onFocus(`surface:${name}:${i}:y_m`)}
              onCommit={(v) => set(i, "y_m", v)}
            />
          ) : null}
          <QuantityField
            label="Chord"
            quantity="length"
            value={section.chord_m}
            disabled={readOnly}
            onFocus={() => onFocus(`surface:${name}:${i}:chord_m`)}
            onCommit={(v) => set(i, "chord_m", v)}
          />
          {i > 0 ? (
            <>
              <QuantityField
                label="Leading edge behind the root's"
                quantity="length"
                value={section.x_offset_m}
                disabled={readOnly}
                onFocus={() => onFocus(`surface:${name}:${i}:x_offset_m`)}
                onCommit={(v) => set(i, "x_offset_m", v)}
              />
              <QuantityField
                label="Rise above the root"
                quantity="length"
                value={section.z_offset_m ?? 0}
                disabled={readOnly}
                onCommit={(v) => set(i, "z_offset_m", v)}
              />
              <QuantityField
                label="Wash-out"
                hint="leading edge down against the root is positive"
                quantity="angle"
                value={-(section.twist_rad ?? 0)}
                disabled={readOnly}
                onCommit={(v) => set(i, "twist_rad", -v)}
              />
            </>
          ) : null}
        </div>
      ))}
      <div className="mt-1 flex items-center justify-between gap-2">
        <label className="flex items-center gap-2">
          Section
          <select
            className="select select-sm w-40 text-base"
            value={surface.camber ?? "symmetrical"}
            disabled={readOnly}
            onChange={(e) =>
              void put({ camber: e.target.value as NonNullable<Surface["camber"]> }, `${name} section chosen`)
            }
          >
            {Object.entries(CAMBER).map(([key, words]) => (
              <option key={key} value={key}>
                {words}
              </option>
            ))}
          </select>
        </label>
        {!readOnly && surface.sections.length < 5 ? (
          <button
            type="button"
            className="btn btn-sm"
            onClick={() => void put({ sections: withExtraChord(surface.sections) }, `${name} chord added`)}
          >
            Add a chord
          </button>
        ) : null}
      </div>
    </Group>
  );
}

/** A new chord half way along the outermost panel, on its straight edges. */
function withExtraChord(sections: Section[]): Section[] {
  const [a, b] = sections.slice(-2);
  if (!a || !b) return sections;
  const mid = (p: number | undefined, q: number | undefined) => ((p ?? 0) + (q ?? 0)) / 2;
  const extra: Section = {
    y_m: mid(a.y_m, b.y_m),
    x_offset_m: mid(a.x_offset_m, b.x_offset_m),
    chord_m: mid(a.chord_m, b.chord_m),
    z_offset_m: mid(a.z_offset_m, b.z_offset_m),
    twist_rad: mid(a.twist_rad, b.twist_rad),
  };
  return [...sections.slice(0, -1), extra, b];
}

type Put = (next: Partial<Airframe>, words: string) => Promise<unknown>;

function FinFields({ airframe, readOnly, put }: { airframe: Airframe; readOnly: boolean; put: Put }) {
  const fin = airframe.fin;
  if (!fin) return null;
  const field = (label: string, key: "x_m" | "height_m" | "root_chord_m" | "tip_chord_m" | "sweep_offset_m") => (
    <QuantityField
      key={key}
      label={label}
      quantity="length"
      value={fin[key] ?? 0}
      disabled={readOnly}
      onCommit={(v) => put({ fin: { ...fin, [key]: v } }, "fin measured")}
    />
  );
  return (
    <Group title={fin.y_m ? "Fins, each" : "Fin"}>
      {field("Root leading edge, from the datum", "x_m")}
      {field("Height", "height_m")}
      {field("Root chord", "root_chord_m")}
      {field("Tip chord", "tip_chord_m")}
      {field("Tip leading edge behind the root's", "sweep_offset_m")}
    </Group>
  );
}

function MotorFields({
  airframe,
  readOnly,
  put,
  onFocus,
}: {
  airframe: Airframe;
  readOnly: boolean;
  put: Put;
  onFocus: TabProps["onFocus"];
}) {
  const motor = airframe.motor;
  if (!motor) return null;
  const change = (next: Partial<typeof motor>) => put({ motor: { ...motor, ...next } }, "motor measured");
  return (
    <Group title="Motor and propeller">
      <p className="mb-1 text-sm font-semibold text-accent">Propeller off while you measure.</p>
      <QuantityField
        label="Propeller, from the datum"
        hint="behind the balance point it is a pusher"
        quantity="length"
        value={motor.x_m}
        disabled={readOnly}
        onFocus={() => onFocus("motor")}
        onCommit={(v) => change({ x_m: v })}
      />
      <QuantityField
        label="Height above the datum line"
        quantity="length"
        value={motor.z_m}
        disabled={readOnly}
        onCommit={(v) => change({ z_m: v })}
      />
      <QuantityField
        label="Propeller diameter"
        quantity="length"
        value={motor.propeller_diameter_m}
        disabled={readOnly}
        onCommit={(v) => change({ propeller_diameter_m: v })}
      />
      <QuantityField
        label="Static thrust, full throttle"
        quantity="force"
        value={motor.static_thrust_n}
        disabled={readOnly}
        onCommit={(v) => change({ static_thrust_n: v })}
      />
      <QuantityField
        label="Tilt, forward end down"
        hint="up is negative"
        quantity="angle"
        value={motor.tilt_down_rad ?? 0}
        disabled={readOnly}
        onCommit={(v) => change({ tilt_down_rad: v })}
      />
      <QuantityField
        label="Tilt, forward end right"
        hint="left is negative"
        quantity="angle"
        value={motor.tilt_right_rad ?? 0}
        disabled={readOnly}
        onCommit={(v) => change({ tilt_right_rad: v })}
      />
      <QuantityField
        label="Between the bolt rows of the mount"
        quantity="length"
        value={motor.bolt_spacing_m ?? 0.025}
        disabled={readOnly}
        onCommit={(v) => change({ bolt_spacing_m: v })}
      />
      <label className="flex items-center gap-2 py-1">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={motor.turns_right ?? true}
          disabled={readOnly}
          onChange={(e) => void change({ turns_right: e.target.checked })}
        />
        Propeller turns clockwise, seen from behind
      </label>
    </Group>
  );
}

function Datum({
  setup,
  readOnly,
  modelId,
  revision,
}: {
  setup: TabProps["setup"];
  readOnly: boolean;
  modelId: string;
  revision: number;
}) {
  const move = useMoveDatum(modelId);
  const wing = setup.airframe.surfaces[0];
  const choices: [string, number][] = [
    ["wing root leading edge", wing?.x_m ?? 0],
    ["nose", setup.airframe.body.nose_x_m],
  ];
  return (
    <label className="mb-2 flex items-center justify-between gap-2 border-b border-base-300 pb-2">
      <span>
        Datum <span className="label-small block">every station is measured from here</span>
      </span>
      <select
        className="select select-sm w-52 text-base"
        value={setup.datum ?? ""}
        disabled={readOnly || move.isPending}
        onChange={(e) => {
          const found = choices.find(([name]) => name === e.target.value);
          if (found) move.mutate({ base_revision: revision, dx_m: found[1], words: found[0] });
        }}
      >
        {choices.map(([name]) => (
          <option key={name}>{name}</option>
        ))}
      </select>
    </label>
  );
}
