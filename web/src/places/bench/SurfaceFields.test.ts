import { describe, expect, it } from "vitest";
import type { Airframe, Section, Surface } from "../../api/client";
import { newSurface, withExtraChord } from "./SurfaceFields";

const section = (y_m: number, chord_m: number, x_offset_m = 0): Section => ({
  y_m,
  x_offset_m,
  chord_m,
  z_offset_m: 0,
  twist_rad: 0,
});
const wing: Surface = {
  key: "wing",
  role: "wing",
  x_m: 0.1,
  z_m: 0.05,
  sections: [section(0, 0.3), section(0.8, 0.2, 0.1)],
  incidence_rad: 0,
  camber: "symmetrical",
  hinge_fraction: 0.75,
  control_inner: 0.5,
  control_outer: 1,
};
const airframe = (...surfaces: Surface[]): Airframe => ({
  surfaces,
  body: { nose_x_m: -0.3, length_m: 1.2, width_m: 0.12, height_m: 0.14, boom_y_m: 0, y_m: 0, z_m: 0 },
  fin: null,
  motor: null,
  nacelles: [],
  further_motors: [],
});

describe("adding to an airframe", () => {
  it("puts a new chord on the straight edges of the outermost panel", () => {
    const sections = withExtraChord(wing.sections);
    expect(sections.map((s) => s.y_m)).toEqual([0, 0.4, 0.8]);
    expect(sections[1]?.chord_m).toBeCloseTo(0.25);
    expect(sections[1]?.x_offset_m).toBeCloseTo(0.05);
    expect(withExtraChord([section(0, 0.3)])).toHaveLength(1);
  });

  it("places a tail behind, a foreplane ahead and a second wing below", () => {
    const a = airframe(wing);
    expect(newSurface("tail", a).x_m).toBeGreaterThan(0.1 + 0.3);
    expect(newSurface("canard", a).x_m + 0.18).toBeLessThan(0.1);
    expect(newSurface("wing", a).z_m).toBeLessThan(wing.z_m - 0.1);
  });

  it("never puts two surfaces in one place or gives two the same name", () => {
    const second = newSurface("wing", airframe(wing));
    const third = newSurface("wing", airframe(wing, second));
    expect(new Set([wing.key, second.key, third.key]).size).toBe(3);
    expect(Math.abs(third.z_m - second.z_m)).toBeGreaterThan(0.05);
  });

  it("gives a bare airframe something to start from", () => {
    const tail = newSurface("tail", airframe());
    expect(tail.sections).toHaveLength(2);
    expect(tail.sections[0]?.chord_m).toBeGreaterThan(0);
  });
});
