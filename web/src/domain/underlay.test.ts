import { describe, expect, it } from "vitest";
import { aSetup } from "../testing/bench";
import { knownPoints, type Laid, laid, onModel, type Underlay } from "./underlay";

const { airframe } = aSetup();
const at = (key: string) => knownPoints(airframe).find((k) => k.key === key) ?? { x: Number.NaN, y: Number.NaN };
const base: Underlay = {
  width: 1000,
  height: 800,
  first: { x: 100, y: 400 },
  second: { x: 900, y: 400 },
  anchor: "nose",
  along: "body",
  apart_m: 1.6,
  mirrored: false,
};
const placed = (part: Partial<Underlay> = {}) => laid({ ...base, ...part }, airframe) as Laid;
const close = (p: { x: number; y: number }, x: number, y: number) => {
  expect(p.x).toBeCloseTo(x, 9);
  expect(p.y).toBeCloseTo(y, 9);
};

describe("a picture under the drawing", () => {
  it("lies with its first point on the known one, the second as far aft as it was measured, the right wing where it is", () => {
    const found = placed();
    const nose = at("nose");
    expect(found.metresPerPixel).toBeCloseTo(0.002);
    close(onModel(found, base.first), nose.x, nose.y);
    close(onModel(found, base.second), nose.x + 1.6, 0);
    close(onModel(found, { x: 100, y: 300 }), nose.x, 0.2);
  });

  it("is turned as it was photographed: nose down, nose up, or askew", () => {
    for (const degrees of [90, -90, 180, 17]) {
      const t = (degrees * Math.PI) / 180;
      const second = { x: 400 + 300 * Math.cos(t), y: 400 + 300 * Math.sin(t) };
      const found = placed({ first: { x: 400, y: 400 }, second, apart_m: 0.6 });
      close(onModel(found, second), at("nose").x + 0.6, 0);
      // A quarter turn against the clock from aft, as one looks at it, is the right wing.
      const wing = { x: 400 + 100 * Math.sin(t), y: 400 - 100 * Math.cos(t) };
      close(onModel(found, wing), at("nose").x, 0.2);
    }
  });

  it("is mirrored where it was seen from below, and laid by the span as well", () => {
    close(onModel(placed({ mirrored: true }), { x: 100, y: 500 }), at("nose").x, 0.2);
    const span = placed({
      along: "span",
      first: { x: 500, y: 700 },
      second: { x: 500, y: 100 },
      anchor: "wing/lead",
      apart_m: 0.75,
    });
    close(onModel(span, { x: 500, y: 100 }), at("wing/lead").x, 0.75);
    close(onModel(span, { x: 580, y: 700 }), at("wing/lead").x + 0.1, 0);
  });

  it("says what is missing", () => {
    expect(laid({ ...base, second: { x: 104, y: 402 } }, airframe)).toContain("lie on one another");
    expect(laid({ ...base, apart_m: 0 }, airframe)).toContain("how far apart");
    expect(laid({ ...base, anchor: "gone" }, airframe)).toContain("which point");
  });
});
