import { describe, expect, it } from "vitest";
import { madeAt, newId } from "./identity";
import { unitFor } from "./settings";

describe("client-made identities", () => {
  it("are version 7 and sort by time", () => {
    const a = newId(1_700_000_000_000);
    const b = newId(1_700_000_000_001);
    expect(a).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
    expect(a < b).toBe(true);
    expect(newId(5)).not.toBe(newId(5));
  });
});

describe("units remembered per quantity", () => {
  it("prefer what was chosen over the system's default", () => {
    const base = { system: "imperial" as const, units: {}, theme: "paper" as const, lastModel: null };
    expect(unitFor(base, "length")).toBe("in");
    expect(unitFor({ ...base, units: { length: "mm" } }, "length")).toBe("mm");
    expect(unitFor({ ...base, units: { length: "mm" } }, "mass")).toBe("oz");
  });

  it("says when it was made", () => {
    for (const time of [0, 1, 1_777_629_600_000, 2 ** 47]) expect(madeAt(newId(time))).toBe(time);
  });
});
