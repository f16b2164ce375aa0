import { describe, expect, it } from "vitest";
import type { Airframe, Surface } from "../api/client";
import { boundsOf, chordAt, controlPlan, halfPlan, path, rulerStep } from "./geometry";

const wing: Surface = {
  key: "wing",
  role: "wing",
  x_m: 0.1,
  z_m: 0.05,
  sections: [
    { y_m: 0, x_offset_m: 0, chord_m: 0.3, z_offset_m: 0, twist_rad: 0 },
    { y_m: 0.8, x_offset_m: 0.1, chord_m: 0.2, z_offset_m: 0.04, twist_rad: 0 },
  ],
  incidence_rad: 0,
  camber: "symmetrical",
  hinge_fraction: 0.75,
  control_inner: 0.5,
  control_outer: 1,
};

const airframe: Airframe = {
  surfaces: [wing],
  body: { nose_x_m: -0.3, length_m: 1.2, width_m: 0.12, height_m: 0.14, boom_y_m: 0, y_m: 0, z_m: 0 },
  fin: null,
  motor: null,
  nacelles: [],
  further_motors: [],
};

describe("the scale drawing", () => {
  it("draws leading edge out and trailing edge back", () => {
    const p = halfPlan(wing);
    expect(p[0]).toEqual({ x: 0.1, y: 0 });
    expect(p[1]?.x).toBeCloseTo(0.2);
    expect(p[2]?.x).toBeCloseTo(0.4);
    expect(p.at(-1)?.x).toBeCloseTo(0.4);
  });
  it("interpolates chord and leading edge as the core does", () => {
    const half = chordAt(wing, 0.4);
    expect(half.x).toBeCloseTo(0.15);
    expect(half.chord).toBeCloseTo(0.25);
  });
  it("hinges the control surface at its fraction of the local chord", () => {
    const c = controlPlan(wing);
    expect(c?.[0]?.x).toBeCloseTo(0.15 + 0.75 * 0.25);
    expect(controlPlan({ ...wing, control_inner: 0.9, control_outer: 0.9 })).toBeNull();
  });
  it("holds nose, tail and tips", () => {
    const b = boundsOf(airframe);
    expect(b.xMin).toBeCloseTo(-0.3);
    expect(b.xMax).toBeCloseTo(0.9);
    expect(b.halfSpan).toBe(0.8);
  });
  it("closes outlines and is empty without points", () => {
    expect(path(halfPlan(wing), (p) => p)).toMatch(/^M.*Z$/);
    expect(path([], (p) => p)).toBe("");
  });
  it("steps rulers in ones, twos and fives", () => {
    for (const scale of [0.3, 1, 7, 42, 900]) {
      const step = rulerStep(scale);
      expect(step * scale).toBeGreaterThanOrEqual(69);
      expect(step * scale).toBeLessThan(180);
      expect(["1", "2", "5"]).toContain(step.toExponential()[0]);
    }
  });
});
