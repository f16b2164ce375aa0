import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import type { CardRecord, SortieDetail } from "../api/client";
import { madeAt } from "../domain/identity";

/** Where an entry goes: to a sortie, or to the bench and ground cards of a model. */
export type Target = { kind: "sortie"; sortieId: string } | { kind: "ground"; modelId: string };

/** Why the program did not accept an entry, to be shown until it is mended or thrown away. */
export interface Refusal {
  status: number;
  title: string;
}

/** What every entry that is on this device, and not yet known to be in the program, has. */
interface OnThisDevice {
  id: string;
  /** Its place on this device: counted, not timed, so that a clock set back does not turn the order round. */
  place: number;
  /** When it was made, by this device's clock. */
  madeAt: string;
  /** The newest entry of the log this device knew of. */
  seen: number | null;
  refused: Refusal | null;
  /** The device that made it, where that is another one: it was handed over by file. */
  by?: { id: string; name: string };
}

/** A logged card. */
export interface RecordEntry extends OnThisDevice {
  what: "record";
  target: Target;
  record: CardRecord;
  /** Version of what is sent; an entry of an older page keeps its own and the program brings it up. */
  version: number;
  /** The entry of the log that this one corrects. */
  replaces: string | null;
}

/** A sortie that begins; its identity is the sortie's. */
export interface BeginEntry extends OnThisDevice {
  what: "begin";
  modelId: string;
  request: BeginRequest;
  /** The sortie as this device flies it. */
  sortie: SortieDetail;
  /** Whether the pilot has gone to fly it without an answer: from then on nothing refuses it. */
  gone: boolean;
}

/** A sortie that has landed. */
export interface LandEntry extends OnThisDevice {
  what: "land";
  modelId: string;
  sortieId: string;
}

/** Something noticed on a sortie; its identity is the note's. */
export interface NoteEntry extends OnThisDevice {
  what: "note";
  sortieId: string;
  note: { what: string; words: string; card_id: string };
}

/** The photo or the voice of a note, sent behind it. */
export interface MediaEntry extends OnThisDevice {
  what: "media";
  sortieId: string;
  noteId: string;
  kind: "photo" | "voice";
  type: string;
  bytes: ArrayBuffer;
}

/** What a sortie begins with. */
export interface BeginRequest {
  card_ids: string[];
  alone: boolean;
  reasons: Record<string, string>;
  /** It has been flown already, and why without a plan. */
  flown: string;
}

export type Entry = RecordEntry | BeginEntry | LandEntry | NoteEntry | MediaEntry;

export const ENTRY_VERSION = 2;

/** Without its place, which it is given when it is kept. */
export type New<T> = T extends unknown ? Omit<T, "place"> : never;

/** The sortie an entry belongs to; null for what was looked at on the bench or the ground. */
export function sortieOf(entry: Entry): string | null {
  if (entry.what === "begin") return entry.id;
  if (entry.what !== "record") return entry.sortieId;
  return entry.target.kind === "sortie" ? entry.target.sortieId : null;
}

/** What pages up to 0.1.3 kept. */
interface OldEntry {
  id: string;
  sortieId: string;
  record: CardRecord;
}

/** What pages up to 0.12.0 kept: logged cards, without a word for what they are. */
type Unnamed = Omit<RecordEntry, "what">;

interface OutboxSchema extends DBSchema {
  waiting: { key: string; value: Entry };
}

let database: Promise<IDBPDatabase<OutboxSchema>> | null = null;

function open(): Promise<IDBPDatabase<OutboxSchema>> {
  database ??= openDB<OutboxSchema>("jinba-outbox", 3, {
    upgrade: async (db, oldVersion, _new, transaction) => {
      if (oldVersion < 1) {
        db.createObjectStore("waiting", { keyPath: "id" });
        return;
      }
      const store = transaction.objectStore("waiting");
      if (oldVersion < 2) {
        const old = (await store.getAll()) as unknown as OldEntry[];
        old.sort((a, b) => a.id.localeCompare(b.id));
        for (const [place, entry] of old.entries()) await store.put(fromOld(entry, place));
        return;
      }
      for (const entry of (await store.getAll()) as Unnamed[]) await store.put({ ...entry, what: "record" });
    },
    // Another tab with a newer page must not wait for this one: it lets go, and opens anew when it is needed.
    blocking: (_current, _blocked, event) => {
      (event.target as IDBDatabase).close();
      database = null;
    },
    terminated: () => {
      database = null;
    },
  });
  return database;
}

function fromOld(old: OldEntry, place: number): RecordEntry {
  return {
    what: "record",
    id: old.id,
    place,
    target: { kind: "sortie", sortieId: old.sortieId },
    record: old.record,
    version: 1,
    replaces: null,
    // Its identity says when it was made; of what was logged elsewhere that page knew nothing.
    madeAt: new Date(madeAt(old.id)).toISOString(),
    seen: 0,
    refused: null,
  };
}

/** The place of each entry this page has read or kept: it never changes, so that nothing has to be read to find the last. */
const places = new Map<string, number>();

function behind(ids: Iterable<string>): number {
  let last = -1;
  for (const id of ids) last = Math.max(last, places.get(id) ?? -1);
  return last + 1;
}

/**
 * Keep a new entry on the device, behind all others; it stays through reload and a closed browser. It is written first, in the
 * place behind all this page knows of, and moved back in the same transaction where another page has kept something meanwhile:
 * a tap waits for one way to the disk, not for all that lies there.
 */
export async function keepNew<T extends Entry>(entry: New<T>): Promise<T> {
  const transaction = (await open()).transaction("waiting", "readwrite");
  let kept = { ...entry, place: behind(places.keys()) } as unknown as T;
  const [, there] = await Promise.all([transaction.store.put(kept), transaction.store.getAllKeys()]);
  const unknown = there.filter((id) => id !== kept.id && !places.has(id));
  if (unknown.length > 0) {
    for (const other of await Promise.all(unknown.map((id) => transaction.store.get(id))))
      if (other) places.set(other.id, other.place);
    kept = { ...kept, place: behind(places.keys()) };
    await transaction.store.put(kept);
  }
  await transaction.done;
  places.set(kept.id, kept.place);
  return kept;
}

/** Keep an entry, in its place. */
export async function keep(entry: Entry): Promise<void> {
  await (await open()).put("waiting", entry);
}

/** Keep what has become of an entry that is still on the device; one that has arrived meanwhile stays gone. */
export async function change(id: string, to: (entry: Entry) => Entry): Promise<Entry | null> {
  const transaction = (await open()).transaction("waiting", "readwrite");
  const kept = await transaction.store.get(id);
  const changed = kept ? to(kept) : null;
  if (changed) await transaction.store.put(changed);
  await transaction.done;
  return changed;
}

/** Forget entries: the program has them, or a person threw them away. */
export async function forget(...ids: readonly string[]): Promise<void> {
  const transaction = (await open()).transaction("waiting", "readwrite");
  for (const id of ids) void transaction.store.delete(id);
  await transaction.done;
}

/** Everything on the device, in the order in which it was made. */
export async function everything(): Promise<Entry[]> {
  const all = await (await open()).getAll("waiting");
  for (const entry of all) places.set(entry.id, entry.place);
  return all.sort((a, b) => a.place - b.place);
}
