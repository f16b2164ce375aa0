interface Line {
  points: readonly (readonly [number, number])[];
  name: string;
  dashed?: boolean;
}

interface Props {
  lines: readonly Line[];
  /** Words at the four ends: left, right, bottom, top. */
  ends: readonly [string, string, string, string];
  mark?: readonly [number, number];
  label: string;
}

const SIZE = 240;
const EDGE = 22;

/** Curves over a square from -1 to +1 both ways, the ends named in words. */
export function Curve({ lines, ends, mark, label }: Props) {
  const most = Math.max(1, ...lines.flatMap((l) => l.points.map(([, y]) => Math.abs(y))));
  const px = (x: number) => SIZE / 2 + (x * (SIZE - 2 * EDGE)) / 2;
  const py = (y: number) => SIZE / 2 - ((y / most) * (SIZE - 2 * EDGE)) / 2;
  return (
    <svg viewBox={`0 0 ${SIZE} ${SIZE}`} className="block w-full max-w-72" role="img" aria-label={label}>
      <path
        d={`M${EDGE} ${SIZE / 2}H${SIZE - EDGE}M${SIZE / 2} ${EDGE}V${SIZE - EDGE}`}
        className="stroke-secondary"
        strokeWidth={0.8}
      />
      <rect
        x={EDGE}
        y={EDGE}
        width={SIZE - 2 * EDGE}
        height={SIZE - 2 * EDGE}
        className="fill-none stroke-base-300"
        strokeWidth={1}
      />
      {lines.map((l) => (
        <path
          key={l.name}
          d={`M${l.points.map(([x, y]) => `${px(x).toFixed(1)} ${py(y).toFixed(1)}`).join("L")}`}
          className={`fill-none ${l.dashed ? "stroke-secondary" : "stroke-base-content"}`}
          strokeWidth={l.dashed ? 1.4 : 2.4}
          strokeDasharray={l.dashed ? "6 4" : undefined}
        />
      ))}
      {lines.map((l, i) => {
        const end = l.points.at(-1);
        return end ? (
          <text
            key={l.name}
            x={px(end[0]) - 3}
            y={py(end[1]) + (i === 0 ? -4 : 13)}
            textAnchor="end"
            className="fill-base-content text-[13px]"
          >
            {l.name}
          </text>
        ) : null;
      })}
      {mark ? <circle cx={px(mark[0])} cy={py(mark[1])} r={4} className="fill-accent" /> : null}
      <text x={EDGE} y={SIZE - 7} className="fill-base-content text-[13px]">
        ← {ends[0]}
      </text>
      <text x={SIZE - EDGE} y={SIZE - 7} textAnchor="end" className="fill-base-content text-[13px]">
        {ends[1]} →
      </text>
      <text x={SIZE / 2 + 8} y={EDGE - 6} textAnchor="end" className="fill-base-content text-[13px]">
        {ends[3]} ↑
      </text>
      <text x={SIZE / 2 + 4} y={SIZE - EDGE - 5} className="fill-base-content text-[13px]">
        ↓ {ends[2]}
      </text>
    </svg>
  );
}
