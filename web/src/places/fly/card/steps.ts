/** The order in which a card asks: one question at a time, the needed ones first; what may be said besides is asked on wish. */
import type { Capture, Card } from "../../../api/client";
import { type Draft, isHalf, wayless } from "./draft";

export const FLYING = "flying";
export const PROOF = "proof";
export const PARTS = "parts";
export const CONDITIONS = "conditions";
export const KEEP = "keep";

/** As short as a reason may be; the program asks for the same. */
export const SHORTEST_REASON = 8;

export const questions = (card: Card) => card.captures.filter((c) => c.kind !== "part");
export const partsOf = (card: Card) => card.captures.filter((c) => c.kind === "part");

/** What a card asks in any case, in its order, from what is flown to keeping it. After landing there is time: everything is asked but what few can tell. */
export function orderOf(card: Card): string[] {
  const everything = card.phase === "after" && partsOf(card).length === 0;
  return [
    FLYING,
    ...(card.proof_of_trim ? [PROOF] : []),
    ...questions(card)
      .filter((c) => c.required || (everything && !c.on_wish))
      .map((c) => c.key),
    ...(partsOf(card).length > 0 ? [PARTS] : []),
    KEEP,
  ];
}

/** Whether a step has its answer; what was held and not yet which way has none. */
export function answered(card: Card, draft: Draft, step: string): boolean {
  if (step === PROOF) return draft.leftAlone !== null;
  if (step === PARTS) return partsOf(card).some((c) => draft.readings[c.key]);
  const capture = card.captures.find((c) => c.key === step);
  return capture !== undefined && Boolean(draft.readings[step]) && !isHalf(capture, draft.readings[step]);
}

/**
 * Where a card goes on from a step: to the next that has no answer, then to those passed over, then to keeping it. A model that
 * could not be left alone is asked nothing more: what else was seen may be said.
 */
export function nextOf(card: Card, draft: Draft, from: string = draft.at): string {
  if (draft.leftAlone === false && card.proof_of_trim) return KEEP;
  const order = orderOf(card).slice(1, -1);
  const after = order.slice(order.indexOf(from) + 1);
  const open = (step: string) => step !== from && !answered(card, draft, step);
  // What was passed over once is asked for where the card is kept, not in a circle.
  if (order.includes(from) || from === FLYING) return after.find(open) ?? KEEP;
  return order.find((step) => step !== PARTS && open(step)) ?? KEEP;
}

/** The step before. */
export function before(card: Card, from: string): string {
  const order = orderOf(card);
  const at = order.indexOf(from);
  return at < 0 ? KEEP : (order[at - 1] ?? FLYING);
}

/** Where a card starts that was said something of before: where that ends. */
export function startOf(card: Card, draft: Draft): string {
  return nextOf(card, draft, FLYING);
}

/** What is still to be said before a card can be kept, in words. */
export function stillToSay(card: Card, draft: Draft, unplanned: boolean): string[] {
  const couldNot = draft.leftAlone === false;
  const half = wayless(card, draft).map((c) => `which way, ${c.label.toLowerCase()}`);
  const missing = couldNot ? [] : card.captures.filter((c) => c.required && !draft.readings[c.key]).map((c) => c.label);
  return [
    ...(card.proof_of_trim && draft.leftAlone === null ? ["hands off just before"] : []),
    ...missing,
    ...half,
    ...(unplanned && draft.note.trim().length < SHORTEST_REASON ? ["why it was flown"] : []),
  ];
}

/** Whether one tap answers a measure whole, so that the next question may come by itself. */
export function movesOn(
  capture: Capture,
  reading: { number?: number | null; direction?: string | null; none?: boolean; entered?: string | null } | null,
): boolean {
  if (!reading || reading.entered) return false;
  switch (capture.kind) {
    case "rating":
    case "choice":
    case "yes_no":
    case "timed":
      return true;
    case "count":
      return Boolean(reading.none);
    case "stick":
      return Boolean(reading.none) || Boolean(reading.direction);
    default:
      return false;
  }
}
