/** What was said of a measure, in a few words for the strip. */
import type { Capture, DirectionTable, Reading } from "../../../api/client";
import type { SettingsValue } from "../../../components/settings-context";
import { plainOf } from "./quantities";

type Show = SettingsValue["show"];

export function saidOf(
  capture: Capture,
  reading: Reading | undefined,
  directions: DirectionTable | undefined,
  show: Show,
): string {
  return reading ? `${amountOf(capture, reading, directions, show)}${reading.telemetry ? ", telemetry" : ""}` : "";
}

function amountOf(capture: Capture, reading: Reading, directions: DirectionTable | undefined, show: Show): string {
  const { number } = reading;
  if (reading.choice) return capture.options.find((o) => o.key === reading.choice)?.words ?? reading.choice;
  if (capture.kind === "timed" && reading.none) return `did not in ${number?.toFixed(0)} s`;
  if (reading.none || number === 0)
    return capture.kind === "count" || capture.kind === "stick" ? "none" : `0 ${capture.unit}`;
  const words = reading.direction ? directions?.responses[reading.direction] : undefined;
  if (capture.kind === "count") return `${number} ${words?.model ?? reading.direction ?? ""}`;
  if (capture.kind === "stick")
    return `${Math.round((number ?? 0) * 100)} % ${words?.stick ?? reading.direction ?? ""}`;
  if (capture.kind === "timed") return `${number?.toFixed(1)} s`;
  // With a unit of his own it is said as it was typed.
  if (/[a-z"']/i.test(reading.entered ?? "")) return reading.entered;
  const plain = plainOf(capture.unit);
  return plain.typed === capture.unit ? show((number ?? 0) * plain.si, plain.quantity) : `${number} ${capture.unit}`;
}
