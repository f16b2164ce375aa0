import type { SaturationMap } from "../../api/client";

const SIZE = 260;
const EDGE = 26;

/** Corner words of the stick box: left, right, bottom (stick forward), top (stick back). */
export interface BoxWords {
  left: string;
  right: string;
  bottom: string;
  top: string;
}

/** The whole stick box; where a surface runs out of travel it is hatched: one way for the left one, the other for the right. */
export function SaturationSquare({ map, words, label }: { map: SaturationMap; words: BoxWords; label: string }) {
  const n = map.rows.length;
  const cell = (SIZE - 2 * EDGE) / n;
  const kinds = [1, 2, 3] as const;
  return (
    <svg
      viewBox={`0 0 ${SIZE} ${SIZE}`}
      className="block w-full max-w-80"
      role="img"
      aria-label={label}
      data-testid="saturation"
    >
      <defs>
        <pattern id="cut-left" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V6" className="stroke-accent" strokeWidth="1.6" />
        </pattern>
        <pattern id="cut-right" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
          <path d="M0 0V6" className="stroke-accent" strokeWidth="1.6" />
        </pattern>
        <pattern id="cut-both" width="6" height="6" patternUnits="userSpaceOnUse">
          <path d="M0 0L6 6M6 0L0 6" className="stroke-accent" strokeWidth="1.4" />
        </pattern>
      </defs>
      {kinds.map((kind) => (
        <path
          key={kind}
          d={map.rows
            .flatMap((row, r) =>
              row.map((code, c) =>
                code === kind
                  ? `M${(EDGE + c * cell).toFixed(1)} ${(SIZE - EDGE - (r + 1) * cell).toFixed(1)}h${cell.toFixed(2)}v${cell.toFixed(2)}h${(-cell).toFixed(2)}Z`
                  : "",
              ),
            )
            .join("")}
          fill={`url(#cut-${kind === 1 ? "left" : kind === 2 ? "right" : "both"})`}
        />
      ))}
      <rect
        x={EDGE}
        y={EDGE}
        width={SIZE - 2 * EDGE}
        height={SIZE - 2 * EDGE}
        className="fill-none stroke-base-content"
        strokeWidth={1.5}
      />
      <path
        d={`M${EDGE} ${SIZE / 2}H${SIZE - EDGE}M${SIZE / 2} ${EDGE}V${SIZE - EDGE}`}
        className="stroke-secondary"
        strokeDasharray="3 3"
        strokeWidth={0.8}
      />
      <text x={SIZE / 2} y={EDGE - 8} textAnchor="middle" className="fill-base-content text-[13px]">
        ↑ {words.top}
      </text>
      <text x={SIZE / 2} y={SIZE - 9} textAnchor="middle" className="fill-base-content text-[13px]">
        ↓ {words.bottom}
      </text>
      <text
        x={12}
        y={SIZE / 2}
        textAnchor="middle"
        transform={`rotate(-90 12 ${SIZE / 2})`}
        className="fill-base-content text-[13px]"
      >
        {words.left}
      </text>
      <text
        x={SIZE - 10}
        y={SIZE / 2}
        textAnchor="middle"
        transform={`rotate(90 ${SIZE - 10} ${SIZE / 2})`}
        className="fill-base-content text-[13px]"
      >
        {words.right}
      </text>
    </svg>
  );
}
