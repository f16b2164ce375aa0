import type { Item } from "../../api/client";
import type { Point } from "../geometry";
import { type SliderProps, useSlide } from "./slide";

/** The pack that is dragged: the heaviest one on board with a bay. */
export function heaviestPack(items: Item[]): Item | null {
  const packs = items.filter((i) => i.kind === "battery" && i.bay_m && (i.fitted ?? true));
  return packs.sort((a, b) => b.mass_kg - a.mass_kg)[0] ?? null;
}

interface Props extends SliderProps {
  ghosts: number[];
  side: (q: Point) => Point;
  scale: number;
}

/** The pack in its bay on the side view, with ghosts where it was flown. */
export function PackBay({ ghosts, side, scale, ...slider }: Props) {
  const { item, readOnly } = slider;
  const slide = useSlide(slider);
  const z = item.z_m ?? 0;
  const [low, high] = (item.bay_m ?? [item.x_m, item.x_m]) as [number, number];
  const [a, b, c] = [side({ x: low, y: z }), side({ x: high, y: z }), side({ x: item.x_m, y: z })];
  const width = Math.min(Math.max(scale * 0.09, 26), 60);
  return (
    <g>
      <path
        d={`M${a.x} ${a.y}H${b.x}M${a.x} ${a.y - 6}v12M${b.x} ${a.y - 6}v12`}
        stroke="currentColor"
        strokeWidth={1}
        fill="none"
      />
      {ghosts.map((x) => (
        <rect
          key={x}
          x={side({ x, y: 0 }).x - width / 2}
          y={c.y - 9}
          width={width}
          height={18}
          fill="none"
          stroke="currentColor"
          strokeDasharray="3 3"
          opacity={0.6}
        >
          <title>flown here</title>
        </rect>
      ))}
      <rect
        data-testid="battery"
        {...slide}
        x={c.x - width / 2}
        y={c.y - 11}
        width={width}
        height={22}
        rx={2}
        fill="var(--color-accent)"
        stroke="var(--color-base-content)"
      />
      <text
        x={c.x}
        y={c.y - 16}
        textAnchor="middle"
        fontSize={13}
        fontWeight={600}
        fill="var(--color-accent)"
        pointerEvents="none"
      >
        {readOnly ? item.name : `◂ ${item.name} ▸`}
      </text>
    </g>
  );
}
