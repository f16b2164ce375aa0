import { useRef } from "react";
import type { BenchAnswer, Configuration, Item } from "../../api/client";
import { useSettings } from "../../components/settings-context";
import { boundsOf, type Point } from "../geometry";
import { PlanView, SideView } from "../views";
import { FocusMark } from "./FocusMark";
import { Fingers, KnifeEdge, MeanChord, PackMarks, Points, Ruler } from "./marks";
import { heaviestPack, PackBay } from "./PackBay";
import { Weights } from "./Weights";

interface Props {
  setup: Configuration;
  answer: BenchAnswer | undefined;
  stale: boolean;
  ghosts: number[];
  focus: string | null;
  readOnly: boolean;
  /** Move an item with a bay to a station; what is dropped is saved. */
  onDrag: (key: string, x_m: number) => void;
  onDrop: (key: string) => void;
}

const W = 820;
const H = 640;
const PAD = 34;

/**
 * Half plan above side view on one station ruler. Items hang from the body as weights; the battery is dragged along its
 * bay (or moved with the arrow keys); the balance point is a knife-edge with its error whisker.
 */
export function BenchDrawing({ setup, answer, stale, ghosts, focus, readOnly, onDrag, onDrop }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const { unit } = useSettings();
  const b = boundsOf(setup.airframe);
  const heights = b.zMax - b.zMin;
  const scale = Math.min((W - 2 * PAD) / (b.xMax - b.xMin), (H - 224) / (b.halfSpan + heights));
  const left = (W - scale * (b.xMax - b.xMin)) / 2;
  const sx = (x: number) => left + (x - b.xMin) * scale;
  const center = 18 + b.halfSpan * scale;
  const ruler = center + 44;
  const sideTop = ruler + 62;
  const plan = (p: Point) => ({ x: sx(p.x), y: center - p.y * scale });
  const sideZero = sideTop + b.zMax * scale;
  const side = (p: Point) => ({ x: sx(p.x), y: sideZero - p.y * scale });
  const battery = heaviestPack(setup.items);

  /** The station under a pointer, kept within an item's bay, to the millimetre. */
  const stationAt = (clientX: number): number => {
    const box = svg.current?.getBoundingClientRect();
    return box ? b.xMin + (((clientX - box.left) / box.width) * W - left) / scale : 0;
  };
  const sliders = (item: Item) => ({
    item,
    readOnly,
    stationAt,
    onMove: (x: number) => onDrag(item.key, x),
    onDrop: () => onDrop(item.key),
  });

  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${W} ${H}`}
      className="h-auto w-full touch-none select-none"
      role="img"
      aria-label="Half plan and side view on a station ruler"
    >
      <defs>
        <pattern id="hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V6" stroke="var(--color-info)" strokeWidth="1.2" />
        </pattern>
      </defs>
      <path
        d={`M${PAD / 2} ${center}H${W - PAD / 2}`}
        stroke="currentColor"
        strokeWidth={0.8}
        strokeDasharray="14 4 3 4"
      />
      <PlanView airframe={setup.airframe} map={plan} half />
      {answer ? <MeanChord answer={answer} plan={plan} scale={scale} /> : null}
      {answer ? <Fingers answer={answer} setup={setup} plan={plan} /> : null}
      <FocusMark focus={focus} setup={setup} plan={plan} side={side} />
      <Ruler
        sx={sx}
        y={ruler}
        min={b.xMin}
        max={b.xMax}
        scale={scale}
        unitKey={unit("length")}
        datum={setup.datum ?? ""}
      />
      {answer ? <Points answer={answer} sx={sx} y={ruler} stale={stale} /> : null}
      {answer ? <PackMarks answer={answer} sx={sx} y={ruler} /> : null}
      <SideView airframe={setup.airframe} map={side} />
      {answer ? (
        <KnifeEdge
          x={sx(answer.x_cg_m)}
          whisker={answer.x_cg_sigma_m * scale}
          y={sideZero + Math.max(-b.zMin * scale, 20) + 4}
        />
      ) : null}
      <Weights
        items={setup.items.filter((i) => i.fitted ?? true)}
        battery={battery}
        side={side}
        y={H - 66}
        sliders={sliders}
      />
      {battery?.bay_m ? <PackBay {...sliders(battery)} ghosts={ghosts} side={side} scale={scale} /> : null}
    </svg>
  );
}
