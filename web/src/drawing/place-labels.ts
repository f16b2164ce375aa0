/** Where the labels of a drawing stand: none over another, none over a line. Pure, no React. */
import type { Point } from "./geometry";

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface Line {
  a: Point;
  b: Point;
}

export interface Label {
  key: string;
  words: string;
  /** What it names, in pixels. */
  at: Point;
  /** Size of its letters, in pixels. */
  size: number;
  color: string;
  bold?: boolean;
  /** The direction it is looked for first, in degrees from right, turning up. */
  towards?: number;
}

export interface PlacedLabel extends Label {
  box: Box;
  /** The line back to what it names, where it had to stand away from it. */
  leader: Line | null;
}

const GAP = 2;
const NEAR = [7, 12, 20, 30, 42, 56, 72, 92, 116, 146, 180];
const TURNS = [0, 30, -30, 60, -60, 90, -90, 120, -120, 150, -150, 180];
const LEADER_FROM = 18;
const LETTER = 0.6;
const BOLD_LETTER = 0.63;

/** How wide words are, about: the letters of the type this is drawn in are no wider. */
export function widthOf(words: string, size: number, bold = false): number {
  return words.length * size * (bold ? BOLD_LETTER : LETTER);
}

/**
 * Every label beside what it names, in the order given: at the nearest place where its box lies within the room and crosses no
 * line, no other label and no leader; where there is none, at the place with the fewest crossings.
 */
export function placeLabels(labels: Label[], lines: Line[], taken: Box[], room: Box): PlacedLabel[] {
  const placed: PlacedLabel[] = [];
  const boxes = [...taken];
  const crossed = [...lines];
  for (const label of labels) {
    const found = bestPlace(label, crossed, boxes, room);
    placed.push(found);
    boxes.push(found.box);
    if (found.leader) crossed.push(found.leader);
  }
  return placed;
}

function bestPlace(label: Label, lines: Line[], boxes: Box[], room: Box): PlacedLabel {
  let best: PlacedLabel | null = null;
  let least = Number.POSITIVE_INFINITY;
  for (const away of NEAR)
    for (const turn of TURNS) {
      const tried = placeAt(label, away, (label.towards ?? 0) + turn);
      const count = crossings(tried, lines, boxes, room, least);
      if (count < least) {
        best = tried;
        least = count;
      }
      if (least === 0) return tried;
    }
  return best ?? placeAt(label, NEAR[0] ?? 0, 0);
}

/** A label `away` pixels from what it names, in a direction. */
function placeAt(label: Label, away: number, degrees: number): PlacedLabel {
  const turn = (degrees * Math.PI) / 180;
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const width = widthOf(label.words, label.size, label.bold);
  const height = label.size * 1.2;
  const near = { x: label.at.x + away * cos, y: label.at.y - away * sin };
  // The box begins at that point and goes on the way it was looked for.
  const box = { x: near.x - (width * (1 - cos)) / 2, y: near.y - (height * (1 + sin)) / 2, width, height };
  const leader = away >= LEADER_FROM ? { a: label.at, b: near } : null;
  return { ...label, box, leader };
}

const OUTSIDE = 1000;

/** How much is in the way of a label; counted no further than `enough`. */
function crossings(label: PlacedLabel, lines: Line[], boxes: Box[], room: Box, enough: number): number {
  const { box } = label;
  const out = box.x < room.x || box.y < room.y || right(box) > right(room) || bottom(box) > bottom(room);
  let count = out ? OUTSIDE : 0;
  for (const other of boxes) {
    if (overlap(box, other)) count += 4;
    // What a label names stands in a box of its own: its leader begins there.
    if (label.leader && !holds(other, label.leader.a) && crosses(label.leader, other, 0)) count += 2;
  }
  for (const line of lines) {
    if (count >= enough) return count;
    if (crosses(line, box, GAP)) count += 1;
  }
  return count;
}

const right = (b: Box) => b.x + b.width;
const bottom = (b: Box) => b.y + b.height;
const holds = (b: Box, p: Point) => p.x >= b.x && p.x <= right(b) && p.y >= b.y && p.y <= bottom(b);

/** Whether two boxes touch. */
export function overlap(a: Box, b: Box): boolean {
  return a.x < right(b) + GAP && b.x < right(a) + GAP && a.y < bottom(b) + GAP && b.y < bottom(a) + GAP;
}

/** How far along a line, of its length, it comes into a strip `wide` across that it begins `into` from; and where it leaves it. */
const entry = (into: number, step: number, wide: number) =>
  step === 0 ? (into < 0 || into > wide ? 2 : 0) : step > 0 ? -into / step : (wide - into) / step;
const exit = (into: number, step: number, wide: number) =>
  step === 0 ? 1 : step > 0 ? (wide - into) / step : -into / step;

/** Whether a line goes through a box that is larger by `pad`; Liang and Barsky's clipping. */
export function crosses({ a, b }: Line, box: Box, pad: number): boolean {
  const left = box.x - pad;
  const top = box.y - pad;
  const wide = box.width + 2 * pad;
  const high = box.height + 2 * pad;
  // Asked some ten thousand times at every move of a pointer: most lines lie wholly to one side.
  if (a.x < left ? b.x < left : a.x > left + wide && b.x > left + wide) return false;
  if (a.y < top ? b.y < top : a.y > top + high && b.y > top + high) return false;
  const dx = b.x - a.x;
  const dy = b.y - a.y;
  const from = Math.max(0, entry(a.x - left, dx, wide), entry(a.y - top, dy, high));
  const to = Math.min(1, exit(a.x - left, dx, wide), exit(a.y - top, dy, high));
  return from <= to;
}

/**
 * Rows for labels that stand below one another, from left to right the first row with room, as many as it takes; each is moved
 * sideways as far as the room demands.
 */
export function inRows(labels: { x: number; words: string }[], size: number, room: [number, number]) {
  const ends: number[] = [];
  const order = labels.map((label, i) => ({ i, ...label })).sort((a, b) => a.x - b.x);
  const found: { x: number; row: number }[] = labels.map(() => ({ x: 0, row: 0 }));
  for (const { i, x, words } of order) {
    const half = widthOf(words, size) / 2;
    const middle = Math.max(room[0] + half, Math.min(room[1] - half, x));
    const free = ends.findIndex((end) => middle - half > end + 8);
    const row = free === -1 ? ends.length : free;
    ends[row] = middle + half;
    found[i] = { x: middle, row };
  }
  return { places: found, rows: ends.length };
}
