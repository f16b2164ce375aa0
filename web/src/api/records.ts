import type { CardRecord, Reading } from "./client";

/** A reading with everything that was not said left unknown. */
export function aReading(said: Partial<Reading> & Pick<Reading, "key">): Reading {
  return { none: false, entered: "", telemetry: false, ...said };
}

/** A record with everything that was not said left unknown. */
export function aRecord(said: Partial<CardRecord> & Pick<CardRecord, "card_id" | "outcome">): CardRecord {
  return {
    readings: [],
    confidence: "fair",
    from_memory: false,
    note: "",
    conditions: { pack: "" },
    ...said,
  };
}
