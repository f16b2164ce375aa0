/** What the program last said, with what is on this device laid over it: every screen shows the same. */
import type { ModelDetail, Plan, SortieDetail } from "../api/client";
import { type BeginEntry, type Entry, recordsOf } from "./outbox";

const begins = (entries: readonly Entry[], modelId: string) =>
  entries.filter((e): e is BeginEntry => e.what === "begin" && e.modelId === modelId);

/** A model with the sorties that were begun or landed on this device. */
export function modelWith(model: ModelDetail, entries: readonly Entry[]): ModelDetail {
  const known = new Set(model.sorties.map((s) => s.id));
  const begun = begins(entries, model.id).filter((e) => !known.has(e.id));
  const landed = new Set(entries.flatMap((e) => (e.what === "land" && e.modelId === model.id ? [e.sortieId] : [])));
  if (begun.length === 0 && landed.size === 0) return model;
  const sorties = [...model.sorties, ...begun.map((e) => summary(e, entries, model))].map((s) =>
    landed.has(s.id) ? { ...s, status: "landed" } : s,
  );
  return { ...model, sorties, today: todayWith(model.today, sorties, landed) };
}

function summary(begin: BeginEntry, entries: readonly Entry[], model: ModelDetail): ModelDetail["sorties"][number] {
  return {
    id: begin.id,
    number: begin.sortie.number,
    status: recordsOf(entries, begin.id).length > 0 ? "flying" : "planned",
    alone: begin.sortie.alone,
    simulated: false,
    card_ids: begin.request.card_ids,
    configuration: model.configuration,
    landed_at: null,
  };
}

type Today = ModelDetail["today"];

function todayWith(today: Today, sorties: ModelDetail["sorties"], landed: ReadonlySet<string>): Today {
  const last = sorties.at(-1);
  if (!last) return today;
  const there = { target: "fly", station: "fly" as Today["station"] };
  return landed.has(last.id)
    ? {
        ...today,
        ...there,
        sentence: `Sortie ${last.number} has landed and is kept on this device. Its debrief comes as soon as the program answers.`,
        button: "What is on this device",
      }
    : {
        ...today,
        ...there,
        sentence: `Sortie ${last.number} is open on this device.`,
        button: "Go on logging",
      };
}

/** A sortie that is landed here is landed, whatever the program knows. */
export function landedHere(entries: readonly Entry[], sortieId: string): boolean {
  return entries.some((e) => e.what === "land" && e.sortieId === sortieId);
}

/** A sortie that was begun here and has not arrived. */
export function begunHere(entries: readonly Entry[], sortieId: string): SortieDetail | null {
  return entries.find((e): e is BeginEntry => e.what === "begin" && e.id === sortieId)?.sortie ?? null;
}

/** A plan with the gates that were looked at on this device. What they say the program has not read yet. */
export function planWith(plan: Plan, entries: readonly Entry[], modelId: string): Plan {
  const said = new Map<string, "done" | "failed">();
  for (const e of entries)
    if (e.what === "record" && e.target.kind === "ground" && e.target.modelId === modelId && e.refused === null)
      said.set(e.record.card_id, e.record.outcome === "passed" ? "done" : "failed");
  if (said.size === 0) return plan;
  const { programme } = plan;
  return {
    ...plan,
    programme: {
      ...programme,
      gates: programme.gates.filter((id) => said.get(id) !== "done"),
      cards: programme.cards.map((c) => {
        const state = said.get(c.card_id);
        return state ? { ...c, state, reason: "Logged on this device; not yet in the program." } : c;
      }),
    },
  };
}

/** The sortie a device begins by itself: of the one that was proposed, with the cards the pilot chose. */
export function beginOf(
  proposed: SortieDetail,
  id: string,
  chosen: { card_ids: readonly string[]; alone: boolean; against: SortieDetail["against"] },
): SortieDetail {
  const every = new Map([...proposed.cards, ...proposed.others].map((c) => [c.id, c]));
  const after = proposed.cards.filter((c) => c.phase === "after");
  const flown = chosen.card_ids.flatMap((c) => every.get(c) ?? []);
  return {
    ...proposed,
    id,
    status: "planned",
    alone: chosen.alone,
    cards: [...flown, ...after],
    others: [...every.values()].filter((c) => c.phase === "flight" && !chosen.card_ids.includes(c.id)),
    against: chosen.against,
    started_at: new Date().toISOString(),
  };
}

/** Entries of a model that has a sortie here which has landed and is not in the program yet. */
export function landedUnsent(entries: readonly Entry[], modelId: string): boolean {
  return entries.some((e) => e.what === "land" && e.modelId === modelId);
}
