// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";
import type { ModelDetail } from "../api/client";
import { refusal, served } from "../testing/server";
import { ModelContext } from "./model-context";
import { Photos } from "./Photos";

afterEach(cleanup);

const line = (id: string, part: object = {}) => ({
  id,
  record_id: "r1",
  work_order_id: null,
  position: null,
  caption: "",
  width: 1280,
  height: 960,
  added_at: "2026-05-01T10:00:00Z",
  ...part,
});

const stage = (model: Partial<ModelDetail> = {}) =>
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <ModelContext.Provider value={{ id: "m1", read_only: false, ...model } as ModelDetail}>
        <Photos of={{ record_id: "r1" }} what="it hit the ground" />
      </ModelContext.Provider>
    </QueryClientProvider>,
  );
const choose = (...names: string[]) =>
  fireEvent.change(screen.getByLabelText("Add a photo: it hit the ground"), {
    target: { files: names.map((n) => new File(["x"], n, { type: "image/jpeg" })) },
  });

it("shows the photos of its own incident, each said in words", async () => {
  served({
    "/photos": [
      line("p1", { caption: "left root rib" }),
      line("p2", { record_id: "other" }),
      line("p3", { record_id: null, work_order_id: "o1", position: 0 }),
    ],
  });
  stage();
  const shown = await screen.findAllByRole("img");
  expect(shown.map((i) => i.getAttribute("alt"))).toEqual(["it hit the ground, 1 of 1: left root rib"]);
});

it("adds one after the other; what cannot be read is named and the others stay", async () => {
  const answers: unknown[] = [[line("p1")], refusal("This is no photo that can be read."), [line("p1"), line("p2")]];
  const asked = served({ "/m1/photos": [], "": () => answers.shift() });
  stage();
  await screen.findByText("Add a photo");
  choose("a.jpg", "b.jpg", "c.jpg");
  expect((await screen.findByRole("alert")).textContent).toBe("b.jpg: This is no photo that can be read.");
  await expect.poll(() => screen.getAllByRole("img").length).toBe(2);
  expect(new Set(asked.map((a) => a.path)).size, "each has an id of its own").toBe(4);
});

it("takes one back", async () => {
  served({ "/m1/photos": [line("p1"), line("p2")], "/photos/p1": [line("p2")] });
  stage();
  await expect.poll(() => screen.queryAllByRole("img").length).toBe(2);
  fireEvent.click(screen.getByRole("button", { name: "take back photo 1" }));
  await expect.poll(() => screen.queryAllByRole("img").length).toBe(1);
});

it("of a model that is only looked at it takes none", async () => {
  served({ "/m1/photos": [line("p1")] });
  stage({ read_only: true });
  await screen.findByRole("img");
  expect(screen.queryByText("Add a photo")).toBeNull();
  expect(screen.queryByRole("button")).toBeNull();
});
