import { useRef } from "react";
import type { BenchAnswer, Configuration, Item } from "../api/client";
import { useSettings } from "../components/settings-context";
import { format, UNITS } from "../domain/units";
import { boundsOf, chordAt, type Point, rulerStep } from "./geometry";
import { PlanView, SideView } from "./views";

interface Props {
  setup: Configuration;
  answer: BenchAnswer | undefined;
  stale: boolean;
  ghosts: number[];
  focus: string | null;
  readOnly: boolean;
  onDragBattery: (x_m: number) => void;
  onDropBattery: () => void;
}

const W = 820;
const H = 640;
const PAD = 34;

/**
 * Half plan above side view on one station ruler. Items hang from the body as weights; the battery is dragged along its
 * bay (or moved with the arrow keys); the balance point is a knife-edge with its error whisker.
 */
export function BenchDrawing({ setup, answer, stale, ghosts, focus, readOnly, onDragBattery, onDropBattery }: Props) {
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
  const battery = setup.items.find((i) => i.kind === "battery" && i.bay_m) ?? null;

  function dragTo(clientX: number): void {
    const box = svg.current?.getBoundingClientRect();
    if (!box || !battery?.bay_m) return;
    const x = b.xMin + (((clientX - box.left) / box.width) * W - left) / scale;
    const [low, high] = battery.bay_m as [number, number];
    onDragBattery(Math.round(Math.min(Math.max(x, low), high) * 1000) / 1000);
  }

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
      <SideView airframe={setup.airframe} map={side} />
      {answer ? (
        <KnifeEdge
          x={sx(answer.x_cg_m)}
          whisker={answer.x_cg_sigma_m * scale}
          y={sideZero + Math.max(-b.zMin * scale, 20) + 4}
        />
      ) : null}
      <Weights items={setup.items} battery={battery} side={side} y={H - 66} />
      {battery?.bay_m ? (
        <Bay
          battery={battery}
          bay={battery.bay_m as [number, number]}
          ghosts={ghosts}
          side={side}
          scale={scale}
          readOnly={readOnly}
          onMove={dragTo}
          onDrop={onDropBattery}
          onStep={(mm) => onDragBattery(clampTo(battery.bay_m as [number, number], battery.x_m + mm / 1000))}
        />
      ) : null}
    </svg>
  );
}

function clampTo([low, high]: [number, number], x: number): number {
  return Math.round(Math.min(Math.max(x, low), high) * 1000) / 1000;
}

function MeanChord({ answer, plan, scale }: { answer: BenchAnswer; plan: (p: Point) => Point; scale: number }) {
  const a = plan({ x: answer.x_le_mac_m, y: answer.y_mac_m });
  return (
    <g stroke="var(--color-secondary)" strokeWidth={1.2}>
      <path d={`M${a.x} ${a.y}h${answer.mac_m * scale}`} strokeDasharray="6 3" />
      <path d={`M${a.x} ${a.y - 4}v8M${a.x + answer.mac_m * scale} ${a.y - 4}v8`} />
      <text
        x={a.x + (answer.mac_m * scale) / 2}
        y={a.y - 5}
        textAnchor="middle"
        fontSize={12}
        fill="var(--color-secondary)"
        stroke="none"
      >
        MAC
      </text>
    </g>
  );
}

function Fingers({ answer, setup, plan }: { answer: BenchAnswer; setup: Configuration; plan: (p: Point) => Point }) {
  const wing = setup.airframe.surfaces[0];
  if (!wing) return null;
  const f = answer.fingers;
  const p = plan({ x: f.x_m, y: f.y_m });
  const le = plan({ x: chordAt(wing, f.y_m).x, y: f.y_m });
  return (
    <g>
      <circle cx={p.x} cy={p.y} r={7} fill="none" stroke="var(--color-accent)" strokeWidth={2} />
      <circle cx={p.x} cy={p.y} r={2} fill="var(--color-accent)" />
      <path d={`M${le.x} ${p.y}H${p.x}`} stroke="var(--color-accent)" strokeWidth={1} />
      <text x={p.x + 12} y={p.y - 6} fontSize={13} fill="var(--color-accent)" fontWeight={600}>
        fingers here
      </text>
    </g>
  );
}

function Ruler(p: {
  sx: (x: number) => number;
  y: number;
  min: number;
  max: number;
  scale: number;
  unitKey: string;
  datum: string;
}) {
  const u = UNITS.length.find((q) => q.key === p.unitKey) ?? UNITS.length[0];
  if (!u) return null;
  const step = rulerStep(p.scale * u.si);
  const ticks: number[] = [];
  for (let k = Math.ceil(p.min / u.si / step); k * step * u.si <= p.max; k++) ticks.push(k * step);
  return (
    <g stroke="currentColor" fill="currentColor">
      <path d={`M${p.sx(p.min)} ${p.y}H${p.sx(p.max)}`} strokeWidth={1.4} />
      {ticks.map((t) => (
        <g key={t}>
          <path d={`M${p.sx(t * u.si)} ${p.y}v${Math.abs(t) < 1e-9 ? 12 : 7}`} strokeWidth={1} />
          <text x={p.sx(t * u.si)} y={p.y + 20} fontSize={12} textAnchor="middle" stroke="none">
            {Math.abs(t) < 1e-9 ? "0" : Number(t.toFixed(3))}
          </text>
        </g>
      ))}
      <text x={p.sx(0)} y={p.y + 34} fontSize={12} textAnchor="middle" stroke="none" fill="var(--color-secondary)">
        datum: {p.datum} ({p.unitKey})
      </text>
    </g>
  );
}

function Points({
  answer,
  sx,
  y,
  stale,
}: {
  answer: BenchAnswer;
  sx: (x: number) => number;
  y: number;
  stale: boolean;
}) {
  const np = sx(answer.x_np_m);
  const half = sx(answer.x_np_m + answer.x_np_sigma_m) - np;
  const [from, to] = answer.band_m as [number, number];
  const maiden = answer.maiden.x_m;
  return (
    <g opacity={stale ? 0.7 : 1}>
      <rect
        x={sx(from)}
        y={y - 12}
        width={Math.max(sx(to) - sx(from), 1)}
        height={12}
        fill="var(--color-success)"
        opacity={0.35}
      />
      <text x={sx(from) - 4} y={y - 2} fontSize={12} fill="var(--color-success)" textAnchor="end" fontWeight={600}>
        wanted
      </text>
      <rect x={np - half} y={y - 14} width={Math.max(2 * half, 1)} height={14} fill="url(#hatch)" />
      <path d={`M${np} ${y - 30}V${y}`} stroke="var(--color-info)" strokeWidth={2} />
      <text x={np + 5} y={y - 20} fontSize={13} fill="var(--color-info)" fontWeight={600}>
        neutral point
      </text>
      {maiden !== null && maiden !== undefined ? (
        <path d={`M${sx(maiden)} ${y - 24}V${y}`} stroke="var(--color-success)" strokeWidth={2} strokeDasharray="4 3" />
      ) : null}
    </g>
  );
}

function KnifeEdge({ x, whisker, y }: { x: number; whisker: number; y: number }) {
  return (
    <g className="slides" transform={`translate(${x} 0)`} data-testid="knife-edge">
      <path d={`M0 ${y}l-11 18h22z`} fill="currentColor" />
      <path
        d={`M${-whisker} ${y + 23}h${2 * whisker}M${-whisker} ${y + 19}v8M${whisker} ${y + 19}v8`}
        stroke="currentColor"
        strokeWidth={1.6}
        fill="none"
      />
      <text
        x={15}
        y={y + 14}
        fontSize={13}
        fontWeight={600}
        fill="currentColor"
        stroke="var(--color-base-100)"
        strokeWidth={4}
        paintOrder="stroke"
      >
        balances here
      </text>
    </g>
  );
}

function Weights({
  items,
  battery,
  side,
  y,
}: {
  items: Item[];
  battery: Item | null;
  side: (p: Point) => Point;
  y: number;
}) {
  return (
    <g>
      {items.map((item, i) => {
        const p = side({ x: item.x_m, y: item.z_m ?? 0 });
        const size = 9 * Math.sqrt(Math.max(item.mass_kg, 0.003) / 0.1);
        const box = Math.min(Math.max(size, 7), 26);
        const isBattery = item === battery;
        return (
          <g key={item.key} stroke="currentColor" opacity={isBattery ? 1 : 0.75}>
            <path d={`M${p.x} ${p.y}V${y}`} strokeWidth={0.8} strokeDasharray={isBattery ? undefined : "2 2"} />
            <rect
              x={p.x - box / 2}
              y={y}
              width={box}
              height={box}
              fill={isBattery ? "var(--color-base-content)" : "var(--color-base-300)"}
              strokeWidth={1}
            />
            <text
              x={p.x}
              y={y + 39 + (i % 2) * 14}
              fontSize={12}
              textAnchor="middle"
              stroke="var(--color-base-100)"
              strokeWidth={3}
              paintOrder="stroke"
              fill="currentColor"
            >
              {item.name.length > 20 ? `${item.name.slice(0, 18)}…` : item.name}
            </text>
          </g>
        );
      })}
    </g>
  );
}

function Bay(p: {
  battery: Item;
  bay: [number, number];
  ghosts: number[];
  side: (q: Point) => Point;
  scale: number;
  readOnly: boolean;
  onMove: (clientX: number) => void;
  onDrop: () => void;
  onStep: (mm: number) => void;
}) {
  const { show } = useSettings();
  const z = p.battery.z_m ?? 0;
  const a = p.side({ x: p.bay[0], y: z });
  const bEnd = p.side({ x: p.bay[1], y: z });
  const c = p.side({ x: p.battery.x_m, y: z });
  const width = Math.min(Math.max(p.scale * 0.09, 26), 60);
  const dragging = useRef(false);
  return (
    <g>
      <path
        d={`M${a.x} ${a.y}H${bEnd.x}M${a.x} ${a.y - 6}v12M${bEnd.x} ${a.y - 6}v12`}
        stroke="currentColor"
        strokeWidth={1}
        fill="none"
      />
      {p.ghosts.map((x) => (
        <rect
          key={x}
          x={p.side({ x, y: 0 }).x - width / 2}
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
        role="slider"
        tabIndex={p.readOnly ? -1 : 0}
        aria-label={`${p.battery.name}, station; arrow keys move it by 1 mm, with shift by 10 mm`}
        aria-valuemin={Math.round(p.bay[0] * 1000)}
        aria-valuemax={Math.round(p.bay[1] * 1000)}
        aria-valuenow={Math.round(p.battery.x_m * 1000)}
        aria-valuetext={show(p.battery.x_m, "length")}
        x={c.x - width / 2}
        y={c.y - 11}
        width={width}
        height={22}
        rx={2}
        fill="var(--color-accent)"
        stroke="var(--color-base-content)"
        style={{ cursor: p.readOnly ? "default" : "grab" }}
        onPointerDown={(e) => {
          if (p.readOnly) return;
          dragging.current = true;
          e.currentTarget.setPointerCapture(e.pointerId);
        }}
        onPointerMove={(e) => dragging.current && p.onMove(e.clientX)}
        onPointerUp={() => {
          if (dragging.current) p.onDrop();
          dragging.current = false;
        }}
        onKeyDown={(e) => {
          const step = e.key === "ArrowLeft" ? -1 : e.key === "ArrowRight" ? 1 : 0;
          if (step === 0 || p.readOnly) return;
          e.preventDefault();
          p.onStep(step * (e.shiftKey ? 10 : 1));
        }}
        onKeyUp={(e) => (e.key === "ArrowLeft" || e.key === "ArrowRight") && !p.readOnly && p.onDrop()}
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
        {p.readOnly ? p.battery.name : `◂ ${p.battery.name} ▸`}
      </text>
    </g>
  );
}

function FocusMark({
  focus,
  setup,
  plan,
  side,
}: {
  focus: string | null;
  setup: Configuration;
  plan: (p: Point) => Point;
  side: (p: Point) => Point;
}) {
  const { unit } = useSettings();
  const key = unit("length");
  if (!focus) return null;
  const dimension = (a: Point, b: Point, value: number) => (
    <g stroke="var(--color-accent)" strokeWidth={1.6} fill="none">
      <path d={`M${a.x} ${a.y}L${b.x} ${b.y}`} />
      <circle cx={a.x} cy={a.y} r={3} fill="var(--color-accent)" />
      <circle cx={b.x} cy={b.y} r={3} fill="var(--color-accent)" />
      <text
        x={(a.x + b.x) / 2 + 6}
        y={(a.y + b.y) / 2 - 6}
        fontSize={14}
        fontWeight={700}
        fill="var(--color-accent)"
        stroke="var(--color-base-100)"
        strokeWidth={4}
        paintOrder="stroke"
      >
        {format(value, "length", key)}
      </text>
    </g>
  );
  const [kind, name, index, field] = focus.split(":");
  if (kind === "surface") {
    const surface = setup.airframe.surfaces.find((s) => s.key === name);
    const section = surface?.sections[Number(index)];
    if (!surface || !section) return null;
    const x = surface.x_m + section.x_offset_m;
    if (field === "chord_m")
      return dimension(plan({ x, y: section.y_m }), plan({ x: x + section.chord_m, y: section.y_m }), section.chord_m);
    if (field === "y_m") return dimension(plan({ x, y: 0 }), plan({ x, y: section.y_m }), section.y_m);
    if (field === "x_offset_m")
      return dimension(plan({ x: surface.x_m, y: section.y_m }), plan({ x, y: section.y_m }), section.x_offset_m);
    if (field === "x_m") return dimension(plan({ x: 0, y: 0 }), plan({ x: surface.x_m, y: 0 }), surface.x_m);
  }
  if (kind === "body") {
    const b = setup.airframe.body;
    if (name === "length_m")
      return dimension(side({ x: b.nose_x_m, y: 0 }), side({ x: b.nose_x_m + b.length_m, y: 0 }), b.length_m);
    if (name === "nose_x_m") return dimension(side({ x: 0, y: 0 }), side({ x: b.nose_x_m, y: 0 }), b.nose_x_m);
  }
  if (kind === "motor" && setup.airframe.motor) {
    const m = setup.airframe.motor;
    return dimension(side({ x: 0, y: m.z_m }), side({ x: m.x_m, y: m.z_m }), m.x_m);
  }
  return null;
}
