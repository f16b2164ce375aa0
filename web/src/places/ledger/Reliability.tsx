import type { Kept } from "../../api/client";

const SIZE = 150;
const PAD = 26;

const at = (share: number) => PAD + share * (SIZE - PAD - 6);
const up = (share: number) => SIZE - at(share);
const percent = (share: number) => `${Math.round(share * 100)} %`;

/** What was said to be likely against what came true: on the line both are the same. */
export function Reliability({ kept }: { kept: readonly Kept[] }) {
  if (kept.length === 0) return null;
  return (
    <figure className="mt-3 flex flex-wrap items-start gap-4" data-testid="reliability">
      <svg
        viewBox={`0 0 ${SIZE} ${SIZE}`}
        className="w-44 shrink-0"
        role="img"
        aria-label="How often predictions came true against how likely they were said to be; the table beside it has the numbers"
      >
        <path d={`M${at(0)} ${up(1)}V${up(0)}H${at(1)}`} className="fill-none stroke-base-content" strokeWidth="1" />
        <path
          d={`M${at(0)} ${up(0)}L${at(1)} ${up(1)}`}
          className="stroke-base-content"
          strokeWidth="1"
          strokeDasharray="4 3"
        />
        {kept.map((k) => (
          <g key={k.low} className="fill-base-content stroke-base-content">
            <path d={`M${at(k.said)} ${up(k.least)}V${up(k.most)}`} strokeWidth="1.5" />
            <circle cx={at(k.said)} cy={up(k.came_true / k.count)} r="4" />
          </g>
        ))}
        {[0, 1].map((s) => (
          <g key={s} className="fill-base-content" fontSize="11">
            <text x={at(s)} y={SIZE - 12} textAnchor={s === 0 ? "start" : "end"}>
              {s * 100} %
            </text>
            <text x={PAD - 3} y={up(s) + (s === 0 ? 0 : 9)} textAnchor="end">
              {s * 100}
            </text>
          </g>
        ))}
        <text x={at(0.5)} y={SIZE - 1} textAnchor="middle" fontSize="11" className="fill-base-content">
          said
        </text>
        <text
          x={9}
          y={up(0.5)}
          textAnchor="middle"
          fontSize="11"
          className="fill-base-content"
          transform={`rotate(-90 9 ${up(0.5)})`}
        >
          came true
        </text>
      </svg>
      <figcaption className="min-w-60 flex-1">
        <p className="font-semibold">Said to lie in its band, and did it?</p>
        <table className="table table-sm w-auto">
          <thead>
            <tr>
              <th scope="col">said</th>
              <th scope="col">came true</th>
            </tr>
          </thead>
          <tbody>
            {kept.map((k) => (
              <tr key={k.low}>
                <th scope="row" className="font-normal">
                  {percent(k.low)} to {percent(k.high)} likely
                </th>
                <td>
                  {k.came_true} of {k.count}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="text-sm">
          On the dashed line what was said came true as often. Bars: what so few can tell, nineteen times in twenty.
        </p>
      </figcaption>
    </figure>
  );
}
