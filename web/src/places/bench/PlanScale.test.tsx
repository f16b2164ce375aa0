// @vitest-environment happy-dom
import { cleanup, fireEvent, render, renderHook, screen, waitFor } from "@testing-library/react";
import { act } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Configuration } from "../../api/client";
import { SettingsProvider } from "../../components/settings-context";
import { type Change, EditingProvider, Measure } from "./editing";
import { PlanScale, usePlanScale } from "./PlanScale";

const editing = (plan: number, edit = vi.fn((_change: Change, _words: string) => Promise.resolve())) => ({
  setup: { site_elevation_m: 0 } as Configuration,
  readOnly: false,
  plan,
  edit,
  take: async () => undefined,
  origins: null,
  doubts: [],
  onFocus: () => undefined,
});

function scale(plan: number) {
  const onPlan = vi.fn();
  render(
    <SettingsProvider>
      <EditingProvider value={editing(plan)}>
        <PlanScale plan={plan} onPlan={onPlan} />
      </EditingProvider>
    </SettingsProvider>,
  );
  return onPlan;
}

beforeEach(() => localStorage.clear());
afterEach(cleanup);

describe("lengths from a plan", () => {
  it("are taken in common scales, and in any other", () => {
    const onPlan = scale(1);
    fireEvent.change(screen.getByRole("combobox"), { target: { value: "4" } });
    expect(onPlan).toHaveBeenLastCalledWith(4);
    fireEvent.change(screen.getByRole("combobox"), { target: { value: "own" } });
    const own = screen.getByRole("textbox");
    fireEvent.change(own, { target: { value: "1 : 6,5" } });
    fireEvent.keyDown(own, { key: "Enter" });
    expect(onPlan).toHaveBeenLastCalledWith(6.5);
  });

  it("refuse what is no scale and say what to write; nothing is changed", () => {
    const onPlan = scale(6.5);
    const own = screen.getByRole("textbox");
    for (const wrong of ["0", "-4", "half", "1000"]) {
      fireEvent.change(own, { target: { value: wrong } });
      fireEvent.blur(own);
      expect(screen.getByRole("alert").textContent).toContain("how many millimetres");
    }
    expect(onPlan).not.toHaveBeenCalled();
  });

  it("are remembered for each model", () => {
    const { result } = renderHook(() => usePlanScale("a"));
    act(() => result.current[1](5));
    expect(renderHook(() => usePlanScale("a")).result.current[0]).toBe(5);
    expect(renderHook(() => usePlanScale("b")).result.current[0]).toBe(1);
  });

  it("are shown on the plan with the real length beside, and saved at full size; angles are not scaled", async () => {
    const edit = vi.fn((_change: Change, _words: string) => Promise.resolve());
    render(
      <SettingsProvider>
        <EditingProvider value={editing(4, edit)}>
          <Measure
            label="Chord"
            quantity="length"
            value={0.24}
            words="measured"
            change={(s, v) => ({ ...s, site_elevation_m: v })}
          />
          <Measure label="Incidence" quantity="angle" value={0.0174533} words="measured" change={(s) => s} />
        </EditingProvider>
      </SettingsProvider>,
    );
    expect((screen.getByRole("textbox", { name: /Chord/ }) as HTMLInputElement).value).toBe("60");
    expect(screen.getByText("on the plan; 240 mm on the model")).toBeTruthy();
    expect((screen.getByRole("textbox", { name: /Incidence/ }) as HTMLInputElement).value).toBe("1.0");
    fireEvent.change(screen.getByRole("textbox", { name: /Chord/ }), { target: { value: "62.5" } });
    fireEvent.blur(screen.getByRole("textbox", { name: /Chord/ }));
    await waitFor(() => expect(edit).toHaveBeenCalled());
    expect(edit.mock.lastCall?.[0]({} as Configuration).site_elevation_m).toBeCloseTo(0.25);
  });
});
