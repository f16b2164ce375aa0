// @vitest-environment happy-dom
import "fake-indexeddb/auto";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { IDBFactory } from "fake-indexeddb";
import { createMemoryRouter, Outlet, RouterProvider } from "react-router";
import { afterEach, beforeEach, expect, it } from "vitest";
import type { Card, ModelDetail, SortieDetail } from "../../api/client";
import { OnDevice } from "../../components/OnDevice";
import { keys } from "../../queries/models";
import { server } from "../../testing/server";
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
    minutes: 1,
  }) as unknown as Card;

const SORTIE = {
  id: "s1",
  model_id: "m1",
  number: 3,
  status: "flying",
  alone: false,
  simulated: false,
  cards: [card("F1"), card("F2")],
  records: [],
  log: [],
  log_order: 12,
  against: [],
  radio: { F2: "The radio stands at 6 clicks nose up from before." },
  pack_minutes: 8,
  started_at: new Date().toISOString(),
} as unknown as SortieDetail;
const MODEL = {
  id: "m1",
  sorties: [{ id: "s1", number: 3, status: "flying" }],
} as unknown as ModelDetail;

beforeEach(() => {
  globalThis.indexedDB = new IDBFactory();
  localStorage.clear();
});
afterEach(cleanup);

it("stays usable while the program is away: cards are kept, their number is said, and landing asks first", async () => {
  const cache = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  cache.setQueryData(keys.sortie("s1"), SORTIE);
  await cache.invalidateQueries();
  const router = createMemoryRouter([
    {
      path: "/",
      element: (
        <>
          <OnDevice />
          <Outlet context={MODEL} />
        </>
      ),
      children: [{ index: true, element: <FlyPage /> }],
    },
  ]);
  render(
    <QueryClientProvider client={cache}>
      <RouterProvider router={router} />
    </QueryClientProvider>,
  );
  expect(await screen.findByText(/The program does not answer. Go on logging/)).toBeTruthy();
  for (const id of ["F1", "F2"]) {
    expect(await screen.findByRole("heading", { name: new RegExp(id) })).toBeTruthy();
    expect(screen.queryByTestId("radio-stands") !== null).toBe(id === "F2");
    await userEvent.click(screen.getByRole("button", { name: "Keep, next card" }));
    await screen.findByText(new RegExp(`${id} kept on this device`));
  }
  expect((await screen.findByTestId("on-device")).textContent).toBe("2 only on this device");
  await userEvent.click(await screen.findByRole("button", { name: "Landed: to the debrief" }));
  expect(screen.getByTestId("landing-question").textContent).toContain(
    "2 entries of this sortie are only on this device",
  );
  const taken: unknown[] = [];
  server.answer = async (request) => {
    if (request.method === "POST") taken.push(await request.json());
    return Response.json(SORTIE);
  };
  await userEvent.click(screen.getByRole("button", { name: "Send them first" }));
  await waitFor(() => expect(screen.queryByTestId("on-device")).toBeNull());
  expect(taken).toMatchObject([
    { record: { card_id: "F1" }, written: { seen: 12 } },
    { record: { card_id: "F2" }, written: { seen: 12 } },
  ]);
});
