import { memo, useMemo, useRef, useState } from "react";
import type { BenchAnswer, Configuration, Item, Surface } from "../../api/client";
import { useSettings } from "../../components/settings-context";
import { type Laid, onModel } from "../../domain/underlay";
import { DamageMarks } from "../DamageMarks";
import { type Bounds, boundsOf, type Point } from "../geometry";
import { PlanView as DrawnPlan, SideView as DrawnSide } from "../views";
import { Corners } from "./Corners";
import { dimensionOf } from "./dimension";
import { FocusMark } from "./FocusMark";
import { Labels } from "./Labels";
import { benchLabels, nameRows } from "./label-list";
import { layoutOf } from "./layout";
import { Fingers, KnifeEdge, MeanChord, PackMarks, Points, Ruler, ticksOf } from "./marks";
import { PackBay } from "./PackBay";
import { useRoom } from "./use-room";
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
  /** A photograph or a plan that lies on the model, under what is drawn. */
  underlay: { url: string; width: number; height: number; lies: Laid } | null;
  /** Show a change at once; what is dropped is saved with its words. */
  onDrag: (change: (setup: Configuration) => Configuration) => void;
  onDrop: (words: string) => void;
}

const PlanView = memo(DrawnPlan);
const SideView = memo(DrawnSide);

const ZOOMS = [1, 1.5, 2.2, 3.2];

const withItem = (key: string, part: Partial<Item>) => (s: Configuration) => ({
  ...s,
  items: s.items.map((i) => (i.key === key ? { ...i, ...part } : i)),
});

const withSurface = (surface: Surface) => (s: Configuration) => ({
  ...s,
  airframe: { ...s.airframe, surfaces: s.airframe.surfaces.map((f) => (f.key === surface.key ? surface : f)) },
});

/**
 * Half plan above side view on one station ruler. Items hang from the body as weights; the battery is dragged along its
 * bay (or moved with the arrow keys); the balance point is a knife-edge with its error whisker. One unit is one pixel, so that
 * letters are as large on a phone as on a wall; what is guessed is dotted, measured solid, computed double.
 */
export function BenchDrawing({
  setup,
  answer,
  stale,
  ghosts,
  focus,
  readOnly,
  damaged,
  tool,
  underlay,
  onDrag,
  onDrop,
}: Props) {
  const [zoom, setZoom] = useState(0);
  const sheet = useRef<HTMLDivElement>(null);
  const svg = useRef<SVGSVGElement>(null);
  const room = useRoom(sheet);
  const { unit, show } = useSettings();
  // A corner dragged outward would change the scale under the pointer: what the sheet holds stays while one is held.
  const [held, setHeld] = useState<Bounds | null>(null);
  const bounds = useMemo(() => boundsOf(setup.airframe), [setup.airframe]);
  const b = held ?? bounds;
  const times = ZOOMS[zoom] ?? 1;
  const fitted = setup.items.filter((i) => i.fitted ?? true);
  const width = room.width * times;
  const tallest = room.tallest * times;
  const first = useMemo(() => layoutOf(b, width, tallest, 1), [b, width, tallest]);
  const { rows } = nameRows(fitted, first.sx, width);
  // The same sheet for the same model: of what does not move nothing is drawn anew.
  const layout = useMemo(() => layoutOf(b, width, tallest, rows), [b, width, tallest, rows]);
  const { scale, sx, plan, side, center, ruler, knife } = layout;
  const battery = setup.items.find((i) => i.key === answer?.pack_key && i.bay_m) ?? null;
  const dimension = focus ? dimensionOf(focus, setup) : null;
  const means = focus?.startsWith("held:") ?? false;
  const ticks = ticksOf(sx, b.xMin, b.xMax, scale, unit("length"));
  const guessed = useMemo(() => new Set(setup.guessed ?? []), [setup.guessed]);
  const labels = benchLabels({
    setup,
    answer,
    layout,
    battery,
    dimension,
    value: dimension?.kind === "length" ? show(dimension.value, "length") : "",
    means,
    ticks,
    datum: `datum: ${setup.datum ?? ""} (${unit("length")})`,
    corners: tool === "airframe" && !readOnly,
    movable: !readOnly,
  });

  const placeAt = (clientX: number, clientY: number): Point => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return { x: 0, y: 0 };
    return layout.placeAt(
      ((clientX - box.left) / box.width) * layout.width,
      ((clientY - box.top) / box.height) * layout.height,
    );
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
      <div ref={sheet} className="overflow-auto" style={{ maxHeight: zoom ? "80dvh" : undefined }}>
        {/* biome-ignore lint/a11y/useSemanticElements: a drawing with handles is no part of a form */}
        <svg
          ref={svg}
          viewBox={`0 0 ${layout.width} ${layout.height}`}
          width={layout.width}
          height={layout.height}
          className={`max-w-none select-none ${zoom ? "" : "w-full"}`}
          role="group"
          aria-label="Half plan and side view on a station ruler"
        >
          <defs>
            <pattern id="hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
              <path d="M0 0V6" stroke="var(--color-info)" strokeWidth="1.2" />
            </pattern>
            <clipPath id="plan-half">
              <rect width={layout.width} height={center + 14} />
            </clipPath>
          </defs>
          {underlay ? (
            <g clipPath="url(#plan-half)">
              <Picture {...underlay} plan={plan} />
            </g>
          ) : null}
          <path
            d={`M15 ${center}H${layout.width - 15}`}
            stroke="currentColor"
            strokeWidth={0.8}
            strokeDasharray="14 4 3 4"
          />
          <PlanView airframe={setup.airframe} map={plan} half guessed={guessed} clear={underlay !== null} />
          {damaged.length > 0 ? <DamageMarks parts={damaged} airframe={setup.airframe} map={plan} half /> : null}
          {answer ? <MeanChord answer={answer} plan={plan} scale={scale} /> : null}
          {answer ? <Fingers answer={answer} setup={setup} plan={plan} /> : null}
          {dimension ? <FocusMark dimension={dimension} means={means} plan={plan} side={side} /> : null}
          <Ruler sx={sx} y={ruler} min={b.xMin} max={b.xMax} ticks={ticks} />
          {answer ? <Points answer={answer} sx={sx} y={ruler} stale={stale} /> : null}
          {answer ? <PackMarks answer={answer} sx={sx} y={ruler} /> : null}
          <SideView airframe={setup.airframe} map={side} guessed={guessed} />
          {answer ? (
            <KnifeEdge
              x={sx(answer.x_cg_m)}
              whisker={answer.x_cg_sigma_m * scale}
              y={knife}
              read={answer.numbers.find((n) => n.key === "balance")?.origin === "measured"}
            />
          ) : null}
          <Weights
            items={fitted}
            battery={battery}
            side={side}
            y={layout.weights}
            width={layout.width}
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
          <Labels labels={labels} />
        </svg>
      </div>
    </div>
  );
}

/** A picture as it lies on the model: pixels to metres to the sheet. */
function Picture({
  url,
  width,
  height,
  lies,
  plan,
}: {
  url: string;
  width: number;
  height: number;
  lies: Laid;
  plan: (p: Point) => Point;
}) {
  const at = (u: number, v: number) => plan(onModel(lies, { x: u, y: v }));
  const [o, x, y] = [at(0, 0), at(1, 0), at(0, 1)];
  return (
    <image
      href={url}
      width={width}
      height={height}
      opacity={0.5}
      data-testid="underlay"
      transform={`matrix(${x.x - o.x} ${x.y - o.y} ${y.x - o.x} ${y.y - o.y} ${o.x} ${o.y})`}
    />
  );
}

/** Closer and further; the drawing then scrolls. */
function Zoom({ zoom, onZoom }: { zoom: number; onZoom: (zoom: number) => void }) {
  return (
    <div className="no-print absolute top-1 right-1 z-10 flex gap-1">
      <button type="button" className="btn text-sm" disabled={zoom === 0} onClick={() => onZoom(zoom - 1)}>
        Further
      </button>
      <button
        type="button"
        className="btn text-sm"
        disabled={zoom === ZOOMS.length - 1}
        onClick={() => onZoom(zoom + 1)}
      >
        Closer
      </button>
    </div>
  );
}
