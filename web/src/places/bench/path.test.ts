import { describe, expect, it } from "vitest";
import type { Airframe } from "../../api/client";
import { valueAt } from "./path";

const airframe = {
  surfaces: [{ key: "wing", x_m: 0.1, sections: [{ chord_m: 0.3 }, { chord_m: 0.2, left_twist_rad: null }] }],
  body: { nose_x_m: -0.2 },
  fin: null,
} as unknown as Airframe;

describe("one number deep in the airframe", () => {
  it("is read by its path, and is missing where nothing was measured", () => {
    expect(valueAt(airframe, ["surfaces", 0, "sections", 1, "chord_m"])).toBe(0.2);
    expect(valueAt(airframe, ["surfaces", 0, "sections", 1, "left_twist_rad"])).toBeNull();
    expect(valueAt(airframe, ["fin", "x_m"])).toBeNull();
    expect(valueAt(airframe, ["surfaces", 7, "x_m"])).toBeNull();
  });
});
