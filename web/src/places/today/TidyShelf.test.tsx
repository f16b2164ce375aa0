// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";
import type { ShelfModel } from "../../api/client";
import { refusal, served } from "../../testing/server";
import { TidyShelf } from "./TidyShelf";

const HEATHER = { id: "m1", name: "Heather", story: "", read_only: false, put_away: true } as ShelfModel;

function show(what: React.ReactNode): void {
  render(<QueryClientProvider client={new QueryClient()}>{what}</QueryClientProvider>);
}

const nothing = () => new Response(null, { status: 204 });
const deleting = () =>
  screen.getByRole("button", { name: "Delete Heather for good", hidden: true }) as HTMLButtonElement;

afterEach(cleanup);

it("puts a model away without a question: nothing is lost by it", async () => {
  const asked = served({ "/put-away": nothing });
  show(<TidyShelf models={[{ ...HEATHER, put_away: false }]} />);
  fireEvent.click(screen.getByRole("button", { name: "Put Heather away", hidden: true }));
  await expect.poll(() => asked.map((a) => a.path)).toEqual(["/api/v1/models/m1/put-away"]);
});

it("says why a model cannot be put away", async () => {
  served({ "/put-away": refusal("This model is not here.", 404) });
  show(<TidyShelf models={[{ ...HEATHER, put_away: false }]} />);
  fireEvent.click(screen.getByRole("button", { name: "Put Heather away", hidden: true }));
  expect((await screen.findByRole("alert")).textContent).toContain("This model is not here.");
});

it("is not there while there is no model", () => {
  show(<TidyShelf models={[]} />);
  expect(screen.queryByTestId("tidy")).toBeNull();
});

it("deletes only once its name is typed, offers a copy first, and takes back without either", async () => {
  const asked = served({ "/take-back": nothing, "/models/m1": nothing });
  show(<TidyShelf models={[HEATHER]} />);
  fireEvent.click(screen.getByText("Delete for good…"));
  expect(screen.getByText("export its project file").getAttribute("href")).toBe("/api/v1/models/m1/archive");
  expect(deleting().disabled).toBe(true);
  fireEvent.change(screen.getByLabelText(/Type its name/), { target: { value: "Heath" } });
  expect(deleting().disabled).toBe(true);
  fireEvent.change(screen.getByLabelText(/Type its name/), { target: { value: "Heather" } });
  fireEvent.click(deleting());
  await expect.poll(() => asked.map((a) => a.path)).toEqual(["/api/v1/models/m1"]);
  fireEvent.click(screen.getByText("Take back"));
  await expect.poll(() => asked.at(-1)?.path).toBe("/api/v1/models/m1/take-back");
});
