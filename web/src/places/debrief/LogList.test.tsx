// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { createMemoryRouter, Outlet, RouterProvider } from "react-router";
import { afterEach, expect, it } from "vitest";
import type { Card, LogLine, ModelDetail, SortieDetail } from "../../api/client";
import { aRecord } from "../../api/records";
import { keys } from "../../queries/models";
import { server } from "../../testing/server";
import { LogList } from "./LogList";

const CARD = {
  id: "F2",
  title: "Pitch trim at cruise",
  captures: [],
} as unknown as Card;

const line = (id: string, more: Partial<LogLine>): LogLine => ({
  id,
  record: aRecord({ card_id: "F2", outcome: "done" }),
  counts: true,
  replaced: false,
  replaces: null,
  contested: false,
  logged_by: "",
  device: null,
  device_name: "phone",
  flown_at: null,
  recorded_at: "2026-05-01T10:00:00Z",
  said: [],
  ...more,
});

const said = ["Elevator clicks in all: 1 click nose up", '"gusty"'];

function show(log: LogLine[], readOnly = false) {
  const cache = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: 60_000 } } });
  cache.setQueryData(keys.sortie("s1"), { id: "s1", cards: [CARD], log } as unknown as SortieDetail);
  const model = { id: "m1", read_only: readOnly, pitch_control: "tail", setup: {} } as unknown as ModelDetail;
  const router = createMemoryRouter([
    { path: "/", element: <Outlet context={model} />, children: [{ index: true, element: <LogList sortieId="s1" /> }] },
  ]);
  render(
    <QueryClientProvider client={cache}>
      <RouterProvider router={router} />
    </QueryClientProvider>,
  );
  return cache;
}

afterEach(cleanup);

it("says what was logged in the program's words", () => {
  show([line("a", { said })]);
  const entry = screen.getByText(/Elevator clicks in all/);
  expect(entry.textContent).toBe('Elevator clicks in all: 1 click nose up; "gusty"');
  expect(screen.getByRole("link", { name: "Correct" }).getAttribute("href")).toBe("/m/m1/fly?sortie=s1&entry=a");
});

it("keeps a corrected entry visible, struck through, and offers to correct only the newer one", () => {
  show([line("a", { counts: false, replaced: true }), line("b", { replaces: "a" })]);
  const [old, fresh] = screen.getAllByRole("listitem");
  if (!old || !fresh) throw new Error("two entries are shown");
  expect(old.textContent).toContain("corrected by a later entry");
  expect(old.querySelector(".line-through")).not.toBeNull();
  expect(within(old).queryByRole("link")).toBeNull();
  expect(fresh.textContent).toContain("a correction");
});

it("opens by itself where two devices disagree, says which counts, and lets a person choose", async () => {
  const chosen: string[] = [];
  server.answer = async (request) => {
    if (request.url.includes("/choose")) chosen.push(new URL(request.url).pathname);
    return Response.json(request.url.includes("/sorties/") ? { id: "s1", cards: [CARD], log } : { id: "m1" });
  };
  const log = [
    line("a", { contested: true, record: aRecord({ card_id: "F2", outcome: "aborted" }) }),
    line("b", { contested: true, counts: false, device_name: "computer" }),
  ];
  show(log);
  expect(screen.getByTestId("log").hasAttribute("open")).toBe(true);
  expect(screen.getByText(/the more cautious entry counts, as doubtful/)).toBeTruthy();
  const [first, second] = screen.getAllByRole("listitem");
  expect(first?.textContent).toContain("counts, another device says otherwise");
  expect(second?.textContent).toContain("does not count, another device says otherwise; computer");
  await userEvent.click(within(second as HTMLElement).getByRole("button", { name: "This one counts" }));
  expect(chosen).toEqual(["/api/v1/records/b/choose"]);
});

it("offers nothing to change on a model that is kept read-only", () => {
  show([line("a", { said })], true);
  expect(screen.queryByRole("link", { name: "Correct" })).toBeNull();
});
