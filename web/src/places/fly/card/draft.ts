/** What has been said of a card so far: kept on the device with every tap, made into a record when it is kept. */
import { type Dispatch, type SetStateAction, useEffect, useState } from "react";
import type { Card, CardRecord, Reading } from "../../../api/client";
import { aRecord } from "../../../api/records";
import type { FlownWith } from "../CardConsole";

export interface Draft {
  /** Where in the card it is: `flying`, `proof`, a measure's key, `parts`, `conditions` or `keep`. */
  at: string;
  /** Where it was when its conditions were looked at. */
  from: string;
  mode: "pass_through" | "rate" | "self_level";
  flap: number;
  /** Where a gear that folds was; null: where the card wants it. */
  gear: "up" | "down" | null;
  /** Where the lever was, 0 to 1 of full; null: where the card wants it. */
  throttle: number | null;
  readings: Record<string, Reading>;
  leftAlone: boolean | null;
  confidence: "sure" | "fair" | "doubtful";
  note: string;
}

export type Change = Dispatch<SetStateAction<Draft>>;

export const EMPTY: Draft = {
  at: "flying",
  from: "keep",
  mode: "pass_through",
  flap: 0,
  gear: null,
  throttle: null,
  readings: {},
  leftAlone: null,
  confidence: "fair",
  note: "",
};

/** A draft that outlives a reload; what was kept before is what it starts from. */
export function useDraft(key: string, start: () => Draft) {
  const [draft, setDraft] = useState<Draft>(() => read(key) ?? start());
  useEffect(() => {
    try {
      if (draft !== EMPTY) localStorage.setItem(key, JSON.stringify(draft));
    } catch {
      // Storage refused: the draft then lives as long as the page.
    }
  }, [key, draft]);
  return [draft, setDraft] as const;
}

function read(key: string): Draft | null {
  try {
    const kept = JSON.parse(localStorage.getItem(key) ?? "null") as Partial<Draft> | null;
    // A draft of an earlier version lacks what was not asked then.
    return kept && { ...EMPTY, ...kept };
  } catch {
    return null;
  }
}

export function forgetDraft(key: string): void {
  try {
    localStorage.removeItem(key);
  } catch {
    // Nothing to forget.
  }
}

/** What was said of a card before, to be gone on with or corrected. */
export function fromRecord(record: CardRecord | null): Draft {
  if (!record) return EMPTY;
  const { mode, flap, gear, throttle } = record.conditions ?? {};
  return {
    ...EMPTY,
    mode: mode === "rate" || mode === "self_level" ? mode : "pass_through",
    flap: flap ?? 0,
    gear: gear ?? null,
    throttle: throttle ?? null,
    readings: Object.fromEntries(record.readings.map((r) => [r.key, r])),
    leftAlone: record.left_alone ?? null,
    confidence: record.confidence ?? "fair",
    note: record.note ?? "",
  };
}

/** Which conditions of a card are asked of a model: only what is there, and not by a card that is about it. */
export function asked(card: Card, flownWith: FlownWith | undefined) {
  const flying = card.phase === "flight";
  return {
    mode: flying && flownWith?.stabiliser === true && card.requires !== "stabiliser",
    throttle: flownWith?.motor === true && card.throttle !== "",
    flap: flying && flownWith?.flaps === true && card.requires !== "flap",
    gear: flying && flownWith?.gear === true,
  };
}

export type Asked = ReturnType<typeof asked>;

/** Where a gear that folds belongs on a card. */
export const gearWanted = (card: Card) => (card.gear_down ? "down" : "up");

/** What is sent: what was said, without what is half said; that goes along in words. */
export function recordOf(card: Card, draft: Draft, outcome: CardRecord["outcome"], ask: Asked): CardRecord {
  return aRecord({
    card_id: card.id,
    outcome,
    readings:
      outcome === "skipped"
        ? []
        : card.captures.flatMap((c) => {
            const said = draft.readings[c.key];
            return said && !isHalf(c, said) ? [said] : [];
          }),
    left_alone: card.proof_of_trim ? draft.leftAlone : null,
    confidence: draft.confidence,
    note: [
      ...(draft.note ? [draft.note] : []),
      ...wayless(card, draft).map(
        (c) => `${c.label}: ${Math.round((draft.readings[c.key]?.number ?? 0) * 100)} %, which way not said`,
      ),
    ].join("; "),
    conditions: {
      pack: "",
      ...(ask.mode ? { mode: draft.mode } : {}),
      ...(ask.flap ? { flap: draft.flap } : {}),
      ...(ask.gear ? { gear: draft.gear ?? gearWanted(card) } : {}),
      ...(ask.throttle && draft.throttle !== null ? { throttle: draft.throttle } : {}),
    },
  });
}

/** Held, and not yet which way: half a reading, asked for whether the card needs it or not. */
export function isHalf(capture: Card["captures"][number], reading: Reading | undefined): boolean {
  return (capture.directions ?? []).length > 0 && Boolean(reading?.number) && !reading?.direction;
}

export function wayless(card: Card, draft: Draft) {
  return card.captures.filter((c) => isHalf(c, draft.readings[c.key]));
}
