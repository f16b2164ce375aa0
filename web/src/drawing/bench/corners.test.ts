import { describe, expect, it } from "vitest";
import type { Surface } from "../../api/client";
import { cornersOf, onGrid, snap, withCorner } from "./corners";

const wing: Surface = {
  key: "wing",
  role: "wing",
  x_m: 0.1,
  z_m: 0,
  sections: [
    { y_m: 0, x_offset_m: 0, chord_m: 0.3, z_offset_m: 0, twist_rad: 0 },
    { y_m: 0.4, x_offset_m: 0.02, chord_m: 0.26, z_offset_m: 0, twist_rad: 0 },
    { y_m: 0.8, x_offset_m: 0.1, chord_m: 0.2, z_offset_m: 0.04, twist_rad: 0 },
  ],
  incidence_rad: 0,
  camber: "symmetrical",
  hinge_fraction: 0.75,
  control_inner: 0.5,
  control_outer: 1,
};
const at = (s: Surface, edge: "leading" | "trailing", index: number) =>
  cornersOf(s).find((c) => c.edge === edge && c.index === index);

describe("a corner of a panel that is dragged", () => {
  it("moves one edge and leaves the other where it is", () => {
    const moved = withCorner(wing, { index: 2, edge: "leading" }, 0.25, 0.8);
    expect(at(moved, "leading", 2)?.x).toBeCloseTo(0.25);
    expect(at(moved, "trailing", 2)?.x).toBeCloseTo(0.4);
    expect(moved.sections[2]?.chord_m).toBeCloseTo(0.15);
    const longer = withCorner(wing, { index: 2, edge: "trailing" }, 0.45, 0.85);
    expect(at(longer, "leading", 2)?.x).toBeCloseTo(0.2);
    expect(longer.sections[2]?.chord_m).toBeCloseTo(0.25);
    expect(longer.sections[2]?.y_m).toBeCloseTo(0.85);
    expect(longer.sections[2]?.z_offset_m).toBe(0.04);
  });

  it("moves the station with the root's leading edge, and nothing else on the drawing", () => {
    const moved = withCorner(wing, { index: 0, edge: "leading" }, 0.08, 0.3);
    expect(moved.x_m).toBeCloseTo(0.08);
    expect(at(moved, "trailing", 0)?.x).toBeCloseTo(0.4);
    for (const i of [1, 2]) expect(at(moved, "leading", i)?.x).toBeCloseTo(at(wing, "leading", i)?.x ?? 0);
    expect(moved.sections[0]?.y_m).toBe(0);
  });

  it("never crosses its neighbours or its other edge", () => {
    expect(withCorner(wing, { index: 1, edge: "leading" }, 0.12, 2).sections[1]?.y_m).toBeCloseTo(0.795);
    expect(withCorner(wing, { index: 1, edge: "leading" }, 0.12, -1).sections[1]?.y_m).toBeCloseTo(0.005);
    expect(withCorner(wing, { index: 2, edge: "leading" }, 9, 0.8).sections[2]?.chord_m).toBe(0);
    expect(withCorner(wing, { index: 0, edge: "trailing" }, -3, 0).sections[0]?.chord_m).toBeCloseTo(0.01);
  });

  it("stands on round millimetres, or on a line others stand on", () => {
    expect(onGrid(0.1234, false)).toBe(0.125);
    expect(onGrid(0.1234, true)).toBe(0.123);
    expect(snap(0.101, [0.1, 0.3], 0.004)).toBe(0.1);
    expect(snap(0.106, [0.1, 0.3], 0.004)).toBe(0.106);
  });
});
