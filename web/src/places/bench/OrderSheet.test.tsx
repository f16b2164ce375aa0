// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { BenchAnswer, Configuration } from "../../api/client";
import { SettingsProvider } from "../../components/settings-context";
import { type Change, EditingProvider } from "./editing";
import { OrderSheet } from "./OrderSheet";

const setup = {
  jig: null,
  order: {
    steps: [
      { words: "Move Battery 12 mm forward.", done: false },
      { words: "Add 10 g at the nose.", done: true },
    ],
    expected_m: 0.0967,
    tolerance_m: 0.0025,
    place_words: "Fingers 92 mm behind the leading edge.",
    reading_m: null,
  },
} as unknown as Configuration;
const answer = {
  items_x_cg_m: 0.098,
  order: { code: "open", severity: "warning", words: "1 of 2 steps to do, then read the balance." },
} as BenchAnswer;

function show(part: Partial<Configuration> = {}, said = answer.order) {
  const edit = vi.fn((_change: Change, _words: string) => Promise.resolve());
  const value = {
    setup: { ...setup, ...part },
    readOnly: false,
    plan: 1,
    edit,
    take: async () => undefined,
    origins: null,
    doubts: [],
    onFocus: () => undefined,
  };
  render(
    <SettingsProvider>
      <EditingProvider value={value}>
        <OrderSheet answer={{ ...answer, order: said }} />
      </EditingProvider>
    </SettingsProvider>,
  );
  const applied = () => edit.mock.lastCall?.[0](value.setup);
  return { edit, applied };
}

beforeEach(() => localStorage.clear());
afterEach(cleanup);

describe("the bench's work order", () => {
  it("is not there without one", () => {
    show({ order: null });
    expect(screen.queryByText("Work order")).toBeNull();
  });

  it("says what to do, what to read then and within what, with the caution first", () => {
    show();
    expect(screen.getByText("Propeller off, pack out while you work.")).toBeTruthy();
    expect(screen.getByText("96.7 mm behind the datum")).toBeTruthy();
    expect(screen.getByText(/within 2.5 mm/)).toBeTruthy();
    expect(screen.getByText(/Fingers 92 mm/)).toBeTruthy();
    expect(screen.getByRole("status").textContent).toContain("1 of 2 steps");
  });

  it("ticks one step and leaves the others", () => {
    const { edit, applied } = show();
    fireEvent.click(screen.getByLabelText("Move Battery 12 mm forward."));
    expect(applied()?.order?.steps.map((s) => s.done)).toEqual([true, true]);
    expect(edit.mock.lastCall?.[1]).toBe("done: Move Battery 12 mm forward.");
    fireEvent.click(screen.getByLabelText("Add 10 g at the nose."));
    expect(applied()?.order?.steps.map((s) => s.done)).toEqual([false, false]);
  });

  it("takes the reading as the model's balance reading, with what the items sum to then", async () => {
    const { applied } = show();
    const field = screen.getByRole("textbox", { name: "Balance point read, from the datum" });
    fireEvent.change(field, { target: { value: "97.4" } });
    fireEvent.blur(field);
    await waitFor(() => expect(applied()).toBeTruthy());
    expect(applied()?.order?.reading_m).toBeCloseTo(0.0974);
    expect(applied()?.jig).toMatchObject({ sigma_m: 0.002, items_x_m: 0.098 });
    expect(applied()?.jig?.x_m).toBeCloseTo(0.0974);
  });

  it("is given up while open and put away when proved", () => {
    const open = show();
    fireEvent.click(screen.getByText("Give the work order up"));
    expect(open.edit.mock.lastCall?.[1]).toBe("work order given up");
    expect(open.applied()?.order).toBeNull();
    cleanup();
    const order = setup.order && {
      ...setup.order,
      reading_m: 0.097,
      steps: setup.order.steps.map((s) => ({ ...s, done: true })),
    };
    const proved = show(
      { order: order ?? null },
      { code: "proved", severity: "good", words: "Proved: it reads 0.3 mm aft.", about: [] },
    );
    fireEvent.click(screen.getByText("Put it away"));
    expect(proved.edit.mock.lastCall?.[1]).toBe("work order put away");
    expect(screen.getByRole("status").className).toContain("text-success");
  });
});
