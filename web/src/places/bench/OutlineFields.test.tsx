// @vitest-environment happy-dom
import { cleanup, fireEvent, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, it } from "vitest";
import type { Surface } from "../../api/client";
import { aSection, onBench, press, WING } from "../../testing/bench";
import { refusal, served } from "../../testing/server";
import { type Change, useEditing } from "./editing";
import { OutlineTools, SectionChoice } from "./OutlineFields";

/** The tools of the wing that is on the bench now. */
function Wing({ of: Tools }: { of: typeof OutlineTools }) {
  const { setup } = useEditing();
  const put =
    (change: (surface: Surface) => Surface): Change =>
    (s) => ({ ...s, airframe: { ...s.airframe, surfaces: s.airframe.surfaces.map(change) } });
  const wing = setup.airframe.surfaces[0];
  return wing ? <Tools surface={wing} put={put} /> : null;
}

beforeEach(() => localStorage.clear());
afterEach(cleanup);

it("makes an ellipse of the wing's own span and root, straight along what is chosen", async () => {
  const ellipse = [aSection(0, 0.28), aSection(0.4, 0.2, 0.04), aSection(0.7, 0.01, 0.13)];
  const asked = served({ "/ellipse": ellipse });
  const bench = onBench(<Wing of={OutlineTools} />);
  fireEvent.change(screen.getByLabelText(/Ellipse, straight along/), { target: { value: "1" } });
  await press("Make it an ellipse");
  await expect.poll(() => bench.now().airframe.surfaces[0]?.sections).toEqual(ellipse);
  expect(asked[0]?.body).toEqual({ half_span_m: 0.7, root_chord_m: 0.28, straight_at: 1, tip_rise_m: 0 });
  expect(bench.said).toEqual(["wing made an ellipse of its span and root chord"]);
});

it("reads a table in the scale of the plan; a bad row is named, the text stays and nothing is changed", async () => {
  const read = [aSection(0, 0.88), aSection(0.8, 0.44)];
  const asked = served({
    "/outline": ({ table }: { table: string }) => (table.includes("wide") ? refusal("Row 2: three numbers.") : read),
  });
  const bench = onBench(<Wing of={OutlineTools} />, { plan: 4 });
  const table = screen.getByLabelText(/Table of chords/) as HTMLTextAreaElement;
  fireEvent.change(table, { target: { value: "0 0 220\n200 5 wide" } });
  await press("Use this table");
  expect((await screen.findByRole("alert")).textContent).toContain("Row 2");
  expect(table.value).toBe("0 0 220\n200 5 wide");
  expect(bench.now().airframe.surfaces).toEqual([WING]);
  fireEvent.change(table, { target: { value: "0 0 220\n200 5 110" } });
  await press("Use this table");
  await expect.poll(() => bench.now().airframe.surfaces[0]?.sections).toEqual(read);
  expect(asked[1]?.body).toEqual({ table: "0 0 220\n200 5 110", millimetres_per_unit: 4 });
  expect(screen.queryByRole("alert")).toBeNull();
});

it("takes a section by its family, by name, or from coordinates, and forgets the name with the family", async () => {
  const foil = { name: "Fell 12", thickness: 0.12, camber: 0.02, source: "measured" };
  const own = { name: "bought.dat", thickness: 0.09, camber: 0, source: "read" };
  served({ "/sections": [{ family: "symmetrical", foil }], "/section": own });
  const bench = onBench(<Wing of={SectionChoice} />);
  const now = () => bench.now().airframe.surfaces[0];
  await screen.findByRole("option", { name: "Fell 12" });
  fireEvent.change(screen.getByLabelText("By name, if known"), { target: { value: "Fell 12" } });
  expect(await screen.findByText(/12\.0 % thick, 2\.0 % camber/)).toBeTruthy();
  expect(now()?.foil).toEqual(foil);
  fireEvent.change(screen.getByLabelText("Section"), { target: { value: "flat_bottom" } });
  await expect.poll(now).toMatchObject({ camber: "flat_bottom", foil: null });
  fireEvent.change(screen.getByLabelText("Read coordinates (.dat)"), {
    target: { files: [new File(["1 0\n0 0\n"], "bought.dat")] },
  });
  await expect.poll(() => now()?.foil).toEqual(own);
});
