// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Item } from "../../api/client";
import { SettingsProvider } from "../../components/settings-context";
import { useSlide, withinBay } from "./slide";

const pack = (part: Partial<Item> = {}): Item => ({
  key: "p",
  name: "Pack",
  mass_kg: 0.3,
  x_m: -0.05,
  y_m: 0,
  z_m: 0,
  kind: "battery",
  bay_m: [-0.12, 0.04],
  fitted: true,
  to_come: false,
  ...part,
});

function Handle({
  onMove,
  onDrop,
  readOnly = false,
}: {
  onMove: (x: number) => void;
  onDrop: () => void;
  readOnly?: boolean;
}) {
  const slide = useSlide({ item: pack(), readOnly, stationAt: (clientX) => clientX / 1000, onMove, onDrop });
  return (
    <svg role="img" aria-label="drawing">
      <rect {...slide} />
    </svg>
  );
}

function show(readOnly = false) {
  const onMove = vi.fn();
  const onDrop = vi.fn();
  render(
    <SettingsProvider>
      <Handle onMove={onMove} onDrop={onDrop} readOnly={readOnly} />
    </SettingsProvider>,
  );
  const handle = screen.getByRole("slider");
  handle.setPointerCapture = () => undefined;
  return { handle, onMove, onDrop };
}

beforeEach(() => localStorage.clear());
afterEach(cleanup);

describe("an item slides along its bay", () => {
  it("stays in the bay and on whole millimetres", () => {
    expect(withinBay(pack(), -0.2)).toBe(-0.12);
    expect(withinBay(pack(), 0.5)).toBe(0.04);
    expect(withinBay(pack(), -0.03049)).toBe(-0.03);
    expect(withinBay(pack({ bay_m: null }), 0.5)).toBe(-0.05);
  });

  it("moves by a millimetre with an arrow, by ten with shift, and is saved when the key comes up", () => {
    const { handle, onMove, onDrop } = show();
    fireEvent.keyDown(handle, { key: "ArrowRight" });
    expect(onMove).toHaveBeenLastCalledWith(-0.049);
    fireEvent.keyDown(handle, { key: "ArrowLeft", shiftKey: true });
    expect(onMove).toHaveBeenLastCalledWith(-0.06);
    expect(onDrop).not.toHaveBeenCalled();
    fireEvent.keyUp(handle, { key: "ArrowLeft" });
    expect(onDrop).toHaveBeenCalledTimes(1);
    fireEvent.keyDown(handle, { key: "Enter" });
    expect(onMove).toHaveBeenCalledTimes(2);
  });

  it("follows the pointer only while it is held, and never on a read-only model", () => {
    const { handle, onMove, onDrop } = show();
    fireEvent.pointerMove(handle, { clientX: 20 });
    expect(onMove).not.toHaveBeenCalled();
    fireEvent.pointerDown(handle, { clientX: -50 });
    fireEvent.pointerMove(handle, { clientX: 20 });
    expect(onMove).toHaveBeenLastCalledWith(0.02);
    fireEvent.pointerUp(handle);
    fireEvent.pointerMove(handle, { clientX: 30 });
    expect(onMove).toHaveBeenCalledTimes(1);
    expect(onDrop).toHaveBeenCalledTimes(1);
    cleanup();
    const locked = show(true);
    fireEvent.pointerDown(locked.handle, { clientX: -50 });
    fireEvent.pointerMove(locked.handle, { clientX: 20 });
    fireEvent.keyDown(locked.handle, { key: "ArrowRight" });
    expect(locked.onMove).not.toHaveBeenCalled();
  });

  it("says its station in the pilot's unit", () => {
    const { handle } = show();
    expect(handle.getAttribute("aria-valuetext")).toBe("-50 mm");
    expect([handle.getAttribute("aria-valuemin"), handle.getAttribute("aria-valuemax")]).toEqual(["-120", "40"]);
  });
});
