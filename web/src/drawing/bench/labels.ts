/** Which of a few rows each label stands in so that none runs into its neighbour. Pure, no React. */

const CHARACTER_PX = 6.6;
const GAP_PX = 8;
const ROWS = 3;

/** Rows 0, 1, 2 for labels centred at `x`, from left to right the first row with room; the last takes what is left. */
export function labelRows(labels: { x: number; words: string }[]): number[] {
  const ends: number[] = Array(ROWS).fill(Number.NEGATIVE_INFINITY);
  const rows = labels.map(() => 0);
  const order = labels.map((_, i) => i).sort((a, b) => (labels[a]?.x ?? 0) - (labels[b]?.x ?? 0));
  for (const i of order) {
    const label = labels[i];
    if (!label) continue;
    const half = (label.words.length * CHARACTER_PX) / 2;
    const free = ends.findIndex((end) => label.x - half > end + GAP_PX);
    const row = free === -1 ? ROWS - 1 : free;
    rows[i] = row;
    ends[row] = label.x + half;
  }
  return rows;
}
