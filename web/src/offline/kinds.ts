/** How each kind of entry is sent to the program. */
import { client, type ModelDetail, type Schemas, type SortieDetail } from "../api/client";
import { thisDevice } from "./device";
import type { BeginEntry, Entry, LandEntry, MediaEntry, RecordEntry } from "./store";

/** What the program says of an entry it has taken. */
export type Arrived = ModelDetail | SortieDetail;

export interface Answer {
  data?: Arrived;
  error?: unknown;
  response: Response;
}

/** Send an entry; throws where nothing answers. */
export function send(entry: Entry, signal: AbortSignal): Promise<Answer> {
  switch (entry.what) {
    case "begin":
      return sendBegin(entry, signal);
    case "land":
      return sendLand(entry, signal);
    case "record":
      return sendRecord(entry, signal);
    case "note":
      return client.POST("/api/v1/sorties/{sortie_id}/notes", {
        params: { path: { sortie_id: entry.sortieId } },
        body: { id: entry.id, ...entry.note, written: written(entry) },
        signal,
      });
    case "media":
      return sendMedia(entry, signal);
  }
}

function sendMedia(entry: MediaEntry, signal: AbortSignal): Promise<Answer> {
  const how = {
    params: { path: { sortie_id: entry.sortieId }, query: { note_id: entry.noteId } },
    body: entry.bytes as unknown as string,
    bodySerializer: (b: string) => b,
    headers: { "Content-Type": entry.type },
    signal,
  };
  return entry.kind === "photo"
    ? client.PUT("/api/v1/sorties/{sortie_id}/notes/photo", how)
    : client.PUT("/api/v1/sorties/{sortie_id}/notes/voice", how);
}

function sendBegin(entry: BeginEntry, signal: AbortSignal): Promise<Answer> {
  return client.POST("/api/v1/models/{model_id}/sorties", {
    params: { path: { model_id: entry.modelId } },
    // Until the pilot has gone to fly it, the program may refuse it.
    body: { id: entry.id, ...entry.request, away: entry.gone ? written(entry) : null },
    signal,
  });
}

function sendLand(entry: LandEntry, signal: AbortSignal): Promise<Answer> {
  return client.POST("/api/v1/sorties/{sortie_id}/land", {
    params: { path: { sortie_id: entry.sortieId } },
    signal,
  });
}

/** Send logged cards of one sortie together; the program takes or refuses each by itself. */
export function sendTogether(sortieId: string, entries: readonly RecordEntry[], more: boolean, signal: AbortSignal) {
  return client.POST("/api/v1/sorties/{sortie_id}/log", {
    params: { path: { sortie_id: sortieId } },
    body: { entries: entries.map(bodyOf), more },
    signal,
  });
}

function bodyOf(entry: RecordEntry): Schemas["LogRecord"] {
  const { id, record, version, replaces } = entry;
  return { id, record, version, written: written(entry), replaces };
}

function sendRecord(entry: RecordEntry, signal: AbortSignal): Promise<Answer> {
  const { target } = entry;
  const body = bodyOf(entry);
  return target.kind === "sortie"
    ? client.POST("/api/v1/sorties/{sortie_id}/records", {
        params: { path: { sortie_id: target.sortieId } },
        body,
        signal,
      })
    : client.POST("/api/v1/models/{model_id}/ground-cards", {
        params: { path: { model_id: target.modelId } },
        body,
        signal,
      });
}

function written(entry: Entry): Schemas["WrittenBy"] {
  const device = entry.by ?? thisDevice();
  return {
    device: device.id,
    device_name: device.name,
    by: "",
    made_at: entry.madeAt,
    sent_at: new Date().toISOString(),
    seen: entry.seen,
  };
}
