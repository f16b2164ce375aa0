import "fake-indexeddb/auto";
import { IDBFactory } from "fake-indexeddb";
import { openDB } from "idb";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { CardRecord, SortieDetail } from "../api/client";
import { aRecord } from "../api/records";
import { newId } from "../domain/identity";
import type { Entry } from "./store";

const record = (card_id: string, note = ""): CardRecord => aRecord({ card_id, outcome: "done", note });
const SORTIE = { kind: "sortie", sortieId: "s1" } as const;
const KNOWING = { seen: 7 };

interface Sent {
  id: string;
  version: number;
  record: CardRecord;
  written: { device: string; made_at: string; seen: number } | null;
  away?: { made_at: string; seen: number } | null;
}

const REQUEST = { card_ids: ["F1", "F29"], alone: false, reasons: {}, flown: "" };
const SORTIE_1 = { id: "s1", number: 1, log_order: 7 } as unknown as SortieDetail;
const paths = () => sent.map((s) => s.path.split("/v1/")[1]);

/** What the server says next, in order; then "kept". A number is a refusal with a problem. */
let answers: (number | "kept" | "silent" | "a proxy's page" | "never")[];
let sent: (Sent & { path: string })[];
/** Cards that a program which takes many together refuses; null: it takes them one by one only, as those before 0.16.0. */
let refusedTogether: Record<string, number> | null;
let together: string[][];

function takenTogether(
  { entries, more }: { entries: Sent[]; more: boolean },
  refusing: Record<string, number>,
): Response {
  together.push(entries.map((e) => e.record.card_id));
  const refused = entries.flatMap((e) => {
    const status = refusing[e.record.card_id];
    return status ? [[e.id, { title: `No, ${status}.`, status }] as const] : [];
  });
  return Response.json({ sortie: more ? null : { id: "s1" }, refused: Object.fromEntries(refused) });
}

async function server(request: Request): Promise<Response> {
  const json = request.headers.get("Content-Type") !== "image/jpeg";
  const body = (json ? JSON.parse((await request.text()) || "{}") : {}) as Sent;
  if (request.url.endsWith("/log") && refusedTogether === null) return new Response("", { status: 404 });
  if (request.url.endsWith("/log") && answers.length === 0)
    return takenTogether(body as unknown as { entries: Sent[]; more: boolean }, refusedTogether ?? {});
  sent.push({ ...body, path: new URL(request.url).pathname });
  const answer = answers.shift() ?? "kept";
  if (answer === "never")
    return new Promise((_, fail) => request.signal.addEventListener("abort", () => fail(new DOMException("late"))));
  if (answer === "silent") throw new TypeError("Failed to fetch");
  if (answer === "a proxy's page") return new Response("<html>busy</html>", { status: 200 });
  if (answer === "kept") return Response.json({ id: "s1" }, { status: 200 });
  const problem = { type: "x", title: `No, ${answer}.`, status: answer, code: "c", violations: [] };
  return Response.json(problem, { status: answer, headers: { "Content-Type": "application/problem+json" } });
}

/** The outbox of a page that was just opened on this device, with the server answering as listed. */
async function page(...given: typeof answers) {
  answers = given;
  vi.resetModules();
  return import("./outbox");
}

const cards = (entries: readonly Entry[]) => entries.map((e) => (e.what === "record" ? e.record.card_id : e.what));

beforeEach(() => {
  vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout"] });
  globalThis.indexedDB = new IDBFactory();
  sent = [];
  together = [];
  refusedTogether = null;
  vi.stubGlobal("matchMedia", () => ({ matches: true }));
  vi.stubGlobal("window", { addEventListener: vi.fn() });
  vi.stubGlobal("document", { addEventListener: vi.fn(), visibilityState: "visible" });
  const kept = new Map<string, string>();
  vi.stubGlobal("localStorage", {
    getItem: (k: string) => kept.get(k) ?? null,
    setItem: (k: string, v: string) => kept.set(k, v),
  });
  const base = "http://127.0.0.1";
  vi.stubGlobal(
    "Request",
    class extends Request {
      constructor(input: RequestInfo | URL, init?: RequestInit) {
        super(typeof input === "string" && input.startsWith("/") ? base + input : input, init);
      }
    },
  );
  vi.stubGlobal("fetch", (r: Request) => server(r));
});

afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe("the outbox", () => {
  it("sends at once and keeps nothing back when the program has it", async () => {
    const box = await page("kept");
    const arrived = vi.fn();
    box.onArrival(arrived);
    expect((await box.sendRecord(SORTIE, record("F1"), KNOWING)).kind).toBe("sent");
    expect(box.snapshot()).toEqual({ waiting: [], refused: [] });
    expect(arrived).toHaveBeenCalledOnce();
    expect(sent[0]).toMatchObject({ version: 2, written: { seen: 7 }, path: "/api/v1/sorties/s1/records" });
  });

  it("sends a bench card to its model", async () => {
    const box = await page();
    await box.sendRecord({ kind: "ground", modelId: "m1" }, record("B4"), KNOWING);
    expect(sent[0]?.path).toBe("/api/v1/models/m1/ground-cards");
  });

  it.each(["silent", "a proxy's page", 500, 502, 503, 401, 408, 425, 429] as const)(
    "keeps an entry that got %s, in order, and delivers it later under the same identity",
    async (answer) => {
      const box = await page(answer, answer);
      expect((await box.sendRecord(SORTIE, record("F1"), KNOWING)).kind).toBe("waiting");
      expect((await box.sendRecord(SORTIE, record("F2"), KNOWING)).kind).toBe("waiting");
      expect(cards(box.snapshot().waiting)).toEqual(["F1", "F2"]);
      expect(sent.map((s) => s.record.card_id)).toEqual(["F1", "F1"]);
      const first = sent[0]?.id;
      expect(await box.flushOutbox()).toBe(2);
      expect(sent.slice(2).map((s) => s.record.card_id)).toEqual(["F1", "F2"]);
      expect(sent[2]?.id).toBe(first);
      expect(box.snapshot().waiting).toEqual([]);
    },
  );

  it("tries again by itself, at growing distances, until the server is back", async () => {
    const box = await page("silent", 503, "silent", "kept");
    await box.sendRecord(SORTIE, record("F1"), KNOWING);
    const sentAfter = async (ms: number) => {
      await vi.advanceTimersByTimeAsync(ms);
      await vi.waitFor(() => expect(box.snapshot()).toBeDefined());
      await box.settled();
      return sent.length;
    };
    expect(await sentAfter(900)).toBe(1);
    expect(await sentAfter(200)).toBe(2);
    expect(await sentAfter(1_500)).toBe(2);
    expect(await sentAfter(600)).toBe(3);
    expect(await sentAfter(4_100)).toBe(4);
    expect(box.snapshot().waiting).toEqual([]);
  });

  it.each([400, 403, 404, 409, 412, 422])(
    "shows an entry refused with %s with its reason, and goes on with the next",
    async (status) => {
      const box = await page(status, "kept");
      const fate = await box.sendRecord(SORTIE, record("F1", "over the hedge"), KNOWING);
      expect(fate).toMatchObject({ kind: "refused", title: `No, ${status}.` });
      expect((await box.sendRecord(SORTIE, record("F2"), KNOWING)).kind).toBe("sent");
      const [kept] = box.snapshot().refused;
      expect(kept).toMatchObject({ record: { note: "over the hedge" }, refused: { status, title: `No, ${status}.` } });
      expect(await box.flushOutbox()).toBe(0);
      expect(sent).toHaveLength(2);
    },
  );

  it("mends a refused entry and sends it as a new one, or throws it away when told", async () => {
    const box = await page(422, "kept", 409);
    await box.sendRecord(SORTIE, record("F1"), KNOWING);
    const refused = box.snapshot().refused[0];
    if (!refused) throw new Error("the refused entry is gone");
    expect((await box.sendAgain(refused, record("F1", "mended"))).kind).toBe("sent");
    expect(sent[1]).toMatchObject({ record: { note: "mended" } });
    expect(sent[1]?.id).not.toBe(sent[0]?.id);
    await box.sendRecord(SORTIE, record("F2"), KNOWING);
    await box.throwAway(box.snapshot().refused[0]?.id ?? "");
    expect(box.snapshot()).toEqual({ waiting: [], refused: [] });
  });

  it("survives the page: another start finds what waited and what was refused, and sends what waits", async () => {
    const before = await page("silent", 422);
    await before.sendRecord(SORTIE, record("F7"), KNOWING);
    const later = await page("kept");
    later.startOutbox();
    await later.settled();
    expect(sent.at(-1)?.record.card_id).toBe("F7");
    expect(sent.at(-1)?.written?.device).toBe(sent[0]?.written?.device);
  });

  it("takes over what an older page left waiting, in its own version", async () => {
    const old = await openDB("jinba-outbox", 1, {
      upgrade: (db) => db.createObjectStore("waiting", { keyPath: "id" }),
    });
    const { conditions: _, ...kept } = record("F3");
    const id = newId(Date.UTC(2026, 4, 1, 10));
    await old.put("waiting", { id, sortieId: "s9", record: kept });
    old.close();
    const box = await page("kept");
    expect(await box.flushOutbox()).toBe(1);
    // Made before the landing it knew nothing of: so the program takes it after one as well.
    const written = { made_at: "2026-05-01T10:00:00.000Z", seen: 0 };
    expect(sent[0]).toMatchObject({ id, version: 1, written, path: "/api/v1/sorties/s9/records" });
    expect(box.snapshot()).toEqual({ waiting: [], refused: [] });
  });

  it("tells the pilot soon when the program does not answer, gives up in the end, and sends it later", async () => {
    const box = await page("never", "kept");
    const told = box.sendRecord(SORTIE, record("F1"), KNOWING);
    await vi.waitFor(() => expect(sent).toHaveLength(1));
    await vi.advanceTimersByTimeAsync(2_600);
    expect((await told).kind).toBe("waiting");
    const second = box.sendRecord(SORTIE, record("F2"), KNOWING);
    await vi.waitFor(() => expect(cards(box.snapshot().waiting)).toEqual(["F1", "F2"]));
    await vi.advanceTimersByTimeAsync(20_000);
    await second;
    await vi.advanceTimersByTimeAsync(3_000);
    await box.settled();
    expect(sent.map((s) => s.record.card_id)).toEqual(["F1", "F1", "F2"]);
    expect(box.snapshot()).toEqual({ waiting: [], refused: [] });
  });

  it("keeps the order of making when the device's clock is set back", async () => {
    const box = await page("silent", "silent");
    const now = vi.spyOn(Date, "now");
    now.mockReturnValue(2_000_000_000_000);
    await box.sendRecord(SORTIE, record("F1"), KNOWING);
    now.mockReturnValue(1_000_000_000_000);
    await box.sendRecord(SORTIE, record("F2"), KNOWING);
    now.mockRestore();
    expect(cards(box.snapshot().waiting)).toEqual(["F1", "F2"]);
    await box.flushOutbox();
    expect(sent.slice(-2).map((s) => s.record.card_id)).toEqual(["F1", "F2"]);
  });

  it("keeps the order of making of two pages, each with cards the other has not read", async () => {
    const pages = [await page("silent"), await page("silent")] as const;
    for (const [i, card] of ["F1", "F2", "F3", "F4"].entries()) {
      answers = ["silent"];
      await pages[i % 2]?.sendRecord(SORTIE, record(card), KNOWING);
    }
    // Both at once: which is first is the disk's to say, and each has a place of its own.
    answers = ["silent", "silent"];
    await Promise.all(pages.map((box) => box.sendRecord(SORTIE, record("F5"), KNOWING)));
    const { waiting } = pages[1].snapshot();
    expect(cards(waiting)).toEqual(["F1", "F2", "F3", "F4", "F5", "F5"]);
    expect(new Set(waiting.map((e) => e.place)).size).toBe(6);
  });

  it("loses nothing when two cards are kept at the same moment", async () => {
    const box = await page("silent", "silent");
    await Promise.all(["F1", "F2"].map((c) => box.sendRecord(SORTIE, record(c), KNOWING)));
    expect(await box.flushOutbox()).toBe(2);
    expect(new Set(sent.slice(-2).map((s) => s.record.card_id))).toEqual(new Set(["F1", "F2"]));
  });
});

describe("many cards that waited", () => {
  const CARDS = Array.from({ length: 230 }, (_, i) => `F${i}`);

  async function waiting(cardIds: readonly string[]) {
    const box = await page(...Array<"silent">(cardIds.length).fill("silent"));
    for (const c of cardIds) await box.sendRecord(SORTIE, record(c), KNOWING);
    answers = [];
    sent = [];
    return box;
  }

  it("go two hundred together, in their order, and are heard of once each", async () => {
    const box = await waiting(CARDS);
    refusedTogether = {};
    const arrived = vi.fn();
    box.onArrival(arrived);
    expect(await box.flushOutbox()).toBe(230);
    expect(together.map((t) => t.length)).toEqual([200, 30]);
    expect(together.flat()).toEqual(CARDS);
    expect(box.snapshot()).toEqual({ waiting: [], refused: [] });
    expect(arrived).toHaveBeenCalledOnce();
  }, 60_000);

  it("leave the one that is refused on the device, with its reason, and go on", async () => {
    const box = await waiting(["F1", "F2", "F3"]);
    refusedTogether = { F2: 422 };
    expect(await box.flushOutbox()).toBe(2);
    expect(box.snapshot().refused).toMatchObject([{ record: { card_id: "F2" }, refused: { title: "No, 422." } }]);
    expect(box.snapshot().waiting).toEqual([]);
  });

  it("all wait where nothing answers, or the program is busy", async () => {
    const box = await waiting(["F1", "F2"]);
    refusedTogether = {};
    answers = ["silent"];
    expect(await box.flushOutbox()).toBe(0);
    answers = [503];
    expect(await box.flushOutbox()).toBe(0);
    expect(cards(box.snapshot().waiting)).toEqual(["F1", "F2"]);
  });

  it("stop at a landing or another sortie between them", async () => {
    const box = await waiting(["F1", "F2"]);
    answers = ["silent", "silent"];
    await box.landSortie("m1", "s1");
    refusedTogether = {};
    answers = [];
    sent = [];
    await box.flushOutbox();
    expect(together).toEqual([["F1", "F2"]]);
    expect(paths()).toEqual(["sorties/s1/land"]);
  });
});

describe("a sortie begun on the device", () => {
  it("begins, is logged and lands where nothing answers, and arrives once, in order, as flown", async () => {
    const box = await page(...Array<"silent">(4).fill("silent"));
    expect((await box.beginSortie("m1", SORTIE_1, REQUEST)).kind).toBe("waiting");
    expect((await box.sendRecord(SORTIE, record("F1"), KNOWING)).kind).toBe("waiting");
    expect((await box.landSortie("m1", "s1")).kind).toBe("waiting");
    expect(cards(box.snapshot().waiting)).toEqual(["begin", "F1", "land"]);
    // The page is killed; another finds everything.
    const later = await page();
    await later.flushOutbox();
    expect(paths().slice(4)).toEqual(["models/m1/sorties", "sorties/s1/records", "sorties/s1/land"]);
    expect(sent[0]).toMatchObject({ id: "s1", ...REQUEST, away: null });
    expect(sent[4]?.away, "the pilot has gone to fly it").toMatchObject({ seen: 7 });
    expect(later.snapshot()).toEqual({ waiting: [], refused: [] });
  });

  it("is not begun where the program refuses it at once", async () => {
    const box = await page(409);
    expect(await box.beginSortie("m1", SORTIE_1, REQUEST)).toMatchObject({ kind: "refused", title: "No, 409." });
    expect(box.snapshot()).toEqual({ waiting: [], refused: [] });
  });

  it("is asked again as flown where the refusal came after the pilot had gone", async () => {
    const box = await page("never", "kept");
    const told = box.beginSortie("m1", SORTIE_1, REQUEST);
    await vi.waitFor(() => expect(sent).toHaveLength(1));
    await vi.advanceTimersByTimeAsync(2_600);
    expect((await told).kind).toBe("waiting");
    await vi.advanceTimersByTimeAsync(20_000);
    await vi.waitFor(() => expect(sent).toHaveLength(2));
    expect(sent.map((s) => s.away !== null)).toEqual([false, true]);
  });

  async function refusedBegin() {
    const box = await page("silent", "silent", 409);
    await box.beginSortie("m1", SORTIE_1, REQUEST);
    await box.settled();
    await box.sendRecord(SORTIE, record("F1"), KNOWING);
    await box.flushOutbox();
    expect(cards(box.snapshot().refused)).toEqual(["begin"]);
    expect(cards(box.snapshot().waiting), "kept with it, not sent into nothing").toEqual(["F1"]);
    sent = [];
    return box;
  }

  it("keeps what was logged of it until it is put into the sortie that another device has opened", async () => {
    const box = await refusedBegin();
    const begin = box.snapshot().refused[0];
    if (begin?.what !== "begin") throw new Error("the beginning is gone");
    await box.moveInto(begin, "s2");
    expect(paths()).toEqual(["sorties/s2/records"]);
    expect(box.snapshot()).toEqual({ waiting: [], refused: [] });
  });

  it("goes with all its cards when a person throws it away, and sends nothing", async () => {
    const box = await refusedBegin();
    await box.throwAway("s1");
    expect(box.snapshot()).toEqual({ waiting: [], refused: [] });
    expect(sent).toEqual([]);
  });

  it("takes over the cards a page of 0.12.0 left, in their order", async () => {
    const old = await openDB("jinba-outbox", 2, {
      upgrade: (db) => db.createObjectStore("waiting", { keyPath: "id" }),
    });
    for (const [place, card] of ["F2", "F1"].entries())
      await old.put("waiting", {
        id: newId(),
        place,
        target: SORTIE,
        record: record(card),
        version: 2,
        replaces: null,
        madeAt: "2026-05-01T10:00:00.000Z",
        seen: 3,
        refused: null,
      });
    old.close();
    const box = await page();
    expect(await box.flushOutbox()).toBe(2);
    expect(sent.map((s) => s.record.card_id)).toEqual(["F2", "F1"]);
  });
});

describe("what was noticed", () => {
  const PHOTO = { kind: "photo", type: "image/jpeg", bytes: new Uint8Array([255, 216, 0, 7]).buffer } as const;

  it("arrives behind its sortie, its photo behind it, and waits with it where it is refused", async () => {
    const box = await page("silent", "silent", "silent");
    await box.beginSortie("m1", SORTIE_1, REQUEST);
    const [id] = await box.noteIt("s1", { what: "flutter", words: "", card_id: "F1" }, PHOTO);
    answers = ["kept", 422];
    sent = [];
    await box.flushOutbox();
    expect(paths()).toEqual(["models/m1/sorties", "sorties/s1/notes"]);
    expect(cards(box.snapshot().refused)).toEqual(["note"]);
    expect(cards(box.snapshot().waiting), "kept with its note").toEqual(["media"]);
    const [refused] = box.snapshot().refused;
    if (refused) await box.sendAgain(refused, null);
    expect(paths().slice(2)).toEqual(["sorties/s1/notes", "sorties/s1/notes/photo"]);
    expect(sent[2]?.id).toBe(id);
    expect(box.snapshot()).toEqual({ waiting: [], refused: [] });
  });

  it("goes with its photo when it is thrown away", async () => {
    const box = await page("silent");
    const [id] = await box.noteIt("s1", { what: "", words: "", card_id: "" }, PHOTO);
    await box.throwAway(id);
    expect(box.snapshot()).toEqual({ waiting: [], refused: [] });
  });
});

describe("what is handed over as a file", () => {
  /** A phone without a network: it begins, logs and lands; what it hands over, and its identity. */
  async function handedOver(): Promise<{ file: File; phone: string }> {
    const box = await page("silent", "silent", "silent", "silent", "silent", "silent");
    const id = newId();
    await box.beginSortie("m1", { ...SORTIE_1, id } as SortieDetail, REQUEST);
    await box.sendRecord({ kind: "sortie", sortieId: id }, record("F1"), KNOWING);
    await box.landSortie("m1", id);
    const { logFile } = await import("./hand-over");
    const { thisDevice } = await import("./device");
    const file = await logFile();
    expect(box.snapshot().waiting).toHaveLength(3);
    return { file, phone: thisDevice().id };
  }

  /** Another device: nothing on it, and the program within its reach. */
  async function laptop() {
    globalThis.indexedDB = new IDBFactory();
    localStorage.setItem("jinba-device", "the laptop");
    sent = [];
    const box = await page();
    return { box, takeIn: (await import("./hand-over")).takeIn };
  }

  it("is sent by another device in its order, as the phone's own, and counts once however often it comes", async () => {
    const { file, phone } = await handedOver();
    const { box, takeIn } = await laptop();
    expect(await takeIn(file)).toEqual({ taken: 3, known: 0 });
    await box.settled();
    expect(paths().map((p) => p?.split("/").at(-1))).toEqual(["sorties", "records", "land"]);
    expect(sent[1]?.written?.device).toBe(phone);
    expect(sent[0]?.away, "begun over there: it was flown").not.toBeNull();
    const first = sent.map((s) => s.id);
    expect(box.snapshot()).toEqual({ waiting: [], refused: [] });
    expect(await takeIn(file)).toEqual({ taken: 3, known: 0 });
    await box.settled();
    expect(sent.slice(3).map((s) => s.id)).toEqual(first);
  });

  it("is not kept twice while it waits, and what this device has logged itself stays before it", async () => {
    const { file } = await handedOver();
    const { box, takeIn } = await laptop();
    answers = Array.from({ length: 20 }, () => "silent" as const);
    await box.sendRecord(SORTIE, record("F7"), KNOWING);
    await takeIn(file);
    expect(await takeIn(file)).toEqual({ taken: 0, known: 3 });
    expect(cards(box.snapshot().waiting)).toEqual(["F7", "begin", "F1", "land"]);
  });

  it.each([
    ["another file", "Dear diary", "not a log"],
    ["half of one", '{"format": "jinba-log", "entries": [', "not a log"],
    ["an entry without an identity", '{"format":"jinba-log","version":1,"entries":[{"what":"record"}]}', "not a log"],
    ["no list", '{"format":"jinba-log","version":1}', "not a log"],
    ["null", "null", "not a log"],
    ["a newer one", '{"format":"jinba-log","version":3,"program":"9.0.0","entries":[]}', "newer program (9.0.0)"],
  ])("refuses %s in words, and keeps nothing of it", async (_, text, words) => {
    const { box, takeIn } = await laptop();
    await expect(takeIn(new File([text], "x.json"))).rejects.toThrow(words);
    expect(box.snapshot()).toEqual({ waiting: [], refused: [] });
    expect(sent).toEqual([]);
  });
});
