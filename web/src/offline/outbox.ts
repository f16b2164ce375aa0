/**
 * Logged cards wait here until the program has them: each is stored on the device with its own identity before it is
 * sent, so that a reload or a lost connection in mid-sortie loses nothing and a retry is never a second record.
 */
import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import { type CardRecord, client, ProblemError, unwrap } from "../api/client";
import { newId } from "../domain/identity";

interface Waiting {
  id: string;
  sortieId: string;
  record: CardRecord;
}

interface OutboxSchema extends DBSchema {
  waiting: { key: string; value: Waiting };
}

let database: Promise<IDBPDatabase<OutboxSchema>> | null = null;

function open(): Promise<IDBPDatabase<OutboxSchema>> {
  database ??= openDB<OutboxSchema>("jinba-outbox", 1, {
    upgrade: (db) => {
      db.createObjectStore("waiting", { keyPath: "id" });
    },
  });
  return database;
}

/** Send a record, or leave it waiting when there is no connection. Resolves to whether the program has it. */
export async function sendRecord(sortieId: string, record: CardRecord): Promise<"sent" | "waiting"> {
  const item: Waiting = { id: newId(), sortieId, record };
  await (await open()).put("waiting", item);
  return deliver(item);
}

async function deliver(item: Waiting): Promise<"sent" | "waiting"> {
  try {
    await unwrap(
      client.POST("/api/v1/sorties/{sortie_id}/records", {
        params: { path: { sortie_id: item.sortieId } },
        body: { id: item.id, record: item.record },
      }),
    );
  } catch (error) {
    if (error instanceof ProblemError && error.problem.code === "offline") return "waiting";
    // Refused for good: the caller shows why and keeps the entry on the screen.
    await (await open()).delete("waiting", item.id);
    throw error;
  }
  await (await open()).delete("waiting", item.id);
  return "sent";
}

/** Records still waiting, oldest first, of one sortie or of all. */
export async function waitingRecords(sortieId?: string): Promise<Waiting[]> {
  const all = await (await open()).getAll("waiting");
  return all.filter((w) => sortieId === undefined || w.sortieId === sortieId).sort((a, b) => a.id.localeCompare(b.id));
}

/** Try to send everything that waits, in order; stops at the first that still cannot go. */
export async function flushOutbox(): Promise<number> {
  let sent = 0;
  for (const item of await waitingRecords()) {
    try {
      if ((await deliver(item)) === "waiting") break;
      sent += 1;
    } catch {
      // Refused by the program (for instance the sortie was deleted): it has been dropped from the outbox.
    }
  }
  return sent;
}
