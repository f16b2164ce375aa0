/**
 * What is only on this device, as a file: for where no program is within reach at all. Another device takes it in and sends it.
 * An entry keeps its identity, so that it is one entry however often and from wherever it arrives; here it stays until the
 * program itself has said that it has it.
 */
import { thisDevice } from "./device";
import { takeOver } from "./outbox";
import { type Entry, everything } from "./store";

const FORMAT = "jinba-log";
/** 2: with what was noticed, which a program before 0.16.0 does not know. */
const VERSION = 2;
const LARGEST_BYTES = 20_000_000;

interface Log {
  format: typeof FORMAT;
  version: number;
  program: string;
  handedOverAt: string;
  entries: Entry[];
}

/** What became of a file that was taken in. */
export interface TakenIn {
  taken: number;
  /** On this device already, from the same file or from this device itself. */
  known: number;
}

/** A file that is none of these; its words say what to do. */
export class NoLogError extends Error {}

/** Everything that is only on this device, in its order, as a file. */
export async function logFile(): Promise<File> {
  const log: Log = {
    format: FORMAT,
    version: VERSION,
    program: __VERSION__,
    handedOverAt: new Date().toISOString(),
    entries: (await everything()).map((e) => asText({ ...e, by: e.by ?? thisDevice() })),
  };
  const day = log.handedOverAt.slice(0, 16).replace(":", "");
  return new File([JSON.stringify(log, null, 1)], `jinba-log-${day}.json`, { type: "application/json" });
}

/** Take a file of another device in, and send what it holds. */
export async function takeIn(file: File): Promise<TakenIn> {
  if (file.size > LARGEST_BYTES) throw new NoLogError("This file is far too large for a log. Nothing was taken in.");
  const log = read(await file.text());
  return takeOver(log.entries.map(asBytes));
}

/** A photo's and a voice's bytes are letters in a file, as base 64. */
function asText(entry: Entry): Entry {
  if (entry.what !== "media") return entry;
  const letters = Array.from(new Uint8Array(entry.bytes), (b) => String.fromCharCode(b)).join("");
  return { ...entry, bytes: btoa(letters) as unknown as ArrayBuffer };
}

function asBytes(entry: Entry): Entry {
  if (entry.what !== "media") return entry;
  const letters = atob(entry.bytes as unknown as string);
  return { ...entry, bytes: Uint8Array.from(letters, (c) => c.charCodeAt(0)).buffer };
}

function read(text: string): Log {
  const none = new NoLogError(
    "This is not a log handed over by this program, or it is damaged. Nothing was taken in; hand it over once more.",
  );
  let log: Partial<Log>;
  try {
    log = JSON.parse(text) as Partial<Log>;
  } catch {
    throw none;
  }
  if (log?.format !== FORMAT || !Array.isArray(log.entries)) throw none;
  if (typeof log.version !== "number" || log.version > VERSION)
    throw new NoLogError(`This log is of a newer program (${String(log.program)}). Take it in there.`);
  if (!log.entries.every(isEntry)) throw none;
  return log as Log;
}

const IDENTITY = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i;

const isBase64 = (text: string) => text.length % 4 === 0 && /^[A-Za-z0-9+/]+={0,2}$/.test(text);

/** Whether something has what every entry has; what it says is judged by the program. */
function isEntry(value: unknown): value is Entry {
  const e = value as Partial<Entry> | null;
  if (typeof e !== "object" || e === null) return false;
  const whole = IDENTITY.test(String(e.id)) && typeof e.madeAt === "string" && typeof e.by?.id === "string";
  if (!whole) return false;
  if (e.what === "record") return typeof e.record?.card_id === "string" && typeof e.target?.kind === "string";
  if (e.what === "begin")
    return typeof e.modelId === "string" && Array.isArray(e.request?.card_ids) && Boolean(e.sortie);
  if (e.what === "note") return typeof e.sortieId === "string" && typeof e.note?.words === "string";
  if (e.what === "media") return IDENTITY.test(String(e.noteId)) && isBase64(String(e.bytes));
  return e.what === "land" && typeof e.sortieId === "string" && typeof e.modelId === "string";
}
