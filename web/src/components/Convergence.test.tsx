// @vitest-environment happy-dom
import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import type { Board, Tendency } from "../api/client";
import { ConvergenceBoard, ConvergenceStrip } from "./Convergence";

const roll = (value: number, settled = false): Tendency => ({
  key: "roll_cruise",
  name: "Roll, hands off at cruise",
  left: "left wing down",
  right: "right wing down",
  unit: "°/s",
  value,
  sigma: 1,
  low: -3,
  high: 3,
  rail_low: -12,
  rail_high: 12,
  verdict: settled ? "it stays level" : "the left wing goes down",
  words: `${Math.abs(value).toFixed(1)} ± 1.0 °/s ${value < 0 ? "left wing down" : ""}`.trim(),
  settled,
  out: !settled,
  shown: settled ? "in_band" : "below",
  chance: settled ? 0.9 : 0.05,
});

const board: Board = {
  within_one_sigma: 0.5,
  configurations: [],
  kept: [],
  columns: [
    {
      sortie_id: "1",
      sortie_number: 1,
      configuration_number: 1,
      change_words: [],
      simulated: false,
      predicted: [roll(0, true)],
      flown: [roll(-7)],
      found: [roll(-1, true)],
      score: [
        {
          key: "roll_cruise",
          name: "",
          unit: "",
          predicted: 0,
          predicted_sigma: 3,
          found: -7,
          found_sigma: 1,
          sigmas: -2.5,
          within_one_sigma: false,
          words: "a surprise: look for what the bench does not know",
        },
      ],
    },
  ],
};

afterEach(cleanup);

describe("convergence", () => {
  it("reads predicted, flown and landed in words, and marks a surprise", () => {
    render(<ConvergenceBoard board={board} />);
    expect(screen.getByRole("img").getAttribute("aria-label")).toBe(
      "predicted 0.0 ± 1.0 °/s; flown 7.0 ± 1.0 °/s left wing down; after its trim clicks 1.0 ± 1.0 °/s left wing down",
    );
    expect(screen.getByText(/a surprise/).className).toContain("font-semibold");
    expect(screen.getByText("sortie 1", { exact: false })).toBeTruthy();
  });

  it("closes in as it flew, and ends as it landed", () => {
    render(<ConvergenceStrip board={board} />);
    expect(screen.getByRole("img").getAttribute("aria-label")).toBe(
      "7.0 ± 1.0 °/s left wing down, then 1.0 ± 1.0 °/s left wing down",
    );
    expect(screen.getByText("it stays level")).toBeTruthy();
  });
});
