import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import type { CardRecord } from "../api/client";

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
  target: Target;
  record: CardRecord;
  /** Version of what is sent; an entry of an older page keeps its own and the program brings it up. */
  version: number;
  /** The entry of the log that this one corrects. */
  replaces: string | null;
  /** When it was made, by this device's clock. Null: an older page did not say. */
  madeAt: string | null;
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
      for (const entry of await store.getAll()) await store.put(fromOld(entry as unknown as OldEntry));
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

function fromOld(old: OldEntry): Entry {
  return {
    id: old.id,
    target: { kind: "sortie", sortieId: old.sortieId },
    record: old.record,
    version: 1,
    replaces: null,
    madeAt: null,
    seen: null,
    refused: null,
  };
}

/** Keep an entry on the device; it stays through reload and a closed browser. */
export async function keep(entry: Entry): Promise<void> {
  await (await open()).put("waiting", entry);
}

/** Forget an entry: the program has it, or a person threw it away. */
export async function forget(id: string): Promise<void> {
  await (await open()).delete("waiting", id);
}

/** Everything on the device, oldest first: ids begin with their time. */
export async function everything(): Promise<Entry[]> {
  return (await (await open()).getAll("waiting")).sort((a, b) => a.id.localeCompare(b.id));
}
