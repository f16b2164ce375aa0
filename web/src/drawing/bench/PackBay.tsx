import type { Point } from "../geometry";
import { packWidth } from "./label-list";
import { type SliderProps, useSlide } from "./slide";

interface Props extends SliderProps {
  ghosts: number[];
  side: (q: Point) => Point;
  scale: number;
  /** How the ends of the bay are dragged; null while they stay. */
  ends: BayEnds | null;
}

interface BayEnds {
  limits: [number, number];
  stationAt: (clientX: number) => number;
  onMove: (bay_m: [number, number]) => void;
  onDrop: () => void;
}

/** The pack in its bay on the side view, with ghosts where it was flown. */
export function PackBay({ ghosts, side, scale, ends, ...slider }: Props) {
  const { item } = slider;
  const slide = useSlide(slider);
  const z = item.z_m ?? 0;
  const [low, high] = (item.bay_m ?? [item.x_m, item.x_m]) as [number, number];
  const [a, b, c] = [side({ x: low, y: z }), side({ x: high, y: z }), side({ x: item.x_m, y: z })];
  const width = packWidth(scale);
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
      {ends
        ? ([0, 1] as const).map((which) => (
            <BayEnd key={which} which={which} bay={[low, high]} at={which ? b : a} name={item.name} {...ends} />
          ))
        : null}
    </g>
  );
}

/** One end of the bay, a slider of its own: the other end and the pack stay where they are. */
function BayEnd({
  which,
  bay,
  at,
  name,
  limits,
  stationAt,
  onMove,
  onDrop,
}: BayEnds & { which: 0 | 1; bay: [number, number]; at: Point; name: string }) {
  const range: [number, number] = which === 0 ? [limits[0], bay[1]] : [bay[0], limits[1]];
  const words = `${which === 0 ? "foremost" : "aftmost"} end of the bay of ${name}`;
  const slide = useSlide({
    item: {
      key: words,
      name: words,
      mass_kg: 0,
      x_m: bay[which],
      y_m: 0,
      z_m: 0,
      kind: "part",
      bay_m: range,
      fitted: true,
      to_come: false,
    },
    readOnly: false,
    stationAt,
    onMove: (x) => onMove(which === 0 ? [x, bay[1]] : [bay[0], x]),
    onDrop,
  });
  return (
    <rect
      {...slide}
      x={at.x - 4}
      y={at.y + 8}
      width={8}
      height={14}
      fill="var(--color-base-100)"
      stroke="var(--color-accent)"
      strokeWidth={2}
    />
  );
}
