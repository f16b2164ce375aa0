import { expect, it } from "vitest";
import { holes } from "./HoleSearch";

it.each([
  ["7, 9, 11", [0.007, 0.009, 0.011]],
  ["7 9;11", [0.007, 0.009, 0.011]],
  ["7,5 9", [0.0075, 0.009]],
])("reads %s", (text, expected) => {
  expect(holes(text)).toEqual(expected);
});

it.each(["", "7,9,11", "7 x", "0", "-3"])("refuses %s and drops nothing silently", (text) => {
  expect(holes(text)).toBeNull();
});
