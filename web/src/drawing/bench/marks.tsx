import type { BenchAnswer, Configuration } from "../../api/client";
import { UNITS } from "../../domain/units";
import { chordAt, type Point, rulerStep } from "../geometry";

/** The mean aerodynamic chord where it lies on the half wing. */
export function MeanChord({ answer, plan, scale }: { answer: BenchAnswer; plan: (p: Point) => Point; scale: number }) {
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
      <text x={p.x + 12} y={p.y - 6} fontSize={13} fill="var(--color-accent)" fontWeight={600}>
        fingers here
      </text>
    </g>
  );
}

/** The station ruler both views share. */
export function Ruler(p: {
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

/** The balance point as a knife-edge under the body, with its error whisker. */
export function KnifeEdge({ x, whisker, y }: { x: number; whisker: number; y: number }) {
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

/** One balance mark per pack that is not fitted: another pack is another model. */
export function PackMarks({ answer, sx, y }: { answer: BenchAnswer; sx: (x: number) => number; y: number }) {
  return answer.pack_marks.map((mark, i) => (
    <g key={mark.key} stroke="currentColor" fill="currentColor">
      <path d={`M${sx(mark.x_cg_m)} ${y}l-5 9h10z`} fill="none" />
      <text x={sx(mark.x_cg_m)} y={y + 48 + 14 * i} fontSize={12} textAnchor="middle" stroke="none">
        with {mark.name}
      </text>
    </g>
  ));
}
