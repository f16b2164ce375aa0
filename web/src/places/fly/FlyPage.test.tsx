// @vitest-environment happy-dom
import "fake-indexeddb/auto";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { IDBFactory } from "fake-indexeddb";
import { createMemoryRouter, Outlet, RouterProvider } from "react-router";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import type { Card, ModelDetail, SortieDetail } from "../../api/client";
import { OnDevice } from "../../components/OnDevice";
import { SettingsProvider } from "../../components/settings-context";
import { flushOutbox, snapshot, throwAway } from "../../offline/outbox";
import { keys } from "../../queries/models";
import { refusal, server } from "../../testing/server";
import FlyPage from "./FlyPage";

const card = (id: string): Card =>
  ({
    id,
    title: `Card ${id}`,
    phase: "flight",
    steps: [`Do ${id}.`],
    captures: [],
    cautions: [],
    condition: "",
    abort_when: "",
    proof_of_trim: false,
    throttle: "",
    with_flap: "",
    minutes: 1,
  }) as unknown as Card;

const options = (...keys: string[]) => keys.map((key) => ({ key, words: `was ${key}` }));
const HAPPENED = {
  ...card("A6"),
  phase: "after",
  captures: [
    { key: "phase", kind: "choice", label: "It was in", required: true, options: options("take_off", "height") },
    { key: "ground", kind: "choice", label: "The ground", required: true, options: options("clear", "hit") },
  ],
};

const SORTIE = {
  id: "s1",
  model_id: "m1",
  airframe: {},
  number: 3,
  status: "flying",
  alone: false,
  simulated: false,
  cards: [card("F1"), card("F2")],
  records: [],
  log: [],
  log_order: 12,
  against: [],
  others: [],
  incident: HAPPENED,
  noticed: [],
  notes: [],
  phases: { F1: "take_off", F2: "height" },
  radio: { F2: "The radio stands at 6 clicks nose up from before." },
  safe_minutes: 6,
  started_at: new Date().toISOString(),
} as unknown as SortieDetail;
const MODEL = {
  id: "m1",
  sorties: [{ id: "s1", number: 3, status: "flying" }],
} as unknown as ModelDetail;

const away = server.answer;

beforeEach(() => {
  globalThis.indexedDB = new IDBFactory();
  localStorage.clear();
});
afterEach(async () => {
  cleanup();
  // What a test leaves on the device is sent, so that the next one finds it empty.
  server.answer = () => Promise.resolve(Response.json(SORTIE));
  await flushOutbox();
  server.answer = away;
});

async function opened() {
  const cache = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  cache.setQueryData(keys.sortie("s1"), SORTIE);
  await cache.invalidateQueries();
  const outlet = (
    <>
      <OnDevice />
      <Outlet context={MODEL} />
    </>
  );
  const router = createMemoryRouter([
    { path: "/", element: outlet, children: [{ index: true, element: <FlyPage /> }] },
  ]);
  render(
    <QueryClientProvider client={cache}>
      <SettingsProvider>
        <RouterProvider router={router} />
      </SettingsProvider>
    </QueryClientProvider>,
  );
}

it("asks at once what happened when a card is broken off, and flies nothing more when the model is down", async () => {
  await opened();
  const bar = await screen.findByRole("button", { name: /Hold to abort F1/ });
  fireEvent.pointerDown(bar);
  await screen.findByRole("heading", { name: /A6/ }, { timeout: 5000 });
  expect(screen.getByRole("button", { name: "was take_off: It was in" })).toBeTruthy();
  await userEvent.click(screen.getByRole("button", { name: "was hit" }));
  await userEvent.click(screen.getByRole("button", { name: "Keep, next card" }));
  expect(await screen.findByText(/The model is down/)).toBeTruthy();
  expect(screen.queryByRole("heading", { name: /F2/ })).toBeNull();
  expect((await screen.findByTestId("on-device")).textContent).toBe("2 only on this device");
});

it("aborts from what is noted, too, and no key answers the card behind it", async () => {
  await opened();
  await userEvent.click(await screen.findByRole("button", { name: "Note" }));
  expect(screen.getByTestId("note-sheet")).toBeTruthy();
  await userEvent.keyboard("{Enter}u1");
  fireEvent.pointerDown(screen.getByRole("button", { name: /Hold to abort F1/ }));
  expect(await screen.findByRole("heading", { name: /A6/ }, { timeout: 5000 })).toBeTruthy();
  expect(screen.queryByTestId("note-sheet")).toBeNull();
  expect(snapshot().waiting).toMatchObject([{ record: { card_id: "F1", outcome: "aborted" } }]);
});

it("flies on after something that left it in the air", async () => {
  await opened();
  await userEvent.click(await screen.findByRole("button", { name: "Something went wrong" }));
  await userEvent.click(screen.getByRole("button", { name: "Done: log it" }));
  expect(screen.getByRole("button", { name: "was take_off" }).getAttribute("aria-pressed")).toBe("false");
  await userEvent.click(screen.getByRole("button", { name: "was height" }));
  await userEvent.click(screen.getByRole("button", { name: "was clear" }));
  await userEvent.click(screen.getByRole("button", { name: "Keep, next card" }));
  expect(await screen.findByRole("heading", { name: /F1/ })).toBeTruthy();
});

it("stays usable while the program is away: cards and the landing are kept, their number is said", async () => {
  await opened();
  expect(await screen.findByText(/The program does not answer. Go on logging/)).toBeTruthy();
  for (const id of ["F1", "F2"]) {
    expect(await screen.findByRole("heading", { name: new RegExp(id) })).toBeTruthy();
    expect(screen.queryByTestId("radio-stands") !== null).toBe(id === "F2");
    await userEvent.click(screen.getByRole("button", { name: "Flown: log it" }));
    await userEvent.click(screen.getByRole("button", { name: "Keep, next card" }));
    await screen.findByText(new RegExp(`${id} kept on this device`));
  }
  expect((await screen.findByTestId("on-device")).textContent).toBe("2 only on this device");
  await userEvent.click(await screen.findByRole("button", { name: "Landed: to the debrief" }));
  await waitFor(() => expect(screen.getByTestId("on-device").textContent).toBe("3 only on this device"));
  const taken: unknown[] = [];
  server.answer = async (request) => {
    if (request.method !== "POST") return Response.json(SORTIE);
    const many = request.url.endsWith("/log");
    if (request.url.endsWith("/land")) taken.push("landed");
    else taken.push(...(many ? (await request.json()).entries : [await request.json()]));
    return Response.json(many ? { sortie: SORTIE, refused: {} } : SORTIE);
  };
  await flushOutbox();
  await waitFor(() => expect(screen.queryByTestId("on-device")).toBeNull());
  expect(taken).toMatchObject([
    { record: { card_id: "F1" }, written: { seen: 12 } },
    { record: { card_id: "F2" }, written: { seen: 12 } },
    "landed",
  ]);
});

it("asks before it lands without an entry that was not accepted", async () => {
  await opened();
  server.answer = async (r) => (r.method === "POST" ? refusal("Say it again.") : Response.json(SORTIE));
  await userEvent.click(await screen.findByRole("button", { name: "Flown: log it" }));
  await userEvent.click(await screen.findByRole("button", { name: "Keep, next card" }));
  await screen.findByText(/F1 was not accepted/);
  await userEvent.click(screen.getByRole("button", { name: "It has landed" }));
  expect(screen.getByTestId("down-question").textContent).toContain("Not logged: F2");
  await userEvent.click(screen.getByRole("button", { name: "It is down" }));
  await userEvent.click(await screen.findByRole("button", { name: "To the debrief at once" }));
  expect(screen.getByTestId("landing-question").textContent).toContain("1 entry of this sortie was not accepted");
  await userEvent.click(screen.getByRole("button", { name: "Not yet" }));
  expect(screen.queryByTestId("landing-question")).toBeNull();
  for (const e of snapshot().refused) await throwAway(e.id);
});

it("stays on a card that was chosen while the one before was still being sent", async () => {
  await opened();
  let answer: (r: Response) => void = () => undefined;
  server.answer = (r) =>
    r.method === "POST" ? new Promise((done) => (answer = done)) : Promise.resolve(Response.json(SORTIE));
  await userEvent.click(await screen.findByRole("button", { name: "Flown: log it" }));
  await userEvent.click(screen.getByRole("button", { name: "Keep, next card" }));
  expect(await screen.findByRole("heading", { name: /F2/ })).toBeTruthy();
  for (const ready of [/Hold to abort F2/, "Flown: log it"])
    expect(screen.getByRole("button", { name: ready }), "while the program has not answered").toHaveProperty(
      "disabled",
      false,
    );
  await userEvent.click(screen.getByRole("button", { name: "Something went wrong" }));
  expect(await screen.findByRole("heading", { name: /A6/ })).toBeTruthy();
  answer(Response.json({ ...SORTIE, records: [{ card_id: "F1", outcome: "done", readings: [] }] }));
  await screen.findByText(/F1 kept/);
  expect(screen.getByRole("heading", { name: /A6/ })).toBeTruthy();
});

it("keeps a card once, however often Keep is tapped", async () => {
  await opened();
  await userEvent.click(await screen.findByRole("button", { name: "Flown: log it" }));
  const keep = screen.getByRole("button", { name: "Keep, next card" });
  for (let i = 0; i < 3; i++) fireEvent.click(keep);
  expect(await screen.findByRole("heading", { name: /F2/ })).toBeTruthy();
  expect(snapshot().waiting).toHaveLength(1);
});

it("says so where the device cannot keep an abort that was held from what is noted, and takes it when it can", async () => {
  await opened();
  await userEvent.click(await screen.findByRole("button", { name: "Note" }));
  const full = vi.spyOn(IDBObjectStore.prototype, "put").mockImplementation(() => {
    throw new DOMException("full", "QuotaExceededError");
  });
  fireEvent.pointerDown(screen.getByRole("button", { name: /Hold to abort F1/ }));
  expect(await screen.findByRole("alert", {}, { timeout: 5000 })).toBeTruthy();
  expect(screen.getByTestId("note-sheet")).toBeTruthy();
  full.mockRestore();
  fireEvent.pointerUp(screen.getByRole("button", { name: /Hold to abort F1/ }));
  fireEvent.pointerDown(screen.getByRole("button", { name: /Hold to abort F1/ }));
  expect(await screen.findByRole("heading", { name: /A6/ }, { timeout: 5000 })).toBeTruthy();
  expect(screen.queryByRole("alert")).toBeNull();
});
