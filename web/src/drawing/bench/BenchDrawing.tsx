import { useRef, useState } from "react";
import type { BenchAnswer, Configuration, Item, Surface } from "../../api/client";
import { useSettings } from "../../components/settings-context";
import { DamageMarks } from "../DamageMarks";
import { type Bounds, boundsOf, type Point } from "../geometry";
import { PlanView, SideView } from "../views";
import { Corners } from "./Corners";
import { FocusMark } from "./FocusMark";
import { Fingers, KnifeEdge, MeanChord, PackMarks, Points, Ruler } from "./marks";
import { PackBay } from "./PackBay";
import { Weights } from "./Weights";

interface Props {
  setup: Configuration;
  answer: BenchAnswer | undefined;
  stale: boolean;
  ghosts: number[];
  focus: string | null;
  readOnly: boolean;
  /** Parts that were damaged and are not gone over since. */
  damaged: string[];
  /** What the list beside the drawing is about: corners of panels, or items and bays, can then be dragged. */
  tool: "airframe" | "items" | null;
  /** Show a change at once; what is dropped is saved with its words. */
  onDrag: (change: (setup: Configuration) => Configuration) => void;
  onDrop: (words: string) => void;
}

const ZOOMS = [1, 1.5, 2.2, 3.2];

const withItem = (key: string, part: Partial<Item>) => (s: Configuration) => ({
  ...s,
  items: s.items.map((i) => (i.key === key ? { ...i, ...part } : i)),
});

const withSurface = (surface: Surface) => (s: Configuration) => ({
  ...s,
  airframe: { ...s.airframe, surfaces: s.airframe.surfaces.map((f) => (f.key === surface.key ? surface : f)) },
});

const W = 820;
const H = 640;
const PAD = 34;

/**
 * Half plan above side view on one station ruler. Items hang from the body as weights; the battery is dragged along its
 * bay (or moved with the arrow keys); the balance point is a knife-edge with its error whisker.
 */
export function BenchDrawing({ setup, answer, stale, ghosts, focus, readOnly, damaged, tool, onDrag, onDrop }: Props) {
  const [zoom, setZoom] = useState(0);
  const svg = useRef<SVGSVGElement>(null);
  const { unit } = useSettings();
  // A corner dragged outward would change the scale under the pointer: what the sheet holds stays while one is held.
  const [held, setHeld] = useState<Bounds | null>(null);
  const b = held ?? boundsOf(setup.airframe);
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
  const battery = setup.items.find((i) => i.key === answer?.pack_key && i.bay_m) ?? null;

  const placeAt = (clientX: number, clientY: number): Point => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return { x: 0, y: 0 };
    const x = ((clientX - box.left) / box.width) * W;
    const y = ((clientY - box.top) / box.height) * H;
    return { x: b.xMin + (x - left) / scale, y: (center - y) / scale };
  };
  const stationAt = (clientX: number) => placeAt(clientX, 0).x;
  const free = (item: Item): Item =>
    tool === "items" && !item.bay_m && item.kind !== "airframe" ? { ...item, bay_m: [b.xMin, b.xMax] } : item;
  const sliders = (item: Item) => ({
    item: free(item),
    readOnly,
    stationAt,
    onMove: (x_m: number) => onDrag(withItem(item.key, { x_m })),
    onDrop: () => onDrop(`${item.name} moved on the drawing`),
  });
  const bayEnds = (item: Item) =>
    tool === "items" && !readOnly
      ? {
          limits: [b.xMin, b.xMax] as [number, number],
          stationAt,
          onMove: (bay_m: [number, number]) => onDrag(withItem(item.key, { bay_m })),
          onDrop: () => onDrop(`bay of ${item.name} changed on the drawing`),
        }
      : null;

  return (
    <div className="relative">
      <Zoom zoom={zoom} onZoom={setZoom} />
      <div className="overflow-auto" style={{ maxHeight: zoom ? "80dvh" : undefined }}>
        {/* biome-ignore lint/a11y/useSemanticElements: a drawing with handles is no part of a form */}
        <svg
          ref={svg}
          viewBox={`0 0 ${W} ${H}`}
          className="h-auto max-w-none touch-none select-none"
          style={{ width: `${(ZOOMS[zoom] ?? 1) * 100}%` }}
          role="group"
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
          {damaged.length > 0 ? <DamageMarks parts={damaged} airframe={setup.airframe} map={plan} half /> : null}
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
            y={H - 72}
            sliders={sliders}
          />
          {battery?.bay_m ? (
            <PackBay {...sliders(battery)} ends={bayEnds(battery)} ghosts={ghosts} side={side} scale={scale} />
          ) : null}
          {tool === "airframe" && !readOnly ? (
            <Corners
              surfaces={setup.airframe.surfaces}
              plan={plan}
              placeAt={placeAt}
              reach={4 / scale}
              onHold={(on) => setHeld(on ? boundsOf(setup.airframe) : null)}
              onMove={(surface) => onDrag(withSurface(surface))}
              onDrop={(name) => onDrop(`${name} changed on the drawing`)}
            />
          ) : null}
        </svg>
      </div>
    </div>
  );
}

/** Closer and further; the drawing then scrolls. */
function Zoom({ zoom, onZoom }: { zoom: number; onZoom: (zoom: number) => void }) {
  return (
    <div className="no-print absolute top-1 right-1 z-10 flex gap-1">
      <button type="button" className="btn btn-xs" disabled={zoom === 0} onClick={() => onZoom(zoom - 1)}>
        Further
      </button>
      <button
        type="button"
        className="btn btn-xs"
        disabled={zoom === ZOOMS.length - 1}
        onClick={() => onZoom(zoom + 1)}
      >
        Closer
      </button>
    </div>
  );
}
