/** What was said of a measure, in a few words for the strip. */
import type { Capture, DirectionTable, Reading } from "../../../api/client";

export function saidOf(capture: Capture, reading: Reading | undefined, directions: DirectionTable | undefined): string {
  if (!reading) return "";
  const { number } = reading;
  if (reading.choice) return capture.options.find((o) => o.key === reading.choice)?.words ?? reading.choice;
  if (capture.kind === "timed" && reading.none) return `did not in ${number?.toFixed(0)} s`;
  if (reading.none || number === 0)
    return capture.kind === "count" || capture.kind === "stick" ? "none" : `0 ${capture.unit}`;
  const words = reading.direction ? directions?.responses[reading.direction] : undefined;
  if (capture.kind === "count") return `${number} ${words?.model ?? reading.direction ?? ""}`;
  if (capture.kind === "stick")
    return `${Math.round((number ?? 0) * 100)} % ${words?.stick ?? reading.direction ?? ""}`;
  return capture.kind === "timed" ? `${number?.toFixed(1)} s` : `${number} ${capture.unit}`;
}
