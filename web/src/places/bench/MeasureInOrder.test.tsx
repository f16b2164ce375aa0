// @vitest-environment happy-dom
import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import type { MeasuringStep, Said } from "../../api/client";
import { aSetup, onBench, press } from "../../testing/bench";
import { refusal, served } from "../../testing/server";
import { MeasureInOrder } from "./MeasureInOrder";

const step = (label: string, path: (string | number)[], part: Partial<MeasuringStep> = {}): MeasuringStep => ({
  part: "wing",
  label,
  words: `${label}, with the ruler.`,
  path,
  focus: `section:wing:1:${path.at(-1)}`,
  quantity: "length",
  negated: false,
  ...part,
});
const TIP = ["surfaces", 0, "sections", 1];
const STEPS = [
  step("Chord at the tip", [...TIP, "chord_m"]),
  step("Wash-out, right tip", [...TIP, "twist_rad"], { quantity: "angle", negated: true }),
  step("Wash-out, left tip", [...TIP, "left_twist_rad"], { quantity: "angle", negated: true }),
];

/** The measure that is taken stands outside, in the address. */
function InOrder({ begun = "in-order", onDone = () => undefined }: { begun?: string; onDone?: () => void }) {
  const [at, setAt] = useState(begun);
  return <MeasureInOrder at={at} onAt={setAt} onDone={onDone} />;
}

function stage(begun?: string, doubts: Said[] = []) {
  served({ "/measuring-steps": STEPS });
  const done = vi.fn();
  return { done, ...onBench(<InOrder onDone={done} {...(begun ? { begun } : {})} />, { doubts }) };
}

it("asks anew for what is in doubt, without what stands there, so that the same typed again is a reading", async () => {
  const key = [...TIP, "chord_m"].join(".");
  const doubt = {
    code: "reason",
    severity: "stop",
    words: "Ten times the silhouette's?",
    about: ["wing", key],
  } as Said;
  const bench = stage(key, [doubt]);
  await screen.findByText(/the same read once more is believed/);
  expect(field().value).toBe("");
  expect(screen.getByText(/1 in doubt/)).toBeTruthy();
  await userEvent.type(field(), "200{Enter}");
  await expect.poll(() => bench.readings.at(-1)).toMatchObject({ key, value: expect.closeTo(0.2), again: false });
});

it("takes them in any order, from the one that stands in the address", async () => {
  stage(STEPS[2]?.path.join("."));
  await screen.findByText("Step 3 of 3, wing");
  await userEvent.selectOptions(screen.getByLabelText("Go to"), "1 wing: Chord at the tip");
  expect(await screen.findByText("Step 1 of 3, wing")).toBeTruthy();
});

it("keeps further readings and those of the left half apart, and goes on by Enter on an empty field", async () => {
  const bench = stage();
  await screen.findByText("Step 1 of 3, wing");
  await press("Left half");
  await waitFor(() => expect(document.activeElement).toBe(field()));
  expect(field().value, "what the left half reads is not known").toBe("");
  await userEvent.type(field(), "204{Enter}");
  await expect
    .poll(() => bench.readings.at(-1))
    .toMatchObject({ value: expect.closeTo(0.204), left: true, again: true });
  expect(screen.getByText("Step 1 of 3, wing")).toBeTruthy();
  await press("Left half");
  await press("Read it again");
  await userEvent.type(field(), "198{Enter}");
  await expect
    .poll(() => bench.readings.at(-1))
    .toMatchObject({ value: expect.closeTo(0.198), left: false, again: true });
  await waitFor(() => expect(field().value).toBe(""));
  await userEvent.type(field(), "{Enter}");
  expect(await screen.findByText("Step 2 of 3, wing")).toBeTruthy();
  expect(screen.queryByRole("button", { name: "Left half" }), "an incidence has its own left half").toBeNull();
});

const field = () => screen.getByRole("textbox") as HTMLInputElement;
const enter = (text: string) => {
  fireEvent.change(field(), { target: { value: text } });
  fireEvent.blur(field());
};

beforeEach(() => localStorage.clear());
afterEach(cleanup);

it("asks for one measure at a time, the cursor in it, lit up on the drawing", async () => {
  const bench = stage();
  await screen.findByText("Step 1 of 3, wing");
  await waitFor(() => expect(document.activeElement).toBe(field()));
  expect(field().value).toBe("200");
  expect(bench.shown).toContain("section:wing:1:chord_m");
  enter("190");
  await expect.poll(() => bench.now().airframe.surfaces[0]?.sections[1]?.chord_m).toBe(0.19);
  await press("Next");
  expect(await screen.findByText("Wash-out, right tip, with the ruler.")).toBeTruthy();
  await press("Back");
  expect(await screen.findByText("Step 1 of 3, wing")).toBeTruthy();
});

it("goes on by Enter alone, the cursor in each next measure; what is refused stays, and a guess passed over is still one", async () => {
  const bench = stage();
  await screen.findByText("Step 1 of 3, wing");
  await waitFor(() => expect(document.activeElement).toBe(field()));
  await userEvent.clear(field());
  await userEvent.type(field(), "about a hand{Enter}");
  expect((await screen.findByRole("alert")).textContent).toContain("Cannot read");
  expect(screen.getByText("Step 1 of 3, wing")).toBeTruthy();
  await userEvent.clear(field());
  await userEvent.type(field(), "7 1/2 in{Enter}");
  await screen.findByText("Step 2 of 3, wing");
  expect(bench.now().airframe.surfaces[0]?.sections[1]?.chord_m).toBeCloseTo(0.1905);
  await waitFor(() => expect(document.activeElement).toBe(field()));
  const before = bench.now();
  await userEvent.type(field(), "{Enter}");
  await screen.findByText("Step 3 of 3, wing");
  expect(bench.now()).toEqual(before);
  await userEvent.type(field(), "{Enter}");
  expect(bench.done).toHaveBeenCalledTimes(1);
});

it("counts wash-out as nose down, and the left tip like the right one until it is measured itself", async () => {
  const bench = stage();
  await screen.findByText("Step 1 of 3, wing");
  await press("Next");
  await screen.findByText("Step 2 of 3, wing");
  enter("3");
  const tip = () => bench.now().airframe.surfaces[0]?.sections[1];
  await expect.poll(() => tip()?.twist_rad).toBeCloseTo((-3 * Math.PI) / 180);
  await press("Next");
  await screen.findByText("Step 3 of 3, wing");
  expect(field().value, "as the right one").toBe("3.0");
  enter("-2.5");
  await expect.poll(() => tip()?.left_twist_rad).toBeCloseTo((2.5 * Math.PI) / 180);
  expect(tip()?.twist_rad).toBeCloseTo((-3 * Math.PI) / 180);
});

it("ends on its last step, or when one has enough of it, and puts the light out", async () => {
  const bench = stage();
  await screen.findByText("Step 1 of 3, wing");
  await press("Stop measuring");
  expect(bench.done).toHaveBeenCalledTimes(1);
  expect(bench.shown.at(-1)).toBeNull();
  await press("Next");
  await press("Next");
  await press("Finished");
  expect(bench.done).toHaveBeenCalledTimes(2);
});

it("says why there is nothing to measure", async () => {
  served({ "/measuring-steps": refusal("A surface needs two chords.") });
  onBench(<InOrder />);
  expect((await screen.findByRole("alert")).textContent).toContain("A surface needs two chords.");
});

it("begins at the first that is still a guess, and a guess that was found right is measured by a tap", async () => {
  served({ "/measuring-steps": STEPS });
  const key = [...TIP, "twist_rad"].join(".");
  const bench = onBench(<InOrder />, { setup: aSetup({ guessed: [key] }) });
  await screen.findByText("Step 2 of 3, wing");
  expect(screen.getByText("2 of 3 measured")).toBeTruthy();
  expect(screen.getByText("Guessed by the silhouette.")).toBeTruthy();
  await press("Measured: it is so");
  await expect.poll(() => bench.now().guessed).toEqual([]);
  expect(await screen.findByText("3 of 3 measured")).toBeTruthy();
});
