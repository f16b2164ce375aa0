import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import type { CardRecord } from "../api/client";
import { madeAt } from "../domain/identity";

/** Where an entry goes: to a sortie, or to the bench and ground cards of a model. */
export type Target = { kind: "sortie"; sortieId: string } | { kind: "ground"; modelId: string };

/** Why the program did not accept an entry, to be shown until it is mended or thrown away. */
export interface Refusal {
  status: number;
  title: string;
}

/** An entry that is on this device and not yet known to be in the program. */
export interface Entry {
  id: string;
  /** Its place on this device: counted, not timed, so that a clock set back does not turn the order round. */
  place: number;
  target: Target;
  record: CardRecord;
  /** Version of what is sent; an entry of an older page keeps its own and the program brings it up. */
  version: number;
  /** The entry of the log that this one corrects. */
  replaces: string | null;
  /** When it was made, by this device's clock. */
  madeAt: string;
  /** The newest entry of the log this device knew of. */
  seen: number | null;
  refused: Refusal | null;
}

export const ENTRY_VERSION = 2;

/** What pages up to 0.1.3 kept. */
interface OldEntry {
  id: string;
  sortieId: string;
  record: CardRecord;
}

interface OutboxSchema extends DBSchema {
  waiting: { key: string; value: Entry };
}

let database: Promise<IDBPDatabase<OutboxSchema>> | null = null;

function open(): Promise<IDBPDatabase<OutboxSchema>> {
  database ??= openDB<OutboxSchema>("jinba-outbox", 2, {
    upgrade: async (db, oldVersion, _new, transaction) => {
      if (oldVersion < 1) {
        db.createObjectStore("waiting", { keyPath: "id" });
        return;
      }
      const store = transaction.objectStore("waiting");
      const old = (await store.getAll()) as unknown as OldEntry[];
      old.sort((a, b) => a.id.localeCompare(b.id));
      for (const [place, entry] of old.entries()) await store.put(fromOld(entry, place));
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

function fromOld(old: OldEntry, place: number): Entry {
  return {
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

/** Keep a new entry on the device, behind all others; it stays through reload and a closed browser. */
export async function keepNew(entry: Omit<Entry, "place">): Promise<Entry> {
  const transaction = (await open()).transaction("waiting", "readwrite");
  const places = (await transaction.store.getAll()).map((e) => e.place);
  const kept = { ...entry, place: Math.max(-1, ...places) + 1 };
  await transaction.store.put(kept);
  await transaction.done;
  return kept;
}

/** Keep what became of an entry, in its place. */
export async function keep(entry: Entry): Promise<void> {
  await (await open()).put("waiting", entry);
}

/** Forget an entry: the program has it, or a person threw it away. */
export async function forget(id: string): Promise<void> {
  await (await open()).delete("waiting", id);
}

/** Everything on the device, in the order in which it was made. */
export async function everything(): Promise<Entry[]> {
  return (await (await open()).getAll("waiting")).sort((a, b) => a.place - b.place);
}
