/** Dragging a corner of a panel: which measures change, kept possible and on round figures. Pure, no React. */
import type { Surface } from "../../api/client";

export type Edge = "leading" | "trailing";

export interface Corner {
  index: number;
  edge: Edge;
  x: number;
  y: number;
}

const SMALLEST_ROOT_M = 0.01;
const SMALLEST_PANEL_M = 0.005;

/** The corners of a surface in plan, root to tip, leading edges before trailing ones. */
export function cornersOf(surface: Surface): Corner[] {
  const of = (edge: Edge) =>
    surface.sections.map((s, index) => ({
      index,
      edge,
      x: surface.x_m + s.x_offset_m + (edge === "trailing" ? s.chord_m : 0),
      y: s.y_m,
    }));
  return [...of("leading"), ...of("trailing")];
}

/** A length on the grid that hands measure to: 5 mm, or 1 mm when `fine`. */
export function onGrid(metres: number, fine: boolean): number {
  const step = fine ? 0.001 : 0.005;
  return Math.round(Math.round(metres / step) * step * 1e4) / 1e4;
}

/** The nearest of some lines within reach, or the value itself. */
export function snap(value: number, lines: number[], reach: number): number {
  let best = value;
  let least = reach;
  for (const line of lines) {
    const away = Math.abs(line - value);
    if (away < least) {
      best = line;
      least = away;
    }
  }
  return best;
}

/**
 * A surface with one corner moved to a place: a leading edge moves alone and the trailing edge stays; the root's moves the
 * station of the surface. Distances stay between their neighbours, chords stay chords.
 */
export function withCorner(surface: Surface, corner: Pick<Corner, "index" | "edge">, x: number, y: number): Surface {
  const { index, edge } = corner;
  const section = surface.sections[index];
  if (!section) return surface;
  const lead = surface.x_m + section.x_offset_m;
  const trail = lead + section.chord_m;
  const least = index === 0 ? SMALLEST_ROOT_M : 0;
  const tidy = (v: number) => Math.round(v * 1e5) / 1e5;
  const newLead = edge === "leading" ? Math.min(x, trail - least) : lead;
  const newTrail = edge === "trailing" ? Math.max(x, lead + least) : trail;
  const chord = tidy(newTrail - newLead);
  if (index === 0) {
    // The others keep their places on the drawing when the root's leading edge is moved.
    const shift = newLead - lead;
    const sections = surface.sections.map((s, i) =>
      i === 0 ? { ...s, chord_m: chord } : { ...s, x_offset_m: tidy(s.x_offset_m - shift) },
    );
    return { ...surface, x_m: tidy(surface.x_m + shift), sections };
  }
  const inner = surface.sections[index - 1]?.y_m ?? 0;
  const outer = surface.sections[index + 1]?.y_m ?? Number.POSITIVE_INFINITY;
  const between = Math.min(Math.max(y, inner + SMALLEST_PANEL_M), outer - SMALLEST_PANEL_M);
  const moved = { ...section, y_m: tidy(between), x_offset_m: tidy(newLead - surface.x_m), chord_m: chord };
  return { ...surface, sections: surface.sections.map((s, i) => (i === index ? moved : s)) };
}
