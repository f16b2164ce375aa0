import type { Configuration } from "../../api/client";
import { useSettings } from "../../components/settings-context";
import { format } from "../../domain/units";
import type { Point } from "../geometry";

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
    if (field === "x_m") return dimension(plan({ x: 0, y: 0 }), plan({ x: surface.x_m, y: 0 }), surface.x_m);
  }
  if (kind === "body") {
    const b = setup.airframe.body;
    if (name === "length_m")
      return dimension(side({ x: b.nose_x_m, y: 0 }), side({ x: b.nose_x_m + b.length_m, y: 0 }), b.length_m);
    if (name === "nose_x_m") return dimension(side({ x: 0, y: 0 }), side({ x: b.nose_x_m, y: 0 }), b.nose_x_m);
  }
  if (kind === "motor" && setup.airframe.motor) {
    const m = setup.airframe.motor;
    return dimension(side({ x: 0, y: m.z_m }), side({ x: m.x_m, y: m.z_m }), m.x_m);
  }
  return null;
}
