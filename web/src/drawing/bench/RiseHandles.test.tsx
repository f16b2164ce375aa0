// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Surface } from "../../api/client";
import { SettingsProvider } from "../../components/settings-context";
import { RiseHandles } from "./RiseHandles";

const wing: Surface = {
  key: "wing",
  role: "wing",
  x_m: 0,
  z_m: 0.05,
  sections: [
    { y_m: 0, x_offset_m: 0, chord_m: 0.25, z_offset_m: 0, twist_rad: 0 },
    { y_m: 0.7, x_offset_m: 0, chord_m: 0.2, z_offset_m: 0.03, twist_rad: 0 },
  ],
  incidence_rad: 0,
  camber: "symmetrical",
  hinge_fraction: 0.75,
  control_inner: 0.5,
  control_outer: 1,
};

function show() {
  const onRise = vi.fn();
  render(
    <SettingsProvider>
      <svg role="img" aria-label="from behind">
        <RiseHandles surfaces={[wing]} map={(p) => ({ x: p.x * 1000, y: -p.y * 1000 })} scale={0.001} onRise={onRise} />
      </svg>
    </SettingsProvider>,
  );
  const handle = screen.getByRole("slider");
  handle.setPointerCapture = () => undefined;
  return { handle, onRise };
}

beforeEach(() => localStorage.clear());
afterEach(cleanup);

describe("the tip's rise on the view from behind", () => {
  it("is one handle a chord, with its height in words", () => {
    const { handle } = show();
    expect(handle.getAttribute("aria-label")).toContain("wing, tip: rise over the root");
    expect(handle.getAttribute("aria-valuetext")).toBe("30 mm above the root");
  });

  it("goes up when it is dragged up, on five millimetres, and is saved once when let go", () => {
    const { handle, onRise } = show();
    fireEvent.pointerMove(handle, { clientY: 0 });
    fireEvent.pointerDown(handle, { clientY: 100 });
    fireEvent.pointerMove(handle, { clientY: 83 });
    expect(handle.getAttribute("aria-valuenow")).toBe("45");
    expect(onRise).not.toHaveBeenCalled();
    fireEvent.pointerUp(handle);
    expect(onRise).toHaveBeenCalledExactlyOnceWith("wing", 1, 0.045);
  });

  it("moves by a millimetre with an arrow, may go below the root, and saves nothing when nothing changed", () => {
    const { handle, onRise } = show();
    fireEvent.keyDown(handle, { key: "ArrowUp" });
    fireEvent.keyUp(handle, { key: "ArrowUp" });
    expect(onRise).toHaveBeenLastCalledWith("wing", 1, 0.031);
    for (let i = 0; i < 4; i++) fireEvent.keyDown(handle, { key: "ArrowDown", shiftKey: true });
    expect(handle.getAttribute("aria-valuetext")).toBe("10 mm below the root");
    fireEvent.keyUp(handle, { key: "ArrowDown" });
    expect(onRise).toHaveBeenLastCalledWith("wing", 1, -0.01);
    fireEvent.pointerDown(handle, { clientY: 50 });
    fireEvent.pointerUp(handle);
    expect(onRise).toHaveBeenCalledTimes(2);
  });
});
