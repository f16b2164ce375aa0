/**
 * Logged cards are kept on the device before they are sent, each with its own identity: a reload, a lost connection, a server
 * that is away or in trouble lose nothing, and a retry is never a second record. An entry leaves the device only when the
 * program has said that it has it, or when a person throws it away.
 */
import type { CardRecord, Problem, SortieDetail } from "../api/client";
import { newId } from "../domain/identity";
import { type Arrived, send, sendTogether } from "./kinds";
import {
  type BeginEntry,
  type BeginRequest,
  change,
  ENTRY_VERSION,
  type Entry,
  everything,
  forget,
  keep,
  keepNew,
  type LandEntry,
  type MediaEntry,
  type New,
  type NoteEntry,
  type RecordEntry,
  sortieOf,
  type Target,
} from "./store";

export type { BeginEntry, BeginRequest, Entry, LandEntry, MediaEntry, NoteEntry, RecordEntry, Target } from "./store";
export { sortieOf } from "./store";

/** What became of an entry just now. */
export type Fate = { kind: "sent" } | { kind: "waiting" } | { kind: "refused"; title: string; problem?: Problem };

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
/** A photo over a poor link: given up at this pace it would never arrive, and hold back what waits behind it. */
const SLOWEST_BYTES_PER_MS = 5;
/** So many cards at once: the program answers well within that, and a lost answer repeats no more than these. */
const MOST_TOGETHER = 200;
/** A pilot does not wait longer than this to hear that a card is kept; sending goes on behind it. */
const TELL_WITHIN_MS = 2_500;

let onDevice = NOTHING;
const listeners = new Set<() => void>();
const arrivals = new Set<(entry: Entry, answer: Arrived) => void>();
let sending: Promise<unknown> = Promise.resolve();
let pause = FIRST_WAIT_MS;
let timer: ReturnType<typeof setTimeout> | null = null;

/** Be told whenever something is kept, sent or refused. */
export function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Be told of each entry that has arrived, with the program's answer. */
export function onArrival(listener: (entry: Entry, answer: Arrived) => void): () => void {
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

/** What a record was logged in the knowledge of: the newest entry of the log, and the one it corrects. */
export interface Knowing {
  seen: number | null;
  replaces?: string;
}

/** Keep a record on the device, then try to send it and all that waits before it. */
export async function sendRecord(target: Target, record: CardRecord, knowing: Knowing): Promise<Fate> {
  return (await keepRecord(target, record, knowing)).fate;
}

/** Keep a record on the device: there once this resolves. It is sent then, and what becomes of it is known later. */
export async function keepRecord(
  target: Target,
  record: CardRecord,
  knowing: Knowing,
): Promise<{ fate: Promise<Fate> }> {
  const { seen, replaces = null } = knowing;
  const id = newId();
  await keepNew<RecordEntry>({ ...fresh(id, seen), what: "record", target, record, version: ENTRY_VERSION, replaces });
  await look();
  return { fate: fateOf(id) };
}

/**
 * Begin a sortie: kept on the device, then sent. What the program refuses at once is not begun. Where it does not answer the
 * pilot goes and flies, and from then on nothing refuses it.
 */
export async function beginSortie(modelId: string, sortie: SortieDetail, request: BeginRequest): Promise<Fate> {
  const { id } = sortie;
  const fate = await sendNew<BeginEntry>({
    ...fresh(id, sortie.log_order),
    what: "begin",
    modelId,
    request,
    sortie,
    gone: false,
  });
  if (fate.kind === "refused") await forget(id);
  if (fate.kind === "waiting") {
    await change(id, (e) => ({ ...e, gone: true, refused: null }) as Entry);
    void flush();
  }
  await look();
  return fate;
}

/** A photo or a voice, as a browser makes it. */
export interface Medium {
  kind: "photo" | "voice";
  type: string;
  bytes: ArrayBuffer;
}

/** Note something on a sortie, with what hangs on it: kept on the device first. Returns the note's identity and what became of it. */
export async function noteIt(sortieId: string, note: NoteEntry["note"], ...media: Medium[]): Promise<[string, Fate]> {
  const id = newId();
  await keepNew<NoteEntry>({ ...fresh(id, null), what: "note", sortieId, note });
  for (const m of media)
    await keepNew<MediaEntry>({ ...fresh(newId(), null), what: "media", sortieId, noteId: id, ...m });
  await look();
  return [id, await fateOf(id)];
}

/** Land a sortie, behind everything that was logged of it. */
export async function landSortie(modelId: string, sortieId: string): Promise<Fate> {
  return sendNew<LandEntry>({ ...fresh(newId(), null), what: "land", modelId, sortieId });
}

function fresh(id: string, seen: number | null) {
  return { id, madeAt: new Date().toISOString(), seen, refused: null };
}

async function sendNew<T extends Entry>(entry: New<T>): Promise<Fate> {
  const kept = await keepNew<T>(entry);
  await look();
  return fateOf(kept.id);
}

/** What became of an entry, as far as it is known soon. */
function fateOf(id: string): Promise<Fate> {
  // It is on the device, whatever becomes of the round that sends it.
  const sent = flush().then(
    (fates): Fate => fates.get(id) ?? { kind: "waiting" },
    (): Fate => ({ kind: "waiting" }),
  );
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
  for (let left = (await look()).waiting; left.length > 0; ) {
    const together = ofOneSortie(left);
    left = left.slice(together.length);
    const [entry] = together;
    if (!entry || held(entry)) continue;
    const became = await deliverAll(together, left[0]);
    for (const [id, fate] of became) fates.set(id, fate);
    if ([...became.values()].some((f) => f.kind === "waiting")) break;
    if ((entry.what === "begin" || entry.what === "note") && became.get(entry.id)?.kind === "refused") await look();
  }
  plan((await look()).waiting.some((e) => !held(e)));
  return fates;
}

/** Whether an entry belongs to a sortie or a note that was not accepted: it stays with it. */
export function held(entry: Entry): boolean {
  const refused = (what: Entry["what"], id: string | null) =>
    onDevice.refused.some((r) => r.what === what && r.id === id);
  if (entry.what === "media" && refused("note", entry.noteId)) return true;
  return entry.what !== "begin" && refused("begin", sortieOf(entry));
}

/** Try again after a pause that doubles up to half a minute: a server that comes back says nothing by itself. */
function plan(needed: boolean): void {
  if (timer) clearTimeout(timer);
  timer = needed ? setTimeout(() => void flush(), pause) : null;
  pause = needed ? Math.min(2 * pause, LONGEST_WAIT_MS) : FIRST_WAIT_MS;
}

/** The first entry, with the logged cards of the same sortie that come right behind it. */
function ofOneSortie(waiting: readonly Entry[]): readonly Entry[] {
  const [first] = waiting;
  if (first?.what !== "record" || first.target.kind !== "sortie") return waiting.slice(0, 1);
  const other = waiting.findIndex((e) => e.what !== "record" || sortieOf(e) !== sortieOf(first));
  return waiting.slice(0, Math.min(other < 0 ? waiting.length : other, MOST_TOGETHER));
}

/** Send entries in their order: many cards of a sortie in one go, and one by one where that is not answered in the usual way. */
async function deliverAll(entries: readonly Entry[], next: Entry | undefined): Promise<Map<string, Fate>> {
  const more = next?.what === "record" && entries.every((e) => sortieOf(e) === sortieOf(next));
  const together = entries.length > 1 ? await deliverTogether(entries as readonly RecordEntry[], more) : null;
  if (together) return together;
  const fates = new Map<string, Fate>();
  for (const entry of entries) {
    const fate = await deliver(entry);
    fates.set(entry.id, fate);
    if (fate.kind === "waiting") break;
  }
  return fates;
}

/** Null: an older program that takes them one by one only, or something in one of them for which it reads none. */
async function deliverTogether(entries: readonly RecordEntry[], more: boolean): Promise<Map<string, Fate> | null> {
  const [first] = entries;
  const answer = first ? await patiently((signal) => sendTogether(sortieOf(first) ?? "", entries, more, signal)) : null;
  if (answer === null) return allWait(entries);
  const { data, response } = answer;
  if (data === undefined && tryLater(response.status)) return allWait(entries);
  if (!data?.refused) return null;
  const fates = new Map<string, Fate>();
  for (const entry of entries) {
    const problem = data.refused[entry.id];
    if (problem) fates.set(entry.id, await refuse(entry, problem.status, problem));
    else fates.set(entry.id, { kind: "sent" });
  }
  const taken = entries.filter((e) => !(e.id in data.refused));
  await forget(...taken.map((e) => e.id));
  const { sortie } = data;
  // Each of them changes the same sortie: it is told of once.
  if (sortie) for (const entry of taken.slice(-1)) for (const listener of arrivals) listener(entry, sortie);
  return fates;
}

const allWait = (entries: readonly Entry[]) => new Map<string, Fate>(entries.map((e) => [e.id, { kind: "waiting" }]));

async function refuse(entry: Entry, status: number, problem: Problem | null): Promise<Fate> {
  const title = problem?.title ?? `The program did not accept it (${status}).`;
  await change(entry.id, (e) => ({ ...e, refused: { status, title } }));
  return { kind: "refused", title, ...(problem ? { problem } : {}) };
}

const tryLater = (status: number) => status >= 500 || NOT_NOW.has(status) || status < 400;

async function deliver(entry: Entry): Promise<Fate> {
  const answer = await patiently((signal) => send(entry, signal), entry.what === "media" ? entry.bytes.byteLength : 0);
  if (answer === null) return { kind: "waiting" };
  if (answer.data !== undefined) {
    await forget(entry.id);
    for (const listener of arrivals) listener(entry, answer.data);
    return { kind: "sent" };
  }
  const { status } = answer.response;
  if (tryLater(status)) return { kind: "waiting" };
  const refused = await refuse(entry, status, problemOf(answer.error));
  const kept = entry.what === "begin" && !entry.gone ? await change(entry.id, (e) => e) : null;
  // Refused after the pilot had gone: asked once more as what it is now, a sortie that is being flown.
  if (kept?.what === "begin" && kept.gone) {
    const again = { ...kept, refused: null };
    await keep(again);
    return deliver(again);
  }
  return refused;
}

/** Null: no answer at all, or one that is no answer of the program (a proxy's page with a 2xx). */
async function patiently<T>(ask: (signal: AbortSignal) => Promise<T>, bytes = 0): Promise<T | null> {
  const late = new AbortController();
  const timeout = setTimeout(() => late.abort(), ANSWER_WITHIN_MS + bytes / SLOWEST_BYTES_PER_MS);
  try {
    return await ask(late.signal);
  } catch {
    return null;
  } finally {
    clearTimeout(timeout);
  }
}

function problemOf(error: unknown): Problem | null {
  const problem = error as Partial<Problem> | undefined;
  return typeof problem?.title === "string" ? (problem as Problem) : null;
}

/** Resolves when nothing is being sent. */
export async function settled(): Promise<void> {
  await sending;
}

/** The logged cards of one sortie that are only on this device. */
export function recordsOf(entries: readonly Entry[], sortieId: string): RecordEntry[] {
  return entries.filter((e): e is RecordEntry => e.what === "record" && sortieOf(e) === sortieId);
}

/** Send an entry that was refused once more, mended if a record is given. It gets a new identity then: the content is another. */
export async function sendAgain(entry: Entry, mended: CardRecord | null): Promise<Fate> {
  if (entry.what !== "record" || mended === null) {
    await keep({ ...entry, refused: null });
    return fateOf(entry.id);
  }
  const again: Entry = { ...entry, record: mended, id: newId(), refused: null };
  await keep(again);
  await forget(entry.id);
  return fateOf(again.id);
}

/** What was logged of a sortie that was not accepted goes into another one, in its order; its beginning is forgotten. */
export async function moveInto(begin: BeginEntry, sortieId: string): Promise<void> {
  for (const entry of await everything()) {
    if (entry.what === "record" && sortieOf(entry) === begin.id)
      await keep({ ...entry, target: { kind: "sortie", sortieId }, refused: null });
    if ((entry.what === "land" || entry.what === "note" || entry.what === "media") && entry.sortieId === begin.id)
      await keep({ ...entry, sortieId, refused: null });
  }
  await forget(begin.id);
  await flush();
}

/** Keep and send what another device has handed over, in its order; what is here already is not kept twice. */
export async function takeOver(entries: readonly Entry[]): Promise<{ taken: number; known: number }> {
  const here = new Set((await everything()).map((e) => e.id));
  const fresh = entries.filter((e) => !here.has(e.id));
  // A sortie that was begun over there has been flown: nothing refuses it any more.
  for (const { place: _, ...e } of fresh)
    await keepNew({ ...e, refused: null, ...(e.what === "begin" ? { gone: true } : {}) } as New<Entry>);
  await look();
  void flush();
  return { taken: fresh.length, known: entries.length - fresh.length };
}

/** Throw an entry away, a sortie with all that was logged of it: only ever because a person said so. */
export async function throwAway(id: string): Promise<void> {
  const all = await everything();
  const begins = all.some((e) => e.id === id && e.what === "begin");
  if (begins) for (const entry of all) if (sortieOf(entry) === id) await forget(entry.id);
  for (const entry of all) if (entry.what === "media" && entry.noteId === id) await forget(entry.id);
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
