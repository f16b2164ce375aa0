// @vitest-environment happy-dom
import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import type { Tendency } from "../api/client";
import { Rail } from "./Rail";

const pitch = (part: Partial<Tendency>): Tendency => ({
  key: "pitch_cruise",
  name: "Pitch, hands off at cruise",
  left: "nose sinks",
  right: "nose rises",
  unit: "°/s",
  value: -3.24,
  sigma: 1,
  low: -1.5,
  high: 1.5,
  rail_low: -8,
  rail_high: 8,
  verdict: "let go, the nose sinks",
  words: "3.2 ± 1.0 °/s nose sinks",
  settled: false,
  out: true,
  shown: "below",
  chance: 0.05,
  ...part,
});

afterEach(cleanup);

describe("a behaviour on its rail", () => {
  it("draws predicted dashed and found solid, and reads both out", () => {
    render(
      <Rail
        name="Pitch"
        marks={[
          { tendency: pitch({ value: 0 }), kind: "predicted" },
          { tendency: pitch({}), kind: "measured" },
        ]}
      />,
    );
    const picture = screen.getByRole("img");
    expect(picture.getAttribute("aria-label")).toContain("found: 3.2 ± 1.0 °/s nose sinks");
    const humps = [...picture.querySelectorAll("path[stroke-dasharray], path[stroke-width='2']")];
    expect(humps.map((h) => h.getAttribute("stroke-dasharray"))).toEqual(["5 4", null]);
    expect(screen.getByText("let go, the nose sinks").className).toContain("accent");
  });

  it("marks a behaviour beyond the end of its rail at the end, inside the drawing", () => {
    render(<Rail name="Pitch" marks={[{ tendency: pitch({ value: 40 }), kind: "measured" }]} />);
    const marks = [...screen.getByRole("img").querySelectorAll("path")].map((p) => p.getAttribute("d") ?? "");
    expect(marks.at(-1)).toMatch(/^M412 /);
  });
});
