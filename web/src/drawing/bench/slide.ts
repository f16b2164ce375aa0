import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import type { Item } from "../../api/client";
import { useSettings } from "../../components/settings-context";

export interface SliderProps {
  item: Item;
  readOnly: boolean;
  /** The station [m] under a pointer. */
  stationAt: (clientX: number) => number;
  onMove: (x_m: number) => void;
  onDrop: () => void;
}

/** A station kept within the item's bay, to the millimetre. */
export function withinBay(item: Item, x_m: number): number {
  const [low, high] = (item.bay_m ?? [item.x_m, item.x_m]) as [number, number];
  return Math.round(Math.min(Math.max(x_m, low), high) * 1000) / 1000;
}

/** What makes a shape of the drawing a slider along an item's bay: pointer, arrow keys, and its words for a reader. */
export function useSlide({ item, readOnly, stationAt, onMove, onDrop }: SliderProps) {
  const { show } = useSettings();
  const dragging = useRef(false);
  const [low, high] = (item.bay_m ?? [item.x_m, item.x_m]) as [number, number];
  const step = (key: string) => (key === "ArrowLeft" ? -1 : key === "ArrowRight" ? 1 : 0);
  return {
    role: "slider" as const,
    tabIndex: readOnly ? -1 : 0,
    "aria-label": `${item.name}, station; arrow keys move it by 1 mm, with shift by 10 mm`,
    "aria-valuemin": Math.round(low * 1000),
    "aria-valuemax": Math.round(high * 1000),
    "aria-valuenow": Math.round(item.x_m * 1000),
    "aria-valuetext": show(item.x_m, "length"),
    style: { cursor: readOnly ? "default" : "grab", touchAction: "none" },
    onPointerDown: (e: PointerEvent<SVGElement>) => {
      if (readOnly) return;
      dragging.current = true;
      e.currentTarget.setPointerCapture(e.pointerId);
    },
    onPointerMove: (e: PointerEvent) => {
      if (dragging.current) onMove(withinBay(item, stationAt(e.clientX)));
    },
    onPointerUp: () => {
      if (dragging.current) onDrop();
      dragging.current = false;
    },
    onKeyDown: (e: KeyboardEvent) => {
      if (step(e.key) === 0 || readOnly) return;
      e.preventDefault();
      onMove(withinBay(item, item.x_m + (step(e.key) * (e.shiftKey ? 10 : 1)) / 1000));
    },
    onKeyUp: (e: KeyboardEvent) => {
      if (step(e.key) !== 0 && !readOnly) onDrop();
    },
  };
}
