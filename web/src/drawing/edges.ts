/** Which measures each edge of the drawing rests on, so that a guessed one is drawn dotted. Pure, no React. */
import type { Surface } from "../api/client";
import type { Point } from "./geometry";

export interface Edge {
  a: Point;
  b: Point;
  /** The measures it is drawn from: guessed when one of them is. */
  measures: string[];
}

/** The edges of the right half of a surface in plan, with the measures each rests on. */
export function planEdges(surface: Surface, index: number): Edge[] {
  const key = (j: number, name: string) => `surfaces.${index}.sections.${j}.${name}`;
  const lead = surface.sections.map((s) => ({ x: surface.x_m + s.x_offset_m, y: s.y_m }));
  const trail = surface.sections.map((s) => ({ x: surface.x_m + s.x_offset_m + s.chord_m, y: s.y_m }));
  const edges: Edge[] = [];
  surface.sections.forEach((_, j) => {
    const [a, b] = [lead[j], trail[j]];
    if (!a || !b) return;
    const station = j === 0 ? [`surfaces.${index}.x_m`] : [key(j, "y_m"), key(j, "x_offset_m")];
    edges.push({ a, b, measures: [key(j, "chord_m"), ...station] });
    const [c, d] = [lead[j - 1], trail[j - 1]];
    if (!c || !d) return;
    edges.push({ a: c, b: a, measures: [key(j, "y_m"), key(j, "x_offset_m")] });
    edges.push({ a: d, b, measures: [key(j, "y_m"), key(j, "chord_m"), key(j - 1, "chord_m")] });
  });
  return edges;
}

/** The measures of a part of the side view. */
export const SIDE_MEASURES = {
  body: ["body.nose_x_m", "body.length_m", "body.width_m", "body.height_m"],
  fin: ["fin.x_m", "fin.height_m", "fin.root_chord_m", "fin.tip_chord_m"],
  motor: ["motor.x_m", "motor.z_m", "motor.propeller_diameter_m"],
  gear: ["gear.main_x_m", "gear.third_x_m", "gear.ground_z_m"],
} as const;

/** The measures the section of a surface in the side view rests on. */
export const sideMeasures = (index: number) =>
  ["x_m", "z_m", "incidence_rad", "sections.0.chord_m"].map((name) => `surfaces.${index}.${name}`);

/** Dotted where a measure is a guess, solid where all are measured. */
export function dashes(measures: readonly string[], guessed: ReadonlySet<string>): string | undefined {
  return measures.some((m) => guessed.has(m)) ? "0.5 4.5" : undefined;
}
