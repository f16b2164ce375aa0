/** A photograph or a plan laid under the drawing: two known points on it give its scale, its turn and its place. Pure, no React. */
import type { Airframe } from "../api/client";

export interface Place {
  x: number;
  y: number;
}

/** A known point of the model in plan: where it lies [m aft of the datum, m out to the right]. */
export interface Known extends Place {
  key: string;
  words: string;
}

export interface Underlay {
  width: number;
  height: number;
  /** Both points on the picture, in its pixels. */
  first: Place;
  second: Place;
  /** Which known point the first one is, and which way the second one lies from it. */
  anchor: string;
  along: "body" | "span";
  /** How far apart they are on the model [m]. */
  apart_m: number;
  /** Seen from below, or printed the other way round. */
  mirrored: boolean;
}

/** The points of a model that are found on a picture from above. */
export function knownPoints({ body, surfaces }: Airframe): Known[] {
  const found: Known[] = [
    { key: "nose", words: "nose", x: body.nose_x_m, y: 0 },
    { key: "tail end", words: "end of the body", x: body.nose_x_m + body.length_m, y: 0 },
  ];
  for (const s of surfaces) {
    const [root, tip] = [s.sections[0], s.sections.at(-1)];
    if (!root || !tip) continue;
    found.push(
      { key: `${s.key}/lead`, words: `${s.key}: leading edge at the centre line`, x: s.x_m, y: 0 },
      { key: `${s.key}/trail`, words: `${s.key}: trailing edge at the centre line`, x: s.x_m + root.chord_m, y: 0 },
      { key: `${s.key}/tip`, words: `${s.key}: leading edge of the right tip`, x: s.x_m + tip.x_offset_m, y: tip.y_m },
    );
  }
  return found;
}

/** Metres of the model for a pixel of the picture, and the six numbers of x = a u + c v + e, y = b u + d v + f. */
export interface Laid {
  metresPerPixel: number;
  matrix: [number, number, number, number, number, number];
}

const LEAST_APART_PX = 20;

/** How the picture lies on the model, or why it does not. The second point lies aft of the first, or further out. */
export function laid(u: Underlay, airframe: Airframe): Laid | string {
  const [dx, dy] = [u.second.x - u.first.x, u.second.y - u.first.y];
  const pixels = Math.hypot(dx, dy);
  if (pixels < LEAST_APART_PX) return "The two points lie on one another. Set them as far apart as the picture allows.";
  if (!(u.apart_m > 0)) return "Say how far apart the two points are on the model.";
  const at = knownPoints(airframe).find((k) => k.key === u.anchor);
  if (!at) return "Say which point of the model the first one is.";
  const scale = u.apart_m / pixels;
  // The way from the first point to the second is aft, or out to the right.
  const way = u.along === "body" ? { x: 1, y: 0 } : { x: 0, y: 1 };
  const flip = u.mirrored ? -1 : 1;
  // On a picture with its nose to the left the right wing lies above, where pixels fall.
  const turn = Math.atan2(way.y, way.x) - Math.atan2(-flip * dy, dx);
  const [cos, sin] = [Math.cos(turn) * scale, Math.sin(turn) * scale];
  // (u, v) in pixels, v down: (u, -flip v) turned and scaled.
  const [a, b, c, d] = [cos, sin, flip * sin, -flip * cos];
  const e = at.x - a * u.first.x - c * u.first.y;
  const f = at.y - b * u.first.x - d * u.first.y;
  return { metresPerPixel: scale, matrix: [a, b, c, d, e, f] };
}

/** Where a pixel of the picture lies on the model. */
export function onModel({ matrix: [a, b, c, d, e, f] }: Laid, p: Place): Place {
  return { x: a * p.x + c * p.y + e, y: b * p.x + d * p.y + f };
}
