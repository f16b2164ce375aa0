// @vitest-environment happy-dom
import "fake-indexeddb/auto";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { createMemoryRouter, RouterProvider } from "react-router";
import { afterEach, beforeEach, expect, it } from "vitest";
import type { Card, CardRecord } from "../../api/client";
import { aRecord } from "../../api/records";
import { SettingsProvider } from "../../components/settings-context";
import { sendRecord, snapshot, throwAway } from "../../offline/outbox";
import { refusal, server } from "../../testing/server";
import WaitingPage from "./WaitingPage";

const card = (id: string): Card =>
  ({
    id,
    title: `Card ${id}`,
    phase: "ground",
    steps: [],
    captures: [],
    cautions: [],
    condition: "",
    abort_when: "",
    proof_of_trim: false,
    throttle: "",
    with_flap: "",
  }) as unknown as Card;

const GROUND = { kind: "ground", modelId: "m1" } as const;

let posted: CardRecord[];
/** What the program says to each card that is sent: "kept", or why not; a card that is not named is not answered. */
let says: Record<string, string>;

beforeEach(async () => {
  posted = [];
  says = {};
  server.answer = async (request) => {
    const { pathname } = new URL(request.url);
    if (pathname.endsWith("/cards")) return Response.json([card("G1"), card("G2")]);
    if (request.method !== "POST") return Response.json({ id: "m1", setup: {}, pitch_control: "tail", sorties: [] });
    const { record } = (await request.json()) as { record: CardRecord };
    posted.push(record);
    const answer = says[record.card_id];
    if (!answer) throw new TypeError("away");
    return answer === "kept" ? Response.json({ id: "m1" }) : refusal(answer);
  };
  for (const e of [...snapshot().waiting, ...snapshot().refused]) await throwAway(e.id);
});
afterEach(cleanup);

async function show(): Promise<void> {
  const cache = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const router = createMemoryRouter([{ path: "/", element: <WaitingPage /> }]);
  render(
    <QueryClientProvider client={cache}>
      <SettingsProvider>
        <RouterProvider router={router} />
      </SettingsProvider>
    </QueryClientProvider>,
  );
}

async function kept(id: string): Promise<void> {
  await sendRecord(GROUND, aRecord({ card_id: id, outcome: "passed", note: `of ${id}` }), { seen: 1 });
}

it("lists what waits and what was refused apart, by the card's name, with the reason and the note", async () => {
  says = { G1: "G1: say whether it was safe." };
  await kept("G1");
  await kept("G2");
  await show();
  await screen.findByText(/G1 Card G1, passed, bench and ground/);
  const refused = document.querySelector("[data-refused=G1]") as HTMLElement;
  expect(refused.textContent).toContain("G1: say whether it was safe.");
  expect(refused.textContent).toContain("Note: of G1");
  expect(screen.getByText(/G2 Card G2, passed/)).toBeTruthy();
  says = { G2: "kept" };
  await userEvent.click(screen.getByRole("button", { name: "Send now" }));
  await waitFor(() => expect(snapshot().waiting).toEqual([]));
  expect(posted.at(-1)?.card_id).toBe("G2");
});

it("mends a refused entry with what was entered still in it", async () => {
  says = { G1: "no" };
  await kept("G1");
  await show();
  await userEvent.click(await screen.findByRole("button", { name: "Mend it" }));
  const note = await screen.findByRole("textbox");
  expect((note as HTMLTextAreaElement).value).toBe("of G1");
  await userEvent.type(note, ", mended");
  says = { G1: "kept" };
  await userEvent.click(screen.getByRole("button", { name: "Keep, next card" }));
  await screen.findByText(/everything logged here is in the program/);
  expect(posted.at(-1)).toMatchObject({ card_id: "G1", note: "of G1, mended" });
});

it("throws an entry away only when the bar is held", async () => {
  says = { G1: "no" };
  await kept("G1");
  await show();
  const entry = await waitFor(() => {
    const found = document.querySelector("[data-refused=G1]");
    if (!found) throw new Error("not there yet");
    return found as HTMLElement;
  });
  const bar = within(entry).getByText("Hold to throw it away");
  fireEvent.pointerDown(bar);
  fireEvent.pointerUp(bar);
  expect(snapshot().refused).toHaveLength(1);
  fireEvent.pointerDown(bar);
  await act(() => new Promise((done) => setTimeout(done, 1600)));
  await waitFor(() => expect(snapshot().refused).toEqual([]));
});
