import { expect, it } from "vitest";
import { readAgain } from "./jig";

const first = { x_m: 0.1, sigma_m: 0.002, items_x_m: 0.098, how: "jig" };

it("brings the first reading along over what was moved since, and keeps the second as it is", () => {
  const both = readAgain(first, 0.094, { x_m: 0.0965 });
  expect(both.x_m).toBeCloseTo(0.096);
  expect(both).toMatchObject({ items_x_m: 0.094, again_m: 0.0965, sigma_m: 0.002, how: "jig" });
});

it("is known as well as the worse of two ways", () => {
  expect(readAgain(first, 0.098, { x_m: 0.1, sigma_m: 0.005 }).sigma_m).toBe(0.005);
  expect(readAgain(first, 0.098, { x_m: 0.1, sigma_m: 0.0008 }).sigma_m).toBe(0.002);
});
