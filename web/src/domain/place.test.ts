import { describe, expect, it } from "vitest";
import { readPlace } from "./place";

describe("a place as it is typed", () => {
  it.each([
    ["47.27, 11.40", 47.27, 11.4],
    ["47.27 11.40", 47.27, 11.4],
    ["-33.8688; 151.2093", -33.8688, 151.2093],
    ["47.27 N 11.40 E", 47.27, 11.4],
    ["N 39.7392, W 104.9903", 39.7392, -104.9903],
    ["11.40 E, 47.27 N", 47.27, 11.4],
    ["33.9° S 18.4° E", -33.9, 18.4],
  ])("reads %s", (text, latitude, longitude) => {
    expect(readPlace(text)).toEqual({ ok: true, latitude, longitude });
  });

  it.each([
    ["", "Give degrees"],
    ["47.27", "Give degrees"],
    ["47°16'12\" 11°24'", "decimal"],
    ["147.2 11.4", "equator"],
    ["47.2 211.4", "180"],
    ["here there", "Give degrees"],
  ])("says what is wrong with %s", (text, words) => {
    const read = readPlace(text);
    expect(read.ok ? "" : read.reason).toContain(words);
  });
});
