// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Section, Surface } from "../../api/client";
import { SettingsProvider } from "../../components/settings-context";
import { Corners } from "./Corners";

const wing: Surface = {
  key: "wing",
  role: "wing",
  x_m: 0,
  z_m: 0,
  sections: [
    { y_m: 0, x_offset_m: 0, chord_m: 0.25, z_offset_m: 0, twist_rad: 0 },
    { y_m: 0.7, x_offset_m: 0.04, chord_m: 0.16, z_offset_m: 0, twist_rad: 0 },
  ],
  incidence_rad: 0,
  camber: "symmetrical",
  hinge_fraction: 0.75,
  control_inner: 0.5,
  control_outer: 1,
};

/** One pixel is a millimetre; the span runs upward from y = 1000. */
function show(surfaces: Surface[] = [wing]) {
  const calls = { onHold: vi.fn(), onMove: vi.fn(), onDrop: vi.fn() };
  render(
    <SettingsProvider>
      <svg role="img" aria-label="plan">
        <Corners
          surfaces={surfaces}
          plan={(p) => ({ x: p.x * 1000, y: 1000 - p.y * 1000 })}
          placeAt={(x, y) => ({ x: x / 1000, y: (1000 - y) / 1000 })}
          reach={0.004}
          {...calls}
        />
      </svg>
    </SettingsProvider>,
  );
  const corner = (words: RegExp) => {
    const handle = screen.getByRole("button", { name: words });
    handle.setPointerCapture = () => undefined;
    return handle;
  };
  return { ...calls, corner };
}

/** The tip of the surface as it was last moved. */
function tipOf(onMove: ReturnType<typeof vi.fn>): Section | undefined {
  const moved: Surface | undefined = onMove.mock.lastCall?.[0];
  return moved?.sections[1];
}

beforeEach(() => localStorage.clear());
afterEach(cleanup);

describe("the corners of a wing on the drawing", () => {
  it("are named by surface, place and edge, and reached by keyboard", () => {
    const { corner } = show();
    for (const words of [/wing, root, leading/, /wing, tip, leading/, /wing, root, trailing/, /wing, tip, trailing/])
      expect(corner(words).getAttribute("tabindex")).toBe("0");
  });

  it("follow the pointer on five millimetres while held, say the new size, and are saved when let go", () => {
    const { corner, onMove, onHold, onDrop } = show();
    const tip = corner(/wing, tip, leading/);
    fireEvent.pointerMove(tip, { clientX: 90, clientY: 200 });
    expect(onMove).not.toHaveBeenCalled();
    fireEvent.pointerDown(tip);
    expect(onHold).toHaveBeenLastCalledWith(true);
    fireEvent.pointerMove(tip, { clientX: 63, clientY: 222 });
    expect(tipOf(onMove)?.y_m).toBeCloseTo(0.78);
    expect(tipOf(onMove)?.x_offset_m).toBeCloseTo(0.065);
    expect(tipOf(onMove)?.chord_m).toBeCloseTo(0.135);
    expect(screen.getByText(/700 mm out, chord 160 mm/)).toBeTruthy();
    expect(onDrop).not.toHaveBeenCalled();
    fireEvent.pointerUp(tip);
    expect(onDrop).toHaveBeenCalledExactlyOnceWith("wing");
    expect(onHold).toHaveBeenLastCalledWith(false);
  });

  it("snap to a line another corner stands on, and go finely with shift", () => {
    const { corner, onMove } = show();
    const tip = corner(/wing, tip, trailing/);
    fireEvent.pointerDown(tip);
    fireEvent.pointerMove(tip, { clientX: 252, clientY: 300 });
    expect(tipOf(onMove)?.chord_m).toBeCloseTo(0.21);
    fireEvent.pointerMove(tip, { clientX: 222.6, clientY: 300, shiftKey: true });
    expect(tipOf(onMove)?.chord_m).toBeCloseTo(0.183);
  });

  it("move by a millimetre with an arrow and by ten with shift; other keys do nothing", () => {
    const { corner, onMove, onDrop } = show();
    const tip = corner(/wing, tip, leading/);
    fireEvent.keyDown(tip, { key: "ArrowUp" });
    expect(tipOf(onMove)?.y_m).toBeCloseTo(0.701);
    fireEvent.keyDown(tip, { key: "ArrowLeft", shiftKey: true });
    expect(tipOf(onMove)?.x_offset_m).toBeCloseTo(0.03);
    fireEvent.keyUp(tip, { key: "ArrowLeft" });
    expect(onDrop).toHaveBeenCalledTimes(1);
    fireEvent.keyDown(tip, { key: "a" });
    fireEvent.keyUp(tip, { key: "a" });
    expect(onMove).toHaveBeenCalledTimes(2);
    expect(onDrop).toHaveBeenCalledTimes(1);
  });
});
