/** The kit a device takes to the field: every answer of the program that the places of the loop need there. */
import { hashKey, type QueryClient, type QueryKey, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import type { ModelDetail } from "../api/client";
import { useWritten } from "../offline/kept";
import { startWorker } from "../offline/worker";
import { controlsOf } from "./controls";
import { benchOf, directionsOf, keys, SHELF } from "./models";
import { notesOf } from "./notes";
import { PACKS } from "./packs";
import { SITES } from "./sites";
import {
  boardOf,
  CARDS,
  COMPUTED,
  debriefOf,
  emergenciesOf,
  handOverOf,
  isOpen,
  nextSortie,
  planOf,
  reworkOf,
  sortieWith,
} from "./sorties";

interface Part {
  name: string;
  query: { queryKey: QueryKey; queryFn: (context: never) => Promise<unknown> };
}

/** Its parts, by the name a pilot knows them by; what a model has not flown yet needs no debrief. */
export function partsOf(model: ModelDetail): Part[] {
  const open = model.sorties.find(isOpen);
  const landed = model.sorties.filter((s) => s.status === "landed").at(-1);
  const parts: (Part | false | undefined)[] = [
    { name: "emergency cards", query: emergenciesOf(model.id) },
    { name: "plan and gates", query: planOf(model.id) },
    { name: "packs", query: PACKS },
    { name: "sites", query: SITES },
    { name: "next sortie", query: nextSortie(model.id) },
    { name: "cards", query: CARDS },
    { name: "directions", query: directionsOf(model) },
    { name: "direction walk", query: controlsOf(model.id, model.revision) },
    { name: "bench", query: benchOf(model.id) },
    { name: "convergence", query: boardOf(model.id) },
    { name: "shelf", query: SHELF },
    open && { name: "open sortie", query: sortieWith(open.id) },
    landed && { name: "debrief", query: debriefOf(landed.id) },
    landed && { name: "log", query: sortieWith(landed.id) },
    landed && { name: "notes", query: notesOf(model.id) },
    landed && { name: "rework", query: reworkOf(model.id, COMPUTED) },
    landed && { name: "hand-over", query: handOverOf(model.id) },
  ];
  return parts.filter((p): p is Part => Boolean(p));
}

const SETTLED_MS = 2_000;
const FRESH_MS = 60_000;

/** Fetch the kit of a model, one part after the other; what is younger than a minute is not asked for again. */
async function fetchKit(cache: QueryClient, model: ModelDetail, staleTime = FRESH_MS): Promise<void> {
  for (const { query } of partsOf(model)) await cache.prefetchQuery({ ...query, staleTime, retry: false } as never);
}

/** Fetch the kit of the model that is worked on by itself, whenever it has changed and the page has come to rest. */
export function useFieldKit(model: ModelDetail | undefined): void {
  const cache = useQueryClient();
  const state = model ? `${model.id} ${model.revision} ${model.log_order}` : "";
  // biome-ignore lint/correctness/useExhaustiveDependencies: the state stands for the model
  useEffect(() => {
    if (!model) return;
    const timer = setTimeout(() => void fetchKit(cache, model).finally(startWorker), SETTLED_MS);
    return () => clearTimeout(timer);
  }, [cache, state]);
}

export interface Kit {
  /** When its oldest part was said by the program; null while one is missing. */
  asOf: Date | null;
  missing: string[];
  /** The storage of this device keeps nothing: it is full, or the window a private one. */
  refused: boolean;
  busy: boolean;
  /** Fetch all of it anew. */
  fetch: () => void;
}

/** What of a model's kit is on this device. */
export function useKit(model: ModelDetail): Kit {
  const cache = useQueryClient();
  const parts = partsOf(model);
  const [busy, setBusy] = useState(false);
  const { at, refused } = useWritten();
  // What is written counts, not what the page holds: it may be closed in the next moment.
  const times = parts.map((p) => at.get(hashKey(p.query.queryKey)) ?? 0);
  const missing = parts.filter((_, i) => !times[i]).map((p) => p.name);
  const fetch = useCallback(() => {
    setBusy(true);
    // The model too: where it has changed elsewhere, what belongs to its kit is fetched once more.
    void cache
      .refetchQueries({ queryKey: keys.model(model.id), exact: true })
      .then(() => fetchKit(cache, model, 0))
      .finally(() => setBusy(false));
  }, [cache, model]);
  const asOf = missing.length === 0 ? new Date(Math.min(...times)) : null;
  return { asOf, missing, refused, busy, fetch };
}
