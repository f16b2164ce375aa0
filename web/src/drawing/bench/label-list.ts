/** What is written on the bench's drawing, and what it must not stand on. Pure, no React. */
import type { BenchAnswer, Configuration, Item } from "../../api/client";
import { chordAt, type Point } from "../geometry";
import { planLines, sideLines } from "../model-lines";
import { type Box, inRows, type Label, type Line, type PlacedLabel, placeLabels, widthOf } from "../place-labels";
import { cornersOf } from "./corners";
import type { Dimension } from "./dimension";
import { type Layout, NAME_ROW } from "./layout";

export const SMALL = 12;
const ACCENT = "var(--color-accent)";

export interface Shown {
  setup: Configuration;
  answer: BenchAnswer | undefined;
  layout: Layout;
  battery: Item | null;
  dimension: Dimension | null;
  /** The words of the dimension, in the pilot's unit. */
  value: string;
  means: boolean;
  ticks: { x: number; words: string }[];
  datum: string;
  /** Whether corners of panels, or ends of the bay, can be dragged: their handles are in the way. */
  corners: boolean;
  movable: boolean;
}

/** Every label, placed. */
export function benchLabels(shown: Shown): PlacedLabel[] {
  const { layout } = shown;
  const room = { x: 2, y: 2, width: layout.width - 4, height: layout.height - 4 };
  return placeLabels(
    [...measureLabels(shown), ...answerLabels(shown), ...packLabels(shown)],
    allLines(shown),
    allBoxes(shown),
    room,
  );
}

/** Names of what hangs below, in as many rows as it takes. */
export function nameRows(items: Item[], sx: (x: number) => number, width: number) {
  return inRows(
    items.map((i) => ({ x: sx(i.x_m), words: shortName(i.name) })),
    SMALL,
    [4, width - 4],
  );
}

export const shortName = (name: string) => (name.length > 28 ? `${name.slice(0, 26)}…` : name);

const dot = (at: Point, r: number): Box => ({ x: at.x - r, y: at.y - r, width: 2 * r, height: 2 * r });

function measureLabels({ dimension, layout, value, means }: Shown): Label[] {
  if (!dimension) return [];
  const label = { size: 14, color: ACCENT, bold: true };
  if (dimension.kind === "meter")
    return [{ ...label, key: "measure", words: dimension.words, at: layout.plan(dimension.at), towards: 30 }];
  const map = dimension.view === "plan" ? layout.plan : layout.side;
  const [a, b] = [map(dimension.a), map(dimension.b)];
  const found: Label[] = [
    { ...label, key: "measure", words: value, at: { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 }, towards: 60 },
  ];
  if (means)
    found.push({
      ...label,
      size: 13,
      key: "means",
      words: "means this station",
      at: { x: b.x, y: layout.center + 14 },
      towards: 180,
    });
  return found;
}

function answerLabels({ answer, layout, datum }: Shown): Label[] {
  const { sx, plan, ruler } = layout;
  const found: Label[] = [];
  if (answer) {
    const chord = plan({ x: answer.x_le_mac_m, y: answer.y_mac_m });
    const inferred = answer.numbers.find((n) => n.key === "neutral_point")?.origin === "inferred";
    const point = inferred ? "neutral point, as flown" : "neutral point";
    found.push(
      {
        key: "fingers",
        words: "fingers here",
        at: plan({ x: answer.fingers.x_m, y: answer.fingers.y_m }),
        towards: 30,
        size: 13,
        color: ACCENT,
        bold: true,
      },
      {
        key: "neutral",
        words: point,
        at: { x: sx(answer.x_np_m), y: ruler - 24 },
        towards: 0,
        size: 13,
        color: "var(--color-info)",
        bold: true,
      },
      {
        key: "wanted",
        words: "wanted",
        at: { x: sx(answer.band_m[0] ?? 0), y: ruler - 6 },
        towards: 180,
        size: SMALL,
        color: "var(--color-success)",
        bold: true,
      },
      {
        key: "balance",
        words: "balances here",
        at: { x: sx(answer.x_cg_m) + 8, y: layout.knife + 12 },
        towards: 0,
        size: 13,
        color: "currentColor",
        bold: true,
      },
      { key: "mac", words: "mean chord", at: chord, towards: 90, size: SMALL, color: "var(--color-secondary)" },
      ...answer.pack_marks.map((m) => ({
        key: `with-${m.key}`,
        words: `with ${m.name}`,
        at: { x: sx(m.x_cg_m), y: ruler + 10 },
        towards: -90,
        size: SMALL,
        color: "currentColor",
      })),
    );
  }
  found.push({
    key: "datum",
    words: datum,
    at: { x: sx(0), y: ruler + 24 },
    towards: -90,
    size: SMALL,
    color: "var(--color-secondary)",
  });
  return found;
}

function packLabels({ battery, layout, movable }: Shown): Label[] {
  if (!battery?.bay_m) return [];
  const at = layout.side({ x: battery.x_m, y: battery.z_m ?? 0 });
  const words = movable ? `◂ ${battery.name} ▸` : battery.name;
  return [{ key: "pack", words, at: { x: at.x, y: at.y }, towards: 90, size: 13, color: ACCENT, bold: true }];
}

function allLines({ setup, answer, layout, dimension, battery }: Shown): Line[] {
  const { plan, side, sx, center, ruler, width } = layout;
  const across = (y: number): Line => ({ a: { x: 0, y }, b: { x: width, y } });
  const lines = [...planLines(setup.airframe, plan), ...sideLines(setup.airframe, side), across(center), across(ruler)];
  for (const item of setup.items) {
    if (!(item.fitted ?? true)) continue;
    const p = side({ x: item.x_m, y: item.z_m ?? 0 });
    lines.push({ a: p, b: { x: p.x, y: layout.weights } });
  }
  if (battery?.bay_m) {
    const y = battery.z_m ?? 0;
    lines.push({ a: side({ x: battery.bay_m[0] as number, y }), b: side({ x: battery.bay_m[1] as number, y }) });
  }
  if (answer) {
    const mac = plan({ x: answer.x_le_mac_m, y: answer.y_mac_m });
    const finger = plan({ x: answer.fingers.x_m, y: answer.fingers.y_m });
    const wing = setup.airframe.surfaces[0];
    const lead = wing ? plan({ x: chordAt(wing, answer.fingers.y_m).x, y: answer.fingers.y_m }) : finger;
    const np = sx(answer.x_np_m);
    lines.push(
      { a: mac, b: { x: mac.x + answer.mac_m * layout.scale, y: mac.y } },
      { a: lead, b: finger },
      { a: { x: np, y: ruler - 30 }, b: { x: np, y: ruler } },
    );
  }
  if (dimension?.kind === "length") {
    const map = dimension.view === "plan" ? plan : side;
    lines.push({ a: map(dimension.a), b: map(dimension.b) });
  }
  return lines;
}

function allBoxes(shown: Shown): Box[] {
  const { setup, answer, layout, battery, ticks, corners } = shown;
  const { sx, ruler, knife } = layout;
  const boxes: Box[] = ticks.map(({ x, words }) => {
    const wide = widthOf(words, SMALL);
    return { x: x - wide / 2, y: ruler + 8, width: wide, height: 14 };
  });
  if (answer) {
    const half = answer.x_np_sigma_m * layout.scale;
    const whisker = Math.max(answer.x_cg_sigma_m * layout.scale, 11);
    boxes.push(
      dot(layout.plan({ x: answer.fingers.x_m, y: answer.fingers.y_m }), 8),
      { x: sx(answer.x_np_m) - half, y: ruler - 14, width: 2 * half, height: 14 },
      {
        x: sx(answer.band_m[0] ?? 0),
        y: ruler - 12,
        width: sx(answer.band_m[1] ?? 0) - sx(answer.band_m[0] ?? 0),
        height: 12,
      },
      { x: sx(answer.x_cg_m) - whisker, y: knife, width: 2 * whisker, height: 28 },
      ...answer.pack_marks.map((m) => dot({ x: sx(m.x_cg_m), y: ruler + 5 }, 5)),
    );
  }
  if (battery?.bay_m) {
    const at = layout.side({ x: battery.x_m, y: battery.z_m ?? 0 });
    const wide = packWidth(layout.scale);
    boxes.push({ x: at.x - wide / 2, y: at.y - 11, width: wide, height: 22 });
  }
  if (corners)
    for (const surface of setup.airframe.surfaces)
      for (const corner of cornersOf(surface)) boxes.push(dot(layout.plan(corner), 8));
  const fitted = setup.items.filter((i) => i.fitted ?? true);
  const names = nameRows(fitted, sx, layout.width);
  fitted.forEach((item, i) => {
    const place = names.places[i];
    if (!place) return;
    const wide = widthOf(shortName(item.name), SMALL);
    boxes.push({ x: place.x - wide / 2, y: layout.weights + 29 + place.row * NAME_ROW, width: wide, height: 14 });
  });
  return boxes;
}

/** How wide the pack is drawn. */
export const packWidth = (scale: number) => Math.min(Math.max(scale * 0.09, 26), 60);
