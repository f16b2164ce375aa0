// @vitest-environment happy-dom
import { cleanup, fireEvent, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { Mission, ModelDetail } from "../../api/client";
import { keys } from "../../queries/models";
import { anItem, aSetup, fill, onBench, press } from "../../testing/bench";
import { refusal, served } from "../../testing/server";
import { ItemsTab } from "./ItemsTab";

beforeEach(() => localStorage.clear());
afterEach(cleanup);

const stage = (mission: Mission | null = null, incidents: ModelDetail["incidents"] = []) =>
  onBench(<ItemsTab modelId="m1" mission={mission} burnt={null} incidents={incidents} />);
const last = <T,>(of: T[]): T => of.at(-1) as T;

it("adds an item, and another pack as an alternative in the same bay", async () => {
  const bench = stage();
  await press("Add an item");
  await press("Add another pack");
  const [item, pack] = bench.now().items.slice(-2);
  expect(item).toMatchObject({ name: "New item", kind: "part", fitted: true, bay_m: null });
  expect(pack).toMatchObject({ name: "Other pack", kind: "battery", fitted: false, bay_m: [-0.18, 0.01] });
  expect(new Set(bench.now().items.map((i) => i.key)).size).toBe(4);
});

it("has an item still to come off the model, and back on board", async () => {
  const bench = stage();
  await press("Add an item");
  const tick = () => last(screen.getAllByLabelText("Still to come (not in the test flights)"));
  fireEvent.click(tick());
  await expect.poll(() => last(bench.now().items)).toMatchObject({ to_come: true, fitted: false });
  fireEvent.click(tick());
  await expect.poll(() => last(bench.now().items)).toMatchObject({ to_come: false, fitted: true });
  expect(bench.said.slice(-2)).toEqual(["New item still to come", "New item on board"]);
});

it("says what the model becomes with what is still to come, and what has to be flown again then", () => {
  const words = "250 g more: plan the re-test now.";
  const mission = { mass_kg: 2.05, added_kg: 0.25, x_cg_m: 0.11, static_margin: 0.08, stall_speed_mps: 9.6 };
  stage({ ...mission, words, fly_again: ["B3", "F2"] } as Mission);
  expect(screen.getByText("Mission mass 2050 g, 250 g more than now")).toBeTruthy();
  expect(screen.getByText(words)).toBeTruthy();
  expect(screen.getByText(/flown again then: B3, F2\./)).toBeTruthy();
});

it("gives what can be moved a bay of 5 cm either way, its ends in any unit", async () => {
  const bench = stage();
  const tick = () => last(screen.getAllByLabelText("Can be moved"));
  fireEvent.click(tick());
  await expect.poll(() => last(bench.now().items).bay_m).toBeNull();
  fireEvent.click(tick());
  await expect.poll(() => last(bench.now().items).bay_m).toEqual([-0.13, -0.03]);
  await fill("Bay, foremost station", "-6 in");
  await expect.poll(() => last(bench.now().items).bay_m?.[0]).toBeCloseTo(-0.1524);
  expect(last(bench.now().items).bay_m?.[1]).toBe(-0.03);
});

describe("after an incident", () => {
  const crash = (open: string[]): ModelDetail["incidents"] => [
    {
      record_id: "r1",
      sortie: 1,
      words: "it hit the ground",
      open,
      open_titles: open,
      damaged: ["tail", "motor"],
      damaged_names: ["Tail and fin", "Propeller and motor"],
    },
  ];

  it("asks what each repair weighs, and makes it an item at the part", async () => {
    const bench = stage(null, crash(["B1"]));
    const before = bench.now().items.length;
    await fill("Tail and fin", "12 g");
    await expect.poll(() => bench.now().items.length).toBe(before + 1);
    expect(last(bench.now().items)).toMatchObject({ name: "Repair: tail and fin", kind: "part", fitted: true });
    expect(last(bench.now().items).mass_kg).toBeCloseTo(0.012);
    // Without a tail to stand at: at the end of the body.
    expect(last(bench.now().items).x_m).toBeCloseTo(0.82);
    await fill("Tail and fin", "15 g");
    await expect.poll(() => last(bench.now().items).mass_kg).toBeCloseTo(0.015);
    expect(bench.now().items).toHaveLength(before + 1);
    await fill("Tail and fin", "0 g");
    await expect.poll(() => bench.now().items.length).toBe(before);
  });

  it("asks no more when it is gone over", () => {
    stage(null, crash([]));
    expect(screen.queryByText("Repaired: what did it add?")).toBeNull();
  });
});

it("renames an item, never to nothing", async () => {
  const bench = stage();
  const name = last(screen.getAllByLabelText("name of the item")) as HTMLInputElement;
  const call = (text: string) => {
    name.value = text;
    fireEvent.blur(name);
  };
  call("  ");
  expect(name.value).toBe("Battery");
  call(" Flight pack ");
  await expect.poll(() => bench.said).toEqual(["Battery renamed Flight pack"]);
});

it("reads a table of items; a bad one is refused by row and column and changes nothing", async () => {
  const read = aSetup({ items: [anItem("everything", { mass_kg: 1.4 })] });
  const answers: Response[] = [
    refusal("Row 2, mass_g: cannot read 'lots'."),
    Response.json({ id: "m1", revision: 5, setup: read }),
  ];
  const asked = served({ "/items.csv": () => answers.shift() });
  const { cache } = stage();
  const inCache = () => cache.getQueryData<ModelDetail>(keys.model("m1"));
  const choose = (text: string) =>
    fireEvent.change(screen.getByLabelText("Read a table"), {
      target: { files: [new File([text], "items.csv", { type: "text/csv" })] },
    });
  choose("name,mass_g,station_mm\nPack,lots,1\n");
  expect((await screen.findByRole("alert")).textContent).toContain("Row 2, mass_g: cannot read 'lots'");
  expect(inCache()?.revision).toBe(4);
  choose("name,mass_g,station_mm\neverything,1400,70\n");
  await expect.poll(() => inCache()?.setup.items).toEqual(read.items);
  expect(asked.map((a) => a.body)[1]).toContain("everything,1400,70");
  expect(screen.queryByRole("alert")).toBeNull();
});
