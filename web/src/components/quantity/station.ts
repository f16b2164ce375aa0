import type { useSettings } from "../settings-context";

type Show = ReturnType<typeof useSettings>["show"];

/** A station (m aft of the datum) in words, without a sign: "31 mm ahead of the datum". */
export function stationWords(show: Show, x: number, extraDigits = 0): string {
  return `${show(Math.abs(x), "length", extraDigits)} ${x < 0 ? "ahead of" : "behind"} the datum`;
}

/** A static margin (of the mean chord) in words, without a sign: one behind the neutral point is no margin at all. */
export function marginWords(show: Show, margin: number): string {
  return margin < 0 ? `${show(-margin, "fraction")} ${UNSTABLE}` : show(margin, "fraction");
}

export const UNSTABLE = "behind: unstable";
