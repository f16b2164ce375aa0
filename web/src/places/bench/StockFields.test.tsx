// @vitest-environment happy-dom
import { cleanup, fireEvent, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, it } from "vitest";
import { fill, onBench, press } from "../../testing/bench";
import { StockFields } from "./StockFields";

const COMMON = {
  pieces_kg: [0.005, 0.02],
  pieces_each: 4,
  stations: [{ name: "nose", x_m: -0.2, y_m: 0, most_kg: 0.2 }],
};

const stage = () =>
  onBench(<StockFields stock={COMMON} />, {
    refuse: (s) => (s.ballast?.pieces_kg.some((p) => p <= 0) ? "A piece of ballast weighs from 0.1 g on." : null),
  });

beforeEach(() => localStorage.clear());
afterEach(cleanup);

it("keeps the common stock until the pilot says otherwise, then what he says", async () => {
  const bench = stage();
  expect(bench.now().ballast).toBeUndefined();
  await fill("Size 1", "7 g");
  await expect.poll(() => bench.now().ballast?.pieces_kg).toEqual([0.007, 0.02]);
  await fill("Station, nose", "-180 mm");
  await expect.poll(() => bench.now().ballast?.stations[0]?.x_m).toBe(-0.18);
  expect(bench.now().ballast?.pieces_kg, "the piece said before stays").toEqual([0.007, 0.02]);
});

it("shows at the field why a piece is refused, keeps the words, and Escape takes them back", async () => {
  const bench = stage();
  const field = await fill("Size 1", "-5 g");
  expect((await screen.findByRole("alert")).textContent).toContain("piece of ballast");
  expect(field.value).toBe("-5 g");
  fireEvent.keyDown(field, { key: "Escape" });
  expect(field.value).toBe("5.0");
  expect(bench.said).toEqual([]);
});

it("takes further sizes and places; the last place cannot be removed", async () => {
  const bench = stage();
  expect(screen.queryByRole("button", { name: "remove", hidden: true })).toBeNull();
  await press("add a size");
  await press("Add a place");
  expect(bench.now().ballast?.pieces_kg).toHaveLength(3);
  expect(bench.now().ballast?.stations.map((p) => p.name)).toEqual(["nose", "place 2"]);
});
