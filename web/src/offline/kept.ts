/**
 * What the program last said is kept on this device, with the time it was said: places that were prepared open where no program
 * answers. Nothing here is ever sent; what a person enters is in the outbox.
 */
import type { Query } from "@tanstack/react-query";
import type { PersistedClient, Persister } from "@tanstack/react-query-persist-client";
import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import { useSyncExternalStore } from "react";

interface KeptSchema extends DBSchema {
  answers: { key: "all"; value: PersistedClient };
}

let database: Promise<IDBPDatabase<KeptSchema>> | null = null;

function open(): Promise<IDBPDatabase<KeptSchema>> {
  database ??= openDB<KeptSchema>("jinba-kept", 1, {
    upgrade: (db) => void db.createObjectStore("answers"),
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

/** What is on this device: when each answer was given that has been written, and whether the storage has refused to keep any. */
export interface Written {
  at: ReadonlyMap<string, number>;
  refused: boolean;
}

let written: Written = { at: new Map(), refused: false };
const listeners = new Set<() => void>();

function nowWritten(client: PersistedClient | undefined, refused: boolean): void {
  const at = client ? new Map(client.clientState.queries.map((q) => [q.queryHash, q.state.dataUpdatedAt])) : written.at;
  written = { at, refused };
  for (const listener of listeners) listener();
}

export function useWritten(): Written {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => written,
  );
}

const BETWEEN_WRITES_MS = 1_000;
let next: PersistedClient | null = null;
let writing = false;

/** Write the newest, and what has become newest meanwhile: at most once a second. */
async function write(): Promise<void> {
  writing = true;
  while (next) {
    const newest = next;
    next = null;
    await open()
      .then((db) => db.put("answers", newest, "all"))
      .then(() => nowWritten(newest, false))
      .catch(() => nowWritten(undefined, true));
    await new Promise((on) => setTimeout(on, BETWEEN_WRITES_MS));
  }
  writing = false;
}

/**
 * As it was last answered: that the program does not answer now takes nothing away from what it has said. A page that opens asks
 * it anew, however young it is: what is kept may lie behind by a moment.
 */
function answered(client: PersistedClient): PersistedClient {
  const queries = client.clientState.queries.map((q) => ({
    ...q,
    state: {
      ...q.state,
      status: "success" as const,
      error: null,
      fetchFailureCount: 0,
      fetchFailureReason: null,
      isInvalidated: true,
    },
  }));
  return { ...client, clientState: { ...client.clientState, queries } };
}

const keeper: Persister = {
  persistClient: (client) => {
    next = answered(client);
    if (!writing) void write();
  },
  restoreClient: async () => {
    const client = await open()
      .then((db) => db.get("answers", "all"))
      .catch(() => undefined);
    if (client?.buster === __VERSION__) nowWritten(client, false);
    return client;
  },
  removeClient: () =>
    open()
      .then((db) => db.delete("answers", "all"))
      .catch(() => undefined),
};

/** How answers are kept: for as long as this page's version is current, however long the model is away from the program. */
export const KEPT = {
  persister: keeper,
  maxAge: Number.POSITIVE_INFINITY,
  buster: __VERSION__,
  dehydrateOptions: {
    shouldDehydrateQuery: (query: Query) => query.state.data !== undefined && worthKeeping(query.queryKey),
    shouldDehydrateMutation: () => false,
  },
};

/** What a person only tried out is not worth keeping; a sound has an address of this page alone. */
const TRIED_OUT = new Set(["ways", "cost", "pictures", "voice"]);

/** Whether an answer, by its key, is kept: the program's own, with no choices made. */
export function worthKeeping(key: readonly unknown[]): boolean {
  return key[0] === "directions" || key.every((part) => !TRIED_OUT.has(String(part)) && usual(part));
}

function usual(part: unknown): boolean {
  if (typeof part !== "object" || part === null) return true;
  return Object.values(part).every((v) => v === null || v === true || (Array.isArray(v) && v.length === 0));
}
