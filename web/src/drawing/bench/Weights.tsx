import type { Item } from "../../api/client";
import type { Point } from "../geometry";
import { nameRows, SMALL, shortName } from "./label-list";
import { NAME_ROW } from "./layout";
import { type SliderProps, useSlide } from "./slide";

interface Props {
  items: Item[];
  battery: Item | null;
  side: (p: Point) => Point;
  y: number;
  width: number;
  sliders: (item: Item) => SliderProps;
}

/** Items hang from the body as weights, area by mass; what can be moved is dragged by its weight. */
export function Weights({ items, battery, side, y, width, sliders }: Props) {
  const names = nameRows(items, (x) => side({ x, y: 0 }).x, width).places;
  return (
    <g>
      {items.map((item, i) => {
        const p = side({ x: item.x_m, y: item.z_m ?? 0 });
        const box = Math.min(Math.max(9 * Math.sqrt(Math.max(item.mass_kg, 0.003) / 0.1), 7), 26);
        const slider = sliders(item);
        const movable = Boolean(slider.item.bay_m) && !slider.readOnly && item.key !== battery?.key;
        return (
          <g key={item.key} stroke="currentColor" opacity={item.key === battery?.key || movable ? 1 : 0.75}>
            <path
              d={`M${p.x} ${p.y}V${y}`}
              strokeWidth={0.8}
              strokeDasharray={item.key === battery?.key ? undefined : "2 2"}
            />
            {movable ? (
              <SlidingWeight {...slider} bay={Boolean(item.bay_m)} side={side} y={y} box={Math.max(box, 14)} />
            ) : (
              <rect
                x={p.x - box / 2}
                y={y}
                width={box}
                height={box}
                fill={item.key === battery?.key ? "var(--color-base-content)" : "var(--color-base-300)"}
                strokeWidth={1}
              />
            )}
            <text
              x={names[i]?.x ?? p.x}
              y={y + 41 + (names[i]?.row ?? 0) * NAME_ROW}
              fontSize={SMALL}
              data-label="item"
              textAnchor="middle"
              stroke="var(--color-base-100)"
              strokeWidth={3}
              paintOrder="stroke"
              fill="currentColor"
            >
              {shortName(item.name)}
            </text>
          </g>
        );
      })}
    </g>
  );
}

function SlidingWeight({
  side,
  y,
  box,
  bay,
  ...slider
}: SliderProps & { side: (p: Point) => Point; y: number; box: number; bay: boolean }) {
  const slide = useSlide(slider);
  const [low, high] = (slider.item.bay_m ?? [0, 0]) as [number, number];
  const at = (x: number) => side({ x, y: 0 }).x;
  return (
    <>
      {bay ? (
        <path
          d={`M${at(low)} ${y + box / 2}H${at(high)}M${at(low)} ${y}v${box}M${at(high)} ${y}v${box}`}
          strokeWidth={0.8}
        />
      ) : null}
      <rect
        {...slide}
        x={at(slider.item.x_m) - box / 2}
        y={y}
        width={box}
        height={box}
        fill="var(--color-base-100)"
        stroke="var(--color-accent)"
        strokeWidth={2}
      />
    </>
  );
}
