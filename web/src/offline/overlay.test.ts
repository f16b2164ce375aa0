import { expect, it } from "vitest";
import type { Card, ModelDetail, Plan, SortieDetail } from "../api/client";
import { aRecord } from "../api/records";
import type { Entry } from "./outbox";
import { beginOf, modelWith, planWith } from "./overlay";

const card = (id: string, phase = "flight") => ({ id, phase }) as Card;
const PROPOSED = {
  id: "0",
  number: 3,
  cards: [card("F1"), card("F2"), card("F29"), card("A1", "after")],
  others: [card("F5")],
  against: [],
} as unknown as SortieDetail;
const MODEL = {
  id: "m1",
  configuration: 2,
  sorties: [{ id: "s2", number: 2, status: "landed", landed_at: "2026-05-01" }],
  today: { sentence: "Ready.", button: "Plan", target: "plan", station: "plan", stops: [], callouts: [] },
} as unknown as ModelDetail;

const on = (entries: object[]) =>
  entries.map((e, place) => ({ place, madeAt: "", seen: null, refused: null, ...e })) as unknown as Entry[];
const chosen = { card_ids: ["F1", "F5", "F29"], alone: true, against: [] };
const sortie = beginOf(PROPOSED, "s3", chosen);
const BEGIN = { what: "begin", id: "s3", modelId: "m1", request: { card_ids: chosen.card_ids }, sortie };

it("makes the sortie of the cards the pilot chose, in his order; what he left out stays at hand", () => {
  expect(sortie.cards.map((c) => c.id)).toEqual(["F1", "F5", "F29", "A1"]);
  expect(sortie.others.map((c) => c.id)).toEqual(["F2"]);
  expect(sortie).toMatchObject({ id: "s3", number: 3, alone: true, status: "planned" });
});

it("shows a sortie begun here as open, flying once something is logged, landed once it has landed here", () => {
  const status = (entries: object[]) => modelWith(MODEL, on(entries)).sorties.map((s) => s.status);
  const logged = {
    what: "record",
    id: "r",
    target: { kind: "sortie", sortieId: "s3" },
    record: aRecord({ card_id: "F1", outcome: "done" }),
  };
  const landed = { what: "land", id: "l", modelId: "m1", sortieId: "s3" };
  expect(status([])).toEqual(["landed"]);
  expect(status([BEGIN])).toEqual(["landed", "planned"]);
  expect(status([BEGIN, logged])).toEqual(["landed", "flying"]);
  expect(status([BEGIN, logged, landed])).toEqual(["landed", "landed"]);
  expect(modelWith(MODEL, on([BEGIN])).today.sentence).toBe("Sortie 3 is open on this device.");
  expect(modelWith(MODEL, on([BEGIN, landed])).today.sentence).toContain("Its debrief comes");
  expect(modelWith(MODEL, on([{ ...BEGIN, modelId: "m2" }])), "another model's").toBe(MODEL);
});

it("closes a gate that was passed here, leaves one that failed, and one the program did not accept", () => {
  const gate = (card_id: string) => ({ card_id, state: "open", reason: "" });
  const plan = { programme: { gates: ["G1", "G2", "G3"], cards: ["G1", "G2", "G3"].map(gate) } } as unknown as Plan;
  const said = (card_id: string, outcome: "passed" | "failed", refused: object | null = null) => ({
    what: "record",
    id: card_id,
    target: { kind: "ground", modelId: "m1" },
    record: aRecord({ card_id, outcome }),
    refused,
  });
  const here = on([said("G1", "passed"), said("G2", "failed"), said("G3", "passed", { status: 422, title: "No." })]);
  const shown = planWith(plan, here, "m1").programme;
  expect(shown.gates).toEqual(["G2", "G3"]);
  expect(shown.cards.map((c) => c.state)).toEqual(["done", "failed", "open"]);
  expect(planWith(plan, here, "m2"), "another model's").toBe(plan);
});
