/**
 * Logged cards are kept on the device before they are sent, each with its own identity: a reload, a lost connection, a server
 * that is away or in trouble lose nothing, and a retry is never a second record. An entry leaves the device only when the
 * program has said that it has it, or when a person throws it away.
 */
import { type CardRecord, client, type ModelDetail, type Problem, type SortieDetail } from "../api/client";
import { newId } from "../domain/identity";
import { thisDevice } from "./device";
import { ENTRY_VERSION, type Entry, everything, forget, keep, keepNew, type Target } from "./store";

export type { Entry, Target } from "./store";

/** What became of an entry just now. */
export type Fate =
  | { kind: "sent"; answer: ModelDetail | SortieDetail }
  | { kind: "waiting" }
  | { kind: "refused"; title: string };

/** What is only on this device: entries that wait, and entries the program did not accept. */
export interface OnDevice {
  waiting: readonly Entry[];
  refused: readonly Entry[];
}

const NOTHING: OnDevice = { waiting: [], refused: [] };
/** Answers that say "not now": the entry waits and is sent again. */
const NOT_NOW = new Set([401, 408, 425, 429]);
const FIRST_WAIT_MS = 1_000;
const LONGEST_WAIT_MS = 30_000;
/** A program that has not answered by then is away. */
const ANSWER_WITHIN_MS = 20_000;
/** A pilot does not wait longer than this to hear that a card is kept; sending goes on behind it. */
const TELL_WITHIN_MS = 2_500;

let onDevice = NOTHING;
const listeners = new Set<() => void>();
const arrivals = new Set<(entry: Entry, answer: ModelDetail | SortieDetail) => void>();
let sending: Promise<unknown> = Promise.resolve();
let pause = FIRST_WAIT_MS;
let timer: ReturnType<typeof setTimeout> | null = null;

/** Be told whenever something is kept, sent or refused. */
export function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Be told of each entry that has arrived, with the program's answer. */
export function onArrival(listener: (entry: Entry, answer: ModelDetail | SortieDetail) => void): () => void {
  arrivals.add(listener);
  return () => arrivals.delete(listener);
}

/** What is only on this device, as last looked at. */
export function snapshot(): OnDevice {
  return onDevice;
}

async function look(): Promise<OnDevice> {
  const all = await everything();
  onDevice = { waiting: all.filter((e) => e.refused === null), refused: all.filter((e) => e.refused !== null) };
  for (const listener of listeners) listener();
  return onDevice;
}

/** Keep a record on the device, then try to send it and all that waits before it. */
export async function sendRecord(
  target: Target,
  record: CardRecord,
  knowing: { seen: number | null; replaces?: string },
): Promise<Fate> {
  const entry = await keepNew({
    id: newId(),
    target,
    record,
    version: ENTRY_VERSION,
    replaces: knowing.replaces ?? null,
    madeAt: new Date().toISOString(),
    seen: knowing.seen,
    refused: null,
  });
  await look();
  return fateOf(entry.id);
}

/** What became of an entry, as far as it is known soon. */
function fateOf(id: string): Promise<Fate> {
  const sent = flush().then((fates): Fate => fates.get(id) ?? { kind: "waiting" });
  const soon = new Promise<Fate>((tell) => setTimeout(() => tell({ kind: "waiting" }), TELL_WITHIN_MS));
  return Promise.race([sent, soon]);
}

/** Send everything that waits, in order; one round at a time. Stops at the first that the program cannot take now. */
export function flushOutbox(): Promise<number> {
  return flush().then((fates) => [...fates.values()].filter((f) => f.kind === "sent").length);
}

function flush(): Promise<Map<string, Fate>> {
  const round = sending.then(sendInOrder, sendInOrder);
  sending = round;
  return round;
}

async function sendInOrder(): Promise<Map<string, Fate>> {
  const fates = new Map<string, Fate>();
  for (const entry of (await look()).waiting) {
    const fate = await deliver(entry);
    fates.set(entry.id, fate);
    if (fate.kind === "waiting") break;
  }
  plan((await look()).waiting.length > 0);
  return fates;
}

/** Try again after a pause that doubles up to half a minute: a server that comes back says nothing by itself. */
function plan(needed: boolean): void {
  if (timer) clearTimeout(timer);
  timer = needed ? setTimeout(() => void flush(), pause) : null;
  pause = needed ? Math.min(2 * pause, LONGEST_WAIT_MS) : FIRST_WAIT_MS;
}

async function deliver(entry: Entry): Promise<Fate> {
  const answer = await post(entry);
  if (answer === null) return { kind: "waiting" };
  if (answer.data !== undefined) {
    await forget(entry.id);
    for (const listener of arrivals) listener(entry, answer.data);
    return { kind: "sent", answer: answer.data };
  }
  const { status } = answer.response;
  if (status >= 500 || NOT_NOW.has(status) || status < 400) return { kind: "waiting" };
  const title = words(answer.error) ?? `The program did not accept it (${status}).`;
  await keep({ ...entry, refused: { status, title } });
  return { kind: "refused", title };
}

interface Answer {
  data?: ModelDetail | SortieDetail;
  error?: unknown;
  response: Response;
}

/** Null: no answer at all, or one that is no answer of the program (a proxy's page with a 2xx). */
async function post(entry: Entry): Promise<Answer | null> {
  const { target } = entry;
  const body = bodyOf(entry);
  const late = new AbortController();
  const timeout = setTimeout(() => late.abort(), ANSWER_WITHIN_MS);
  const { signal } = late;
  try {
    return target.kind === "sortie"
      ? await client.POST("/api/v1/sorties/{sortie_id}/records", {
          params: { path: { sortie_id: target.sortieId } },
          body,
          signal,
        })
      : await client.POST("/api/v1/models/{model_id}/ground-cards", {
          params: { path: { model_id: target.modelId } },
          body,
          signal,
        });
  } catch {
    return null;
  } finally {
    clearTimeout(timeout);
  }
}

function bodyOf(entry: Entry) {
  const { id, record, version, replaces } = entry;
  const device = thisDevice();
  const written = {
    device: device.id,
    device_name: device.name,
    by: "",
    made_at: entry.madeAt,
    sent_at: new Date().toISOString(),
    seen: entry.seen,
  };
  return { id, record, version, written, replaces };
}

function words(error: unknown): string | null {
  const problem = error as Partial<Problem> | undefined;
  return typeof problem?.title === "string" ? problem.title : null;
}

/** Resolves when nothing is being sent. */
export async function settled(): Promise<void> {
  await sending;
}

/** Entries of one sortie that are only on this device. */
export function ofSortie(entries: readonly Entry[], sortieId: string): Entry[] {
  return entries.filter((e) => e.target.kind === "sortie" && e.target.sortieId === sortieId);
}

/** Send an entry that was refused once more, mended if a record is given. It gets a new identity: the content is another. */
export async function sendAgain(entry: Entry, mended: CardRecord | null): Promise<Fate> {
  const again: Entry = { ...entry, record: mended ?? entry.record, id: mended ? newId() : entry.id, refused: null };
  await keep(again);
  if (again.id !== entry.id) await forget(entry.id);
  return fateOf(again.id);
}

/** Throw an entry away: only ever because a person said so. */
export async function throwAway(id: string): Promise<void> {
  await forget(id);
  await look();
}

/** Start: look what is on the device, send it, and again when the network or the page comes back. */
export function startOutbox(): void {
  const soon = () => {
    pause = FIRST_WAIT_MS;
    void flush();
  };
  window.addEventListener("online", soon);
  document.addEventListener("visibilitychange", () => document.visibilityState === "visible" && soon());
  soon();
}
