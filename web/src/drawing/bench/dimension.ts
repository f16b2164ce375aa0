/** The measure that is being taken, as a dimension of the drawing. Pure, no React. */
import type { Airframe, Configuration } from "../../api/client";
import { chordAt, type Point } from "../geometry";

/** From one place to another in one of the views; or a place to put a meter. */
export type Dimension =
  | { kind: "length"; view: "plan" | "side"; a: Point; b: Point; value: number }
  | { kind: "meter"; at: Point; words: string };

const plan = (a: Point, b: Point, value: number): Dimension => ({ kind: "length", view: "plan", a, b, value });
const side = (a: Point, b: Point, value: number): Dimension => ({ kind: "length", view: "side", a, b, value });
const at = (x: number, y: number): Point => ({ x, y });

/** The dimension of a focus ("surface:wing:1:chord_m"), null where it is not drawn. */
export function dimensionOf(focus: string, { airframe }: Configuration): Dimension | null {
  const [kind, name = "", index, field] = focus.split(":");
  if (kind === "surface") return ofSurface(airframe, name, Number(index), field ?? "");
  if (kind === "body") return ofBody(airframe.body, name);
  if (kind === "fin") return ofFin(airframe, name);
  if (kind === "gear") return ofGear(airframe, name);
  if (kind === "held") return heldAt(airframe, Number(name), Number(index));
  if (kind === "motor") return ofMotor(airframe, name);
  return null;
}

function ofSurface(airframe: Airframe, name: string, index: number, field: string): Dimension | null {
  const surface = airframe.surfaces.find((s) => s.key === name);
  const section = surface?.sections[index];
  if (!surface || !section) return null;
  const x = surface.x_m + section.x_offset_m;
  const y = section.y_m;
  const rise = section.z_offset_m ?? 0;
  const found: Record<string, () => Dimension> = {
    chord_m: () => plan(at(x, y), at(x + section.chord_m, y), section.chord_m),
    y_m: () => plan(at(x, 0), at(x, y), y),
    x_offset_m: () => plan(at(surface.x_m, y), at(x, y), section.x_offset_m),
    x_m: () => plan(at(0, 0), at(surface.x_m, 0), surface.x_m),
    z_m: () => side(at(x, 0), at(x, surface.z_m), surface.z_m),
    z_offset_m: () => side(at(x, surface.z_m), at(x, surface.z_m + rise), rise),
    twist: () => ({ kind: "meter", at: at(x + section.chord_m / 2, y), words: `meter here, ${name}` }),
  };
  return found[field]?.() ?? null;
}

function ofBody(b: Airframe["body"], name: string): Dimension | null {
  const wide = b.nose_x_m + 0.35 * b.length_m;
  const found: Record<string, () => Dimension> = {
    length_m: () => side(at(b.nose_x_m, 0), at(b.nose_x_m + b.length_m, 0), b.length_m),
    height_m: () => side(at(wide, -b.height_m / 2), at(wide, b.height_m / 2), b.height_m),
    width_m: () => plan(at(wide, 0), at(wide, b.width_m / 2), b.width_m),
    nose_x_m: () => side(at(0, 0), at(b.nose_x_m, 0), b.nose_x_m),
  };
  return found[name]?.() ?? null;
}

function ofFin({ fin }: Airframe, name: string): Dimension | null {
  if (!fin) return null;
  const top = fin.z_m + fin.height_m;
  const tip = fin.x_m + (fin.sweep_offset_m ?? 0);
  const found: Record<string, () => Dimension> = {
    height_m: () => side(at(tip, fin.z_m), at(tip, top), fin.height_m),
    root_chord_m: () => side(at(fin.x_m, fin.z_m), at(fin.x_m + fin.root_chord_m, fin.z_m), fin.root_chord_m),
    tip_chord_m: () => side(at(tip, top), at(tip + fin.tip_chord_m, top), fin.tip_chord_m),
    x_m: () => side(at(0, fin.z_m), at(fin.x_m, fin.z_m), fin.x_m),
  };
  return found[name]?.() ?? null;
}

function ofGear({ gear }: Airframe, name: string): Dimension | null {
  if (!gear) return null;
  const ground = gear.ground_z_m;
  const found: Record<string, () => Dimension> = {
    main_y_m: () => plan(at(gear.main_x_m, 0), at(gear.main_x_m, gear.main_y_m), gear.main_y_m),
    ground_z_m: () => side(at(gear.main_x_m, 0), at(gear.main_x_m, ground), ground),
    main_x_m: () => side(at(0, ground), at(gear.main_x_m, ground), gear.main_x_m),
    third_x_m: () => side(at(0, ground), at(gear.third_x_m, ground), gear.third_x_m),
  };
  return found[name]?.() ?? null;
}

function ofMotor({ motor: m }: Airframe, name: string): Dimension | null {
  if (!m) return null;
  const radius = m.propeller_diameter_m / 2;
  const shaft: Dimension = { kind: "meter", at: at(m.x_m, 0), words: "along the shaft" };
  const found: Record<string, () => Dimension> = {
    x_m: () => side(at(0, m.z_m), at(m.x_m, m.z_m), m.x_m),
    z_m: () => side(at(m.x_m, 0), at(m.x_m, m.z_m), m.z_m),
    propeller_diameter_m: () => side(at(m.x_m, m.z_m - radius), at(m.x_m, m.z_m + radius), m.propeller_diameter_m),
    tilt_down_rad: () => shaft,
    tilt_right_rad: () => shaft,
  };
  return found[name]?.() ?? null;
}

/** Held there: the place behind the leading edge. */
function heldAt(airframe: Airframe, y: number, behind: number): Dimension | null {
  const wing = airframe.surfaces.find((s) => s.role === "wing");
  if (!wing) return null;
  const lead = chordAt(wing, y).x;
  return plan(at(lead, y), at(lead + behind, y), behind);
}
