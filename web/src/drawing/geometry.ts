/** Outlines of an aeroplane in metres, drawing axes (x aft, y right, z up). Pure: no React, no rule of the job. */
import type { Airframe, Surface } from "../api/client";

export interface Point {
  x: number;
  y: number;
}

/** Half outline of a lifting surface in plan: leading edge root to tip, trailing edge back. `y` is the span direction. */
export function halfPlan(surface: Surface): Point[] {
  const lead = surface.sections.map((s) => ({ x: surface.x_m + s.x_offset_m, y: s.y_m }));
  const trail = surface.sections.map((s) => ({ x: surface.x_m + s.x_offset_m + s.chord_m, y: s.y_m }));
  return [...lead, ...trail.reverse()];
}

/** The control surface of a lifting surface in plan, or null when it has none. */
export function controlPlan(surface: Surface): Point[] | null {
  const half = surface.sections.at(-1)?.y_m ?? 0;
  const inner = (surface.control_inner ?? 0) * half;
  const outer = (surface.control_outer ?? 1) * half;
  if (outer <= inner) return null;
  const hinge = surface.hinge_fraction ?? 0.75;
  const at = (y: number) => chordAt(surface, y);
  const a = at(inner);
  const b = at(outer);
  return [
    { x: a.x + hinge * a.chord, y: inner },
    { x: b.x + hinge * b.chord, y: outer },
    { x: b.x + b.chord, y: outer },
    { x: a.x + a.chord, y: inner },
  ];
}

/** Leading edge station and chord at a distance from the centre line. */
export function chordAt(surface: Surface, y: number): { x: number; chord: number } {
  const sections = surface.sections;
  for (let i = 1; i < sections.length; i++) {
    const inner = sections[i - 1];
    const outer = sections[i];
    if (!inner || !outer) continue;
    if (y <= outer.y_m || i === sections.length - 1) {
      const t = (y - inner.y_m) / (outer.y_m - inner.y_m || 1);
      return {
        x: surface.x_m + inner.x_offset_m + t * (outer.x_offset_m - inner.x_offset_m),
        chord: inner.chord_m + t * (outer.chord_m - inner.chord_m),
      };
    }
  }
  return { x: surface.x_m, chord: sections[0]?.chord_m ?? 0 };
}

const BODY_STATIONS = [0, 0.06, 0.16, 0.32, 0.55, 0.8, 1];
const BODY_WIDTH = [0.25, 0.62, 0.9, 1, 0.98, 0.62, 0.28];
const POD_WIDTH = [0.25, 0.66, 0.94, 1, 1, 0.95, 0.72];

type Body = Airframe["body"];
type Motor = NonNullable<Airframe["motor"]>;

function bodyShape(body: Body): number[] {
  return (body.boom_y_m ?? 0) > 0 ? POD_WIDTH : BODY_WIDTH;
}

/** All motors, each row single or a pair. */
export function motorsOf(airframe: Airframe): Motor[] {
  return airframe.motor ? [airframe.motor, ...(airframe.further_motors ?? [])] : [];
}

/** The sides on which a part off the centre line is drawn; a single one counts once. */
export function sidesOf(part: { y_m?: number }, half: boolean): number[] {
  return (part.y_m ?? 0) > 0 && !half ? [1, -1] : [1];
}

/** Body outline in plan: half width over stations, mirrored by the caller. */
export function bodyHalfPlan(b: Body): Point[] {
  const shape = bodyShape(b);
  return BODY_STATIONS.map((s, i) => ({ x: b.nose_x_m + s * b.length_m, y: ((shape[i] ?? 1) * b.width_m) / 2 }));
}

/** Body outline from the side, top line then bottom line back; `y` is height. */
export function bodySide(b: Body): Point[] {
  const shape = bodyShape(b);
  const z = b.z_m ?? 0;
  const top = BODY_STATIONS.map((s, i) => ({
    x: b.nose_x_m + s * b.length_m,
    y: z + (0.5 * (shape[i] ?? 1) + 0.04) * b.height_m,
  }));
  const bottom = BODY_STATIONS.map((s, i) => ({
    x: b.nose_x_m + s * b.length_m,
    y: z - 0.5 * (shape[i] ?? 1) * b.height_m,
  }));
  return [...top, ...bottom.reverse()];
}

/** Fin from the side. */
export function finSide(airframe: Airframe): { outline: Point[]; rudder: Point[] } | null {
  const f = airframe.fin;
  if (!f) return null;
  const sweep = f.sweep_offset_m ?? 0;
  const hinge = f.hinge_fraction ?? 0.65;
  const top = f.z_m + f.height_m;
  return {
    outline: [
      { x: f.x_m, y: f.z_m },
      { x: f.x_m + sweep, y: top },
      { x: f.x_m + sweep + f.tip_chord_m, y: top },
      { x: f.x_m + f.root_chord_m, y: f.z_m },
    ],
    rudder: [
      { x: f.x_m + hinge * f.root_chord_m, y: f.z_m },
      { x: f.x_m + sweep + hinge * f.tip_chord_m, y: top },
      { x: f.x_m + sweep + f.tip_chord_m, y: top },
      { x: f.x_m + f.root_chord_m, y: f.z_m },
    ],
  };
}

/** A thin aerofoil standing for a surface seen from its root end; `y` is height. */
export function sectionSide(surface: Surface): Point[] {
  const chord = surface.sections[0]?.chord_m ?? 0;
  const thick = surface.camber === "flat_plate" ? 0.03 : 0.11;
  const camber = surface.camber === "flat_bottom" ? 0.04 : surface.camber === "semi_symmetrical" ? 0.02 : 0;
  const incidence = surface.incidence_rad ?? 0;
  const line = [0, 0.03, 0.1, 0.25, 0.45, 0.7, 1];
  const half = (t: number) => thick * (1.48 * Math.sqrt(t) - 0.63 * t - 1.75 * t * t + 1.42 * t ** 3 - 0.52 * t ** 4);
  const bend = (t: number) => 4 * camber * t * (1 - t);
  const place = (t: number, z: number) => ({
    x: surface.x_m + t * chord,
    y: surface.z_m + z * chord + incidence * (0.5 - t) * chord,
  });
  return [
    ...line.map((t) => place(t, bend(t) + half(t))),
    ...[...line].reverse().map((t) => place(t, bend(t) - half(t))),
  ];
}

/** What the drawing must hold: stations, half span, heights. */
export interface Bounds {
  xMin: number;
  xMax: number;
  halfSpan: number;
  zMin: number;
  zMax: number;
}

export function boundsOf(airframe: Airframe): Bounds {
  const b = airframe.body;
  const xs = [b.nose_x_m, b.nose_x_m + b.length_m];
  const zs = [b.height_m * 0.55, -b.height_m * 0.55];
  let halfSpan = b.width_m / 2;
  for (const s of airframe.surfaces) {
    for (const p of halfPlan(s)) xs.push(p.x);
    halfSpan = Math.max(halfSpan, s.sections.at(-1)?.y_m ?? 0);
    zs.push(s.z_m, s.z_m + (s.sections.at(-1)?.z_offset_m ?? 0));
  }
  if (airframe.fin) {
    xs.push(
      airframe.fin.x_m,
      airframe.fin.x_m + airframe.fin.root_chord_m,
      airframe.fin.x_m + (airframe.fin.sweep_offset_m ?? 0) + airframe.fin.tip_chord_m,
    );
    zs.push(airframe.fin.z_m + airframe.fin.height_m, airframe.fin.z_m);
  }
  for (const m of motorsOf(airframe)) {
    const r = m.propeller_diameter_m / 2;
    xs.push(m.x_m - 0.02, m.x_m + 0.02);
    zs.push(m.z_m + r, m.z_m - r);
  }
  for (const n of airframe.nacelles ?? []) {
    xs.push(n.nose_x_m, n.nose_x_m + n.length_m);
    zs.push((n.z_m ?? 0) + n.height_m / 2, (n.z_m ?? 0) - n.height_m / 2);
  }
  if (airframe.gear) {
    xs.push(airframe.gear.main_x_m, airframe.gear.third_x_m);
    zs.push(airframe.gear.ground_z_m);
  }
  return { xMin: Math.min(...xs), xMax: Math.max(...xs), halfSpan, zMin: Math.min(...zs), zMax: Math.max(...zs) };
}

/** SVG path through points; `smooth` draws a Catmull-Rom curve. */
export function path(points: Point[], map: (p: Point) => Point, closed = true, smooth = false): string {
  const p = points.map(map);
  const first = p[0];
  if (!first) return "";
  const at = (i: number) => p[Math.min(Math.max(i, 0), p.length - 1)] ?? first;
  const fix = (v: number) => v.toFixed(1);
  let d = `M${fix(first.x)} ${fix(first.y)}`;
  for (let i = 0; i < p.length - 1; i++) {
    const a = at(i);
    const b = at(i + 1);
    if (smooth) {
      const before = at(i - 1);
      const after = at(i + 2);
      d += `C${fix(a.x + (b.x - before.x) / 6)} ${fix(a.y + (b.y - before.y) / 6)} ${fix(b.x - (after.x - a.x) / 6)} ${fix(b.y - (after.y - a.y) / 6)} ${fix(b.x)} ${fix(b.y)}`;
    } else d += `L${fix(b.x)} ${fix(b.y)}`;
  }
  return closed ? `${d}Z` : d;
}

const PIECES = 6;

/** Points on the curve that {@link path} draws through a few. */
export function smoothed(points: Point[]): Point[] {
  const at = (i: number) => points[Math.min(Math.max(i, 0), points.length - 1)] as Point;
  const found: Point[] = points.slice(0, 1);
  for (let i = 0; i < points.length - 1; i++) {
    const [p, a, b, n] = [at(i - 1), at(i), at(i + 1), at(i + 2)];
    const c = { x: a.x + (b.x - p.x) / 6, y: a.y + (b.y - p.y) / 6 };
    const d = { x: b.x - (n.x - a.x) / 6, y: b.y - (n.y - a.y) / 6 };
    for (let k = 1; k <= PIECES; k++) {
      const t = k / PIECES;
      const u = 1 - t;
      const mix = (q: "x" | "y") => u ** 3 * a[q] + 3 * u * u * t * c[q] + 3 * u * t * t * d[q] + t ** 3 * b[q];
      found.push({ x: mix("x"), y: mix("y") });
    }
  }
  return found;
}

/** Round step for a ruler so that figures stand about 70 px apart. */
export function rulerStep(pixelsPerUnit: number): number {
  const raw = 70 / pixelsPerUnit;
  const power = 10 ** Math.floor(Math.log10(raw));
  const lead = raw / power;
  return (lead <= 1 ? 1 : lead <= 2 ? 2 : lead <= 5 ? 5 : 10) * power;
}
