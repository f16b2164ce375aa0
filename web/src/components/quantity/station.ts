import type { useSettings } from "../settings-context";

type Show = ReturnType<typeof useSettings>["show"];

/** A station (m aft of the datum) in words, without a sign: "31 mm ahead of the datum". */
export function stationWords(show: Show, x: number, extraDigits = 0): string {
  return `${show(Math.abs(x), "length", extraDigits)} ${x < 0 ? "ahead of" : "behind"} the datum`;
}
