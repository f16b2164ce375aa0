// @vitest-environment happy-dom
import { cleanup, fireEvent, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, it } from "vitest";
import type { BalanceReading, Configuration } from "../../api/client";
import { anAnswer, aSetup, field, fill, onBench, press, WING } from "../../testing/bench";
import { refusal, served } from "../../testing/server";
import { WeighTab } from "./WeighTab";

const reading = (part: Partial<BalanceReading>): BalanceReading => ({
  x_m: 0.17,
  sigma_m: 0.0012,
  y_m: null,
  mass_kg: null,
  how: "on two scales",
  caveats: [],
  ...part,
});

const stage = (setup: Configuration = aSetup(), answer = anAnswer()) =>
  onBench(<WeighTab modelId="m1" answer={answer} />, { setup });
const choose = (words: string) =>
  fireEvent.change(screen.getByLabelText("How it is read"), {
    target: { value: { "held on the wing": "span", "two scales": "two", "three scales": "three" }[words] },
  });

beforeEach(() => localStorage.clear());
afterEach(cleanup);

it("says which way up the model is held: a low wing would roll over between the fingers", () => {
  stage();
  expect(screen.getByText(/This one upside down/)).toBeTruthy();
  cleanup();
  const high = { ...WING, z_m: 0.05 };
  stage(aSetup({ airframe: { ...aSetup().airframe, surfaces: [high] } }));
  expect(screen.getByText(/This one upright/)).toBeTruthy();
});

it("turns a place on a swept wing into a station by the program, and keeps what cannot be read", async () => {
  const swept = "On this swept wing the same distance measured at the root would be another balance point.";
  const asked = served({
    "/weighing": reading({
      x_m: 0.083,
      how: "held on the wing",
      caveats: [{ code: "swept", severity: "warning", words: swept, about: [] }],
    }),
  });
  const bench = stage();
  choose("held on the wing");
  const typed = await fill("Behind the leading edge there", "nearly in the middle");
  expect(screen.getByRole("alert").textContent).toContain("Cannot read");
  expect(typed.value).toBe("nearly in the middle");
  expect(screen.getByText("Enter every reading.")).toBeTruthy();
  await fill("Behind the leading edge there", "40 mm");
  await fill("From the centre line", "300 mm");
  await press("What does that mean?", 0);
  expect(await screen.findByText(swept)).toBeTruthy();
  const span = { behind_le_m: 0.04, y_m: 0.3, sigma_m: 0.003 };
  expect(asked[0]?.body).toEqual({ wing: WING, span, supports: [] });
  expect(bench.shown.at(-1), "drawn where it is held").toBe("held:0.3:0.04");
  expect(bench.now().jig, "nothing is kept before it is used").toBeUndefined();
  await press("Use this reading");
  await expect
    .poll(() => bench.now().jig)
    .toEqual({ x_m: 0.083, sigma_m: 0.0012, items_x_m: 0.098, how: "held on the wing" });
  await press("Take the reading back");
  await expect.poll(() => bench.now().jig).toBeNull();
});

it("weighs on two scales only with every number, and says when they contradict the items", async () => {
  const asked = served({ "/weighing": reading({ mass_kg: 1.0 }) });
  const bench = stage();
  choose("two scales");
  await fill("Scale, front point", "400 g");
  await fill("Station, front point", "50 mm");
  await fill("Scale, rear point", "600 g");
  expect(screen.getByText("Enter every reading.")).toBeTruthy();
  await fill("Station, rear point", "250 mm");
  await press("What does that mean?", 0);
  expect(await screen.findByText(/Balance point 170\.0 mm/)).toBeTruthy();
  expect(screen.getByText(/The scales say 1000 g, the items 1800 g: correct the airframe's mass/)).toBeTruthy();
  expect(asked[0]?.body).toMatchObject({
    supports: [
      { name: "front point", mass_kg: 0.4, x_m: 0.05, y_m: 0 },
      { name: "rear point", mass_kg: 0.6, x_m: 0.25, y_m: 0 },
    ],
  });
  await press("Use this reading");
  await expect.poll(() => bench.now().jig?.x_m).toBe(0.17);
});

it("takes a second reading beside the first, typed or by scales, and takes it back", async () => {
  served({ "/weighing": reading({ x_m: 0.101, sigma_m: 0.004, how: "on two scales" }) });
  // Read, and a pack moved 10 mm forward of where it was since: the sum of the items is 98 mm now.
  const jig = { x_m: 0.11, sigma_m: 0.002, items_x_m: 0.108, how: "jig" };
  const bench = stage(aSetup({ jig }));
  await fill("Read again, another way", "101 mm");
  await expect.poll(() => bench.now().jig?.again_m).toBeCloseTo(0.101);
  expect(bench.now().jig?.x_m, "brought along over the pack that moved").toBeCloseTo(0.1);
  await press("Take the second reading back");
  await expect.poll(() => bench.now().jig?.again_m).toBeNull();
  choose("two scales");
  for (const [label, typed] of [
    ["Scale, front point", "400 g"],
    ["Station, front point", "50 mm"],
    ["Scale, rear point", "600 g"],
    ["Station, rear point", "250 mm"],
  ] as const)
    await fill(label, typed);
  await press("What does that mean?", 0);
  await press("Use it as the second reading");
  await expect.poll(() => bench.now().jig).toMatchObject({ again_m: 0.101, sigma_m: 0.004, how: "jig" });
});

it("reads connected scales once their stations are known, and says when they do not answer", async () => {
  const answers: unknown[] = [refusal("The scales do not answer. Type the masses.", 503), { masses_kg: [0.4, 1.4] }];
  served({ "/scales": () => answers.shift() });
  stage();
  choose("two scales");
  expect(screen.queryByText("Read the scales (simulated)")).toBeNull();
  await fill("Station, front point", "-100");
  await fill("Station, rear point", "400");
  await press("Read the scales (simulated)");
  expect((await screen.findByRole("alert")).textContent).toContain("Type the masses.");
  await press("Read the scales (simulated)");
  await expect.poll(() => (screen.getByLabelText("Scale, rear point") as HTMLInputElement).value).toBe("1400.0");
});

it("puts three scales under the wheels the airframe has", () => {
  const gear = { main_x_m: 0.12, main_y_m: 0.2, third_x_m: -0.2 } as Configuration["airframe"]["gear"];
  stage(aSetup({ airframe: { ...aSetup().airframe, gear: gear ?? null } }));
  choose("three scales");
  expect(screen.getByText("Under the nose wheel")).toBeTruthy();
  expect(field("Right of the centre line, left wheel").value).toBe("-200");
});

it("reads the balance across by a mass on the tip that rises, and takes it back", async () => {
  const words = "The right wing is heavy by 10.5 g at the tip.";
  const asked = served({ "/lateral": { value_m: 0.006, sigma_m: 0.001, words } });
  const bench = stage();
  await fill("Mass that levels it", "15");
  await press("What does that mean?");
  expect(await screen.findByText(words)).toBeTruthy();
  expect(asked[0]?.body).toEqual({ tip_mass_kg: 0.015, tip: "left", half_span_m: 0.7, mass_kg: 1.8 });
  await press("Keep this reading");
  await expect
    .poll(() => bench.now().across)
    .toEqual({ value_m: 0.006, sigma_m: 0.001, items_m: 0.001, how: "mass on a tip" });
  await press("Take the reading across back");
  await expect.poll(() => bench.now().across).toBeNull();
});

it("finds where a loose wing goes and draws it there", async () => {
  const asked = served({ "/wing-mount": { shift_m: 0.0214, words: "21 mm further back; the wing weighs too." } });
  const bench = stage();
  for (const [label, value] of [
    ["Mass without the wing", "1100"],
    ["It balances, from the datum", "60"],
    ["Mass of the wing", "450"],
    ["The wing balances, behind its root leading edge", "95"],
  ] as const)
    await fill(label, value);
  await press("Where does the wing go?");
  expect(await screen.findByText(/the wing weighs too/)).toBeTruthy();
  expect(asked[0]?.body).toEqual({ bare_mass_kg: 1.1, bare_x_m: 0.06, wing_mass_kg: 0.45, wing_x_m: 0.095 });
  await press("Draw it there");
  await expect.poll(() => bench.now().airframe.surfaces[0]?.x_m).toBe(0.021);
});

it("uses a published point only with the reason the pilot writes down", async () => {
  const maiden = {
    ...anAnswer().maiden,
    published: { code: "behind", severity: "warning" as const, words: "behind", about: [] },
  };
  const bench = stage(aSetup(), anAnswer({ maiden }));
  await fill("Published balance point", "160 mm");
  await expect.poll(() => bench.now().published?.x_m).toBe(0.16);
  const reason = await screen.findByLabelText(/Used all the same, because/);
  fireEvent.change(reason, { target: { value: "three sisters fly well there" } });
  fireEvent.blur(reason);
  await expect.poll(() => bench.now().published?.reason).toBe("three sisters fly well there");
});

it("offers balance sheet and template for the place on the span that is asked for", async () => {
  stage();
  await fill("Template for the wing at", "120 mm");
  const links = screen.getAllByRole("link").map((a) => a.getAttribute("href"));
  expect(links).toEqual([
    "/api/v1/models/m1/balance-sheet.pdf",
    "/api/v1/models/m1/marking-template.pdf?y_m=0.12",
    "/api/v1/models/m1/marking-template.svg?y_m=0.12",
  ]);
});
