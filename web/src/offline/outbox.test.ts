import "fake-indexeddb/auto";
import { IDBFactory } from "fake-indexeddb";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { CardRecord } from "../api/client";

const record = (card_id: string): CardRecord => ({
  card_id,
  outcome: "done",
  readings: [],
  confidence: "fair",
  from_memory: false,
  note: "",
});

type Answer = "kept" | "offline" | "refused";
let answers: Answer[];
let sent: { id: string; card: string; sortie: string }[];

async function server(request: Request): Promise<Response> {
  const body = (await request.json()) as { id: string; record: CardRecord };
  sent.push({ id: body.id, card: body.record.card_id, sortie: new URL(request.url).pathname.split("/")[4] ?? "" });
  const answer = answers.shift() ?? "kept";
  if (answer === "offline") throw new TypeError("Failed to fetch");
  if (answer === "kept") return Response.json({ id: "s" }, { status: 200 });
  const problem = { type: "x", title: "This sortie is not here.", status: 404, code: "not-found", violations: [] };
  return Response.json(problem, { status: 404, headers: { "Content-Type": "application/problem+json" } });
}

/** A fresh outbox on a fresh device, with the server answering as listed. */
async function outbox(...given: Answer[]) {
  answers = given;
  return import("./outbox");
}

beforeEach(() => {
  vi.resetModules();
  globalThis.indexedDB = new IDBFactory();
  sent = [];
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

describe("the outbox", () => {
  it("sends at once and keeps nothing back when there is a connection", async () => {
    const box = await outbox("kept");
    expect(await box.sendRecord("s1", record("F1"))).toBe("sent");
    expect(await box.waitingRecords()).toEqual([]);
  });

  it("keeps what could not go, in order, and delivers it later under the same identity", async () => {
    const box = await outbox("offline", "offline");
    expect(await box.sendRecord("s1", record("F1"))).toBe("waiting");
    expect(await box.sendRecord("s1", record("F2"))).toBe("waiting");
    expect((await box.waitingRecords("s1")).map((w) => w.record.card_id)).toEqual(["F1", "F2"]);
    expect(await box.waitingRecords("another")).toEqual([]);
    const first = sent.map((s) => s.id);
    answers = ["kept", "kept"];
    expect(await box.flushOutbox()).toBe(2);
    expect(sent.slice(2).map((s) => s.id)).toEqual(first);
    expect(await box.waitingRecords()).toEqual([]);
  });

  it("stops at the first that still cannot go, so that the order of flying is kept", async () => {
    const box = await outbox("offline", "offline");
    await box.sendRecord("s1", record("F1"));
    await box.sendRecord("s1", record("F2"));
    answers = ["offline"];
    expect(await box.flushOutbox()).toBe(0);
    expect(sent).toHaveLength(3);
    expect(await box.waitingRecords()).toHaveLength(2);
  });

  it("survives the page: another start finds what waited", async () => {
    await (await outbox("offline")).sendRecord("s1", record("F7"));
    vi.resetModules();
    const later = await outbox();
    expect((await later.waitingRecords("s1")).map((w) => w.record.card_id)).toEqual(["F7"]);
  });

  it("gives a refusal back to the caller and does not send it again", async () => {
    const box = await outbox("refused");
    await expect(box.sendRecord("gone", record("F1"))).rejects.toThrow("This sortie is not here.");
    expect(await box.waitingRecords()).toEqual([]);
  });
});
