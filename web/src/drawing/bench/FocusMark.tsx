import type { Configuration } from "../../api/client";
import { useSettings } from "../../components/settings-context";
import { format } from "../../domain/units";
import { chordAt, type Point } from "../geometry";

/** The dimension line of the measure whose field is focused. */
export function FocusMark({
  focus,
  setup,
  plan,
  side,
}: {
  focus: string | null;
  setup: Configuration;
  plan: (p: Point) => Point;
  side: (p: Point) => Point;
}) {
  const { unit } = useSettings();
  const key = unit("length");
  if (!focus) return null;
  const dimension = (a: Point, b: Point, value: number) => (
    <g stroke="var(--color-accent)" strokeWidth={1.6} fill="none">
      <path d={`M${a.x} ${a.y}L${b.x} ${b.y}`} />
      <circle cx={a.x} cy={a.y} r={3} fill="var(--color-accent)" />
      <circle cx={b.x} cy={b.y} r={3} fill="var(--color-accent)" />
      <text
        x={(a.x + b.x) / 2 + 6}
        y={(a.y + b.y) / 2 - 6}
        fontSize={14}
        fontWeight={700}
        fill="var(--color-accent)"
        stroke="var(--color-base-100)"
        strokeWidth={4}
        paintOrder="stroke"
      >
        {format(value, "length", key)}
      </text>
    </g>
  );
  const [kind, name, index, field] = focus.split(":");
  if (kind === "surface") {
    const surface = setup.airframe.surfaces.find((s) => s.key === name);
    const section = surface?.sections[Number(index)];
    if (!surface || !section) return null;
    const x = surface.x_m + section.x_offset_m;
    if (field === "chord_m")
      return dimension(plan({ x, y: section.y_m }), plan({ x: x + section.chord_m, y: section.y_m }), section.chord_m);
    if (field === "y_m") return dimension(plan({ x, y: 0 }), plan({ x, y: section.y_m }), section.y_m);
    if (field === "x_offset_m")
      return dimension(plan({ x: surface.x_m, y: section.y_m }), plan({ x, y: section.y_m }), section.x_offset_m);
    if (field === "z_m") return dimension(side({ x, y: 0 }), side({ x, y: surface.z_m }), surface.z_m);
    if (field === "z_offset_m") {
      const rise = section.z_offset_m ?? 0;
      return dimension(side({ x, y: surface.z_m }), side({ x, y: surface.z_m + rise }), rise);
    }
    if (field === "twist")
      return <Ring at={plan({ x: x + section.chord_m / 2, y: section.y_m })} words={`meter here, ${name}`} />;
    if (field === "x_m") return dimension(plan({ x: 0, y: 0 }), plan({ x: surface.x_m, y: 0 }), surface.x_m);
  }
  if (kind === "body") {
    const b = setup.airframe.body;
    if (name === "length_m")
      return dimension(side({ x: b.nose_x_m, y: 0 }), side({ x: b.nose_x_m + b.length_m, y: 0 }), b.length_m);
    if (name === "height_m") {
      const x = b.nose_x_m + 0.35 * b.length_m;
      return dimension(side({ x, y: -b.height_m / 2 }), side({ x, y: b.height_m / 2 }), b.height_m);
    }
    if (name === "width_m") {
      const x = b.nose_x_m + 0.35 * b.length_m;
      return dimension(plan({ x, y: 0 }), plan({ x, y: b.width_m / 2 }), b.width_m);
    }
    if (name === "nose_x_m") return dimension(side({ x: 0, y: 0 }), side({ x: b.nose_x_m, y: 0 }), b.nose_x_m);
  }
  const wing = setup.airframe.surfaces.find((s) => s.role === "wing");
  if (kind === "held" && wing) {
    // Held there: the place behind the leading edge, and the fuselage station that it means.
    const [y, behind] = [Number(name), Number(index)];
    const lead = chordAt(wing, y).x;
    const a = plan({ x: lead + behind, y });
    const b = plan({ x: lead + behind, y: 0 });
    return (
      <g>
        {dimension(plan({ x: lead, y }), a, behind)}
        <path d={`M${a.x} ${a.y}V${b.y + 44}`} stroke="var(--color-accent)" strokeWidth={1.2} strokeDasharray="5 4" />
        <text x={a.x - 6} y={b.y + 14} textAnchor="end" fontSize={13} fontWeight={600} fill="var(--color-accent)">
          means this station
        </text>
      </g>
    );
  }
  const { fin, gear } = setup.airframe;
  if (kind === "fin" && fin) {
    const top = fin.z_m + fin.height_m;
    const tip = fin.x_m + (fin.sweep_offset_m ?? 0);
    if (name === "height_m") return dimension(side({ x: tip, y: fin.z_m }), side({ x: tip, y: top }), fin.height_m);
    if (name === "root_chord_m")
      return dimension(
        side({ x: fin.x_m, y: fin.z_m }),
        side({ x: fin.x_m + fin.root_chord_m, y: fin.z_m }),
        fin.root_chord_m,
      );
    if (name === "tip_chord_m")
      return dimension(side({ x: tip, y: top }), side({ x: tip + fin.tip_chord_m, y: top }), fin.tip_chord_m);
    return dimension(side({ x: 0, y: fin.z_m }), side({ x: fin.x_m, y: fin.z_m }), fin.x_m);
  }
  if (kind === "gear" && gear) {
    const ground = gear.ground_z_m;
    if (name === "main_y_m")
      return dimension(plan({ x: gear.main_x_m, y: 0 }), plan({ x: gear.main_x_m, y: gear.main_y_m }), gear.main_y_m);
    if (name === "ground_z_m")
      return dimension(side({ x: gear.main_x_m, y: 0 }), side({ x: gear.main_x_m, y: ground }), ground);
    const x = name === "third_x_m" ? gear.third_x_m : gear.main_x_m;
    return dimension(side({ x: 0, y: ground }), side({ x, y: ground }), x);
  }
  if (kind === "motor" && setup.airframe.motor) {
    const m = setup.airframe.motor;
    return dimension(side({ x: 0, y: m.z_m }), side({ x: m.x_m, y: m.z_m }), m.x_m);
  }
  return null;
}

/** A place to put a gauge. */
function Ring({ at, words }: { at: Point; words: string }) {
  return (
    <g stroke="var(--color-accent)" fill="none" strokeWidth={2}>
      <circle cx={at.x} cy={at.y} r={13} />
      <path d={`M${at.x - 20} ${at.y}h40`} />
      <text
        x={at.x + 18}
        y={at.y < 40 ? at.y + 26 : at.y - 10}
        fontSize={14}
        fontWeight={700}
        stroke="none"
        fill="var(--color-accent)"
      >
        {words}
      </text>
    </g>
  );
}
