import { describe, expect, it } from "vitest";
import { labelRows } from "./labels";

describe("labels under the weights", () => {
  it("stand in one row while there is room", () => {
    expect(
      labelRows([
        { x: 0, words: "Pack" },
        { x: 100, words: "Camera" },
      ]),
    ).toEqual([0, 0]);
  });

  it("move down when they would run into their neighbour, whatever order the items have", () => {
    const rows = labelRows([
      { x: 50, words: "Airframe with ever…" },
      { x: 0, words: "New item" },
      { x: 20, words: "Battery" },
    ]);
    expect(new Set(rows).size).toBe(3);
    expect(rows[1]).toBe(0);
  });
});
