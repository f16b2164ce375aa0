// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import type { Item } from "../../api/client";
import { SettingsProvider } from "../../components/settings-context";
import { anItem } from "../../testing/bench";
import { Weights } from "./Weights";

const BATTERY = anItem("Battery", { kind: "battery", x_m: -0.08, bay_m: [-0.18, 0.01] });
const RECEIVER = anItem("Receiver", { x_m: 0.05, bay_m: [0, 0.1] });
const SERVO = anItem("Servo", { x_m: 0.2 });

function show(readOnly = false) {
  const onMove = vi.fn<(item: Item, x: number) => void>();
  const onDrop = vi.fn<(item: Item) => void>();
  render(
    <SettingsProvider>
      <svg role="img" aria-label="side">
        <Weights
          items={[BATTERY, RECEIVER, SERVO]}
          battery={BATTERY}
          side={(p) => ({ x: p.x * 1000, y: 100 })}
          width={800}
          y={200}
          sliders={(item) => ({
            item,
            readOnly,
            stationAt: (x) => x / 1000,
            onMove: (x) => onMove(item, x),
            onDrop: () => onDrop(item),
          })}
        />
      </svg>
    </SettingsProvider>,
  );
  return { onMove, onDrop };
}

beforeEach(() => localStorage.clear());
afterEach(cleanup);

it("gives a handle to what can be moved; the battery has its own in the bay", () => {
  show();
  const handles = screen.getAllByRole("slider");
  expect(handles.map((h) => h.getAttribute("aria-label"))).toEqual([expect.stringMatching(/^Receiver/)]);
  expect(screen.getByText("Servo")).toBeTruthy();
});

it("moves the item whose weight it is, by an arrow a millimetre, with shift ten, and saves it when let go", () => {
  const { onMove, onDrop } = show();
  const handle = screen.getByRole("slider");
  fireEvent.keyDown(handle, { key: "ArrowRight", shiftKey: true });
  expect(onMove.mock.lastCall?.[0]).toBe(RECEIVER);
  expect(onMove.mock.lastCall?.[1]).toBeCloseTo(0.06);
  fireEvent.keyUp(handle, { key: "ArrowRight" });
  expect(onDrop).toHaveBeenCalledExactlyOnceWith(RECEIVER);
});

it("gives no handle on a model that is only looked at", () => {
  show(true);
  expect(screen.queryByRole("slider")).toBeNull();
});
