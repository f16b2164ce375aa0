import { describe, expect, it } from "vitest";
import { crosses, inRows, type Label, overlap, placeLabels, widthOf } from "./place-labels";

const ROOM = { x: 0, y: 0, width: 400, height: 300 };
const label = (key: string, x: number, y: number, part: Partial<Label> = {}): Label => ({
  key,
  words: `label ${key}`,
  at: { x, y },
  size: 12,
  color: "currentColor",
  ...part,
});

describe("labels of a drawing", () => {
  it("stand beside what they name, where they are looked for first, without a leader", () => {
    const [right, above] = placeLabels([label("a", 200, 150), label("b", 60, 150, { towards: 90 })], [], [], ROOM);
    expect(right?.box.x).toBeCloseTo(207);
    expect(right?.leader).toBeNull();
    expect(above && above.box.y + above.box.height).toBeCloseTo(143);
  });

  it("stand over no line, no other label and nothing else, and inside the room", () => {
    const lines = [0, 1, 2, 3, 4].map((i) => ({ a: { x: 190 + 12 * i, y: 0 }, b: { x: 190 + 12 * i, y: 220 } }));
    const taken = [{ x: 100, y: 120, width: 60, height: 60 }];
    const placed = placeLabels(
      [label("a", 200, 150), label("b", 205, 155), label("c", 396, 4), label("d", 130, 150)],
      lines,
      taken,
      ROOM,
    );
    placed.forEach((p, i) => {
      expect(lines.filter((l) => crosses(l, p.box, 0))).toEqual([]);
      expect(taken.filter((b) => overlap(b, p.box))).toEqual([]);
      expect(placed.filter((q, k) => k !== i && overlap(q.box, p.box))).toEqual([]);
      expect(p.box.x).toBeGreaterThanOrEqual(0);
      expect(p.box.x + p.box.width).toBeLessThanOrEqual(400);
      expect(p.box.y).toBeGreaterThanOrEqual(0);
    });
    expect(placed[0]?.leader, "away from it: a line leads back").not.toBeNull();
    expect(placed[3]?.leader?.a, "out of the box it stands in").toEqual({ x: 130, y: 150 });
  });

  it("clip as geometry does", () => {
    const box = { x: 10, y: 10, width: 20, height: 10 };
    expect(crosses({ a: { x: 0, y: 15 }, b: { x: 40, y: 15 } }, box, 0)).toBe(true);
    expect(crosses({ a: { x: 0, y: 0 }, b: { x: 9, y: 40 } }, box, 0)).toBe(false);
    expect(crosses({ a: { x: 15, y: 15 }, b: { x: 16, y: 16 } }, box, 0), "inside").toBe(true);
    expect(crosses({ a: { x: 0, y: 21 }, b: { x: 40, y: 21 } }, box, 2), "as near as the pad").toBe(true);
    expect(crosses({ a: { x: 0, y: 23 }, b: { x: 40, y: 23 } }, box, 2)).toBe(false);
  });
});

describe("names in rows", () => {
  it("stand in one row while there is room, else in as many as it takes, none over another, whatever their order", () => {
    const names = [
      { x: 50, words: "Airframe with everything" },
      { x: 0, words: "New item" },
      { x: 20, words: "Battery" },
      { x: 25, words: "Receiver" },
      { x: 300, words: "Tail servo" },
    ];
    const { places, rows } = inRows(names, 12, [0, 390]);
    expect(rows).toBe(4);
    const boxes = places.map((p, i) => {
      const width = widthOf(names[i]?.words ?? "", 12);
      return { x: p.x - width / 2, y: p.row * 20, width, height: 14 };
    });
    boxes.forEach((b, i) => {
      expect(boxes.filter((o, k) => k !== i && overlap(o, b))).toEqual([]);
      expect(b.x).toBeGreaterThanOrEqual(0);
      expect(b.x + b.width).toBeLessThanOrEqual(390);
    });
    expect(places[4]?.row).toBe(0);
  });
});
