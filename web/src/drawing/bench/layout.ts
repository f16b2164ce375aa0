/** Where half plan, ruler, side view and weights stand on the sheet, one unit a pixel. Pure, no React. */
import type { Bounds, Point } from "../geometry";

export interface Layout {
  width: number;
  height: number;
  /** Pixels per metre. */
  scale: number;
  sx: (x: number) => number;
  plan: (p: Point) => Point;
  side: (p: Point) => Point;
  /** The station under a place of the sheet, and how far out it lies. */
  placeAt: (x: number, y: number) => Point;
  center: number;
  ruler: number;
  /** The datum line of the side view. */
  sideZero: number;
  knife: number;
  weights: number;
}

const PAD = 30;
const TOP = 18;
const TO_RULER = 44;
const TO_SIDE = 66;
const TO_WEIGHTS = 64;
const WEIGHT = 32;
export const NAME_ROW = 15;

/** The sheet for a room of `width` and at most `tallest` pixels; below it stand `rows` rows of names. */
export function layoutOf(b: Bounds, width: number, tallest: number, rows: number): Layout {
  const fixed = TOP + TO_RULER + TO_SIDE + TO_WEIGHTS + WEIGHT + rows * NAME_ROW + 10;
  const tall = b.halfSpan + b.zMax - b.zMin;
  const scale = Math.min((width - 2 * PAD) / (b.xMax - b.xMin), Math.max(tallest - fixed, 120) / tall);
  const left = (width - scale * (b.xMax - b.xMin)) / 2;
  const sx = (x: number) => left + (x - b.xMin) * scale;
  const center = TOP + b.halfSpan * scale;
  const ruler = center + TO_RULER;
  const sideZero = ruler + TO_SIDE + b.zMax * scale;
  const below = sideZero + Math.max(-b.zMin * scale, 20) + 4;
  const weights = below + TO_WEIGHTS - 4;
  return {
    width,
    height: weights + WEIGHT + rows * NAME_ROW + 10,
    scale,
    sx,
    plan: (p) => ({ x: sx(p.x), y: center - p.y * scale }),
    side: (p) => ({ x: sx(p.x), y: sideZero - p.y * scale }),
    placeAt: (x, y) => ({ x: b.xMin + (x - left) / scale, y: (center - y) / scale }),
    center,
    ruler,
    sideZero,
    knife: below,
    weights,
  };
}
