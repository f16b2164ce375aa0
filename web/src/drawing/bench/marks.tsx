import type { BenchAnswer, Configuration } from "../../api/client";
import { UNITS } from "../../domain/units";
import { chordAt, type Point, rulerStep } from "../geometry";

/** The mean aerodynamic chord where it lies on the half wing; computed, so a double line. */
export function MeanChord({ answer, plan, scale }: { answer: BenchAnswer; plan: (p: Point) => Point; scale: number }) {
  const a = plan({ x: answer.x_le_mac_m, y: answer.y_mac_m });
  return (
    <g stroke="var(--color-secondary)" strokeWidth={1.2}>
      <path d={`M${a.x} ${a.y - 1.4}h${answer.mac_m * scale}m0 2.8h${-answer.mac_m * scale}`} strokeWidth={0.9} />
      <path d={`M${a.x} ${a.y - 4}v8M${a.x + answer.mac_m * scale} ${a.y - 4}v8`} />
    </g>
  );
}

/** Where fingers or jig go. */
export function Fingers({
  answer,
  setup,
  plan,
}: {
  answer: BenchAnswer;
  setup: Configuration;
  plan: (p: Point) => Point;
}) {
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
    </g>
  );
}

export interface Tick {
  x: number;
  words: string;
}

/** The figures of the ruler, in the pilot's unit. */
export function ticksOf(sx: (x: number) => number, min: number, max: number, scale: number, unitKey: string): Tick[] {
  const u = UNITS.length.find((q) => q.key === unitKey) ?? UNITS.length[0];
  if (!u) return [];
  const step = rulerStep(scale * u.si);
  const ticks: Tick[] = [];
  for (let k = Math.ceil(min / u.si / step); k * step * u.si <= max; k++) {
    const t = k * step;
    ticks.push({ x: sx(t * u.si), words: Math.abs(t) < 1e-9 ? "0" : String(Number(t.toFixed(3))) });
  }
  return ticks;
}

/** The station ruler both views share. */
export function Ruler(p: { sx: (x: number) => number; y: number; min: number; max: number; ticks: Tick[] }) {
  return (
    <g stroke="currentColor" fill="currentColor">
      <path d={`M${p.sx(p.min)} ${p.y}H${p.sx(p.max)}`} strokeWidth={1.4} />
      {p.ticks.map(({ x, words }) => (
        <g key={words}>
          <path d={`M${x} ${p.y}v${words === "0" ? 12 : 7}`} strokeWidth={1} />
          <text x={x} y={p.y + 20} fontSize={12} textAnchor="middle" stroke="none" data-label="tick">
            {words}
          </text>
        </g>
      ))}
    </g>
  );
}

/** Wanted band, neutral point with its hatched sigma, and the maiden point, on the ruler. */
export function Points({
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
      <rect x={np - half} y={y - 14} width={Math.max(2 * half, 1)} height={14} fill="url(#hatch)" />
      {/* Computed, or inferred from flight: a double line. */}
      <path d={`M${np - 1.7} ${y - 30}V${y}M${np + 1.7} ${y - 30}V${y}`} stroke="var(--color-info)" strokeWidth={1.4} />
      {maiden !== null && maiden !== undefined ? (
        <path d={`M${sx(maiden)} ${y - 24}V${y}`} stroke="var(--color-success)" strokeWidth={2} strokeDasharray="4 3" />
      ) : null}
    </g>
  );
}

/** The balance point as a knife-edge under the body, with its error whisker: full when it was read, a double line when it is a sum. */
export function KnifeEdge({ x, whisker, y, read }: { x: number; whisker: number; y: number; read: boolean }) {
  return (
    <g className="slides" transform={`translate(${x} 0)`} data-testid="knife-edge">
      {read ? (
        <path d={`M0 ${y}l-11 18h22z`} fill="currentColor" />
      ) : (
        <path d={`M0 ${y}l-11 18h22zM0 ${y + 6.5}l-6.4 9h12.8z`} stroke="currentColor" strokeWidth={1.2} fill="none" />
      )}
      <path
        d={`M${-whisker} ${y + 23}h${2 * whisker}M${-whisker} ${y + 19}v8M${whisker} ${y + 19}v8`}
        stroke="currentColor"
        strokeWidth={1.6}
        fill="none"
      />
    </g>
  );
}

/** One balance mark per pack that is not fitted: another pack is another model. */
export function PackMarks({ answer, sx, y }: { answer: BenchAnswer; sx: (x: number) => number; y: number }) {
  return answer.pack_marks.map((mark) => (
    <g key={mark.key} stroke="currentColor" fill="currentColor">
      <path d={`M${sx(mark.x_cg_m)} ${y}l-5 9h10z`} fill="none" />
    </g>
  ));
}
