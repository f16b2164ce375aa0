import type { Board, Tendency } from "../api/client";
import { isSeen } from "./Rail";

type Column = Board["columns"][number];

const CELL = 118;
const ROW = 44;

/** Each behaviour as a short line closing in on its band: as it flew in each sortie, last as it landed. */
export function ConvergenceStrip({ board }: { board: Board }) {
  const rows = board.columns[0]?.found ?? [];
  return (
    <ul className="grid gap-x-6 gap-y-1 sm:grid-cols-2 xl:grid-cols-3">
      {rows.map((row) => {
        const last = board.columns.at(-1)?.found.find((t) => t.key === row.key) ?? row;
        const series = [...board.columns.map((c) => c.flown.find((t) => t.key === row.key) ?? row), last];
        return (
          <li key={row.key} className="flex items-center gap-3 border-b border-base-300 py-1">
            <Spark series={series} />
            <span className="min-w-0">
              <span className="block leading-tight font-semibold">{row.name}</span>
              <span className={`block text-sm leading-tight ${last.out ? "font-semibold text-accent" : ""}`}>
                {last.verdict}
              </span>
            </span>
          </li>
        );
      })}
    </ul>
  );
}

function Spark({ series }: { series: Tendency[] }) {
  const W = 110;
  const H = 40;
  const t = series[0];
  if (!t) return null;
  const y = (v: number) =>
    H - 3 - ((Math.min(Math.max(v, t.rail_low), t.rail_high) - t.rail_low) / (t.rail_high - t.rail_low)) * (H - 6);
  const x = (i: number) => 12 + (i * (W - 24)) / Math.max(series.length - 1, 1);
  return (
    <svg width={W} height={H} role="img" aria-label={series.map((s) => s.words).join(", then ")} className="shrink-0">
      <rect
        x={0}
        y={y(t.high)}
        width={W}
        height={Math.max(y(t.low) - y(t.high), 2)}
        fill="var(--color-success)"
        opacity={0.2}
      />
      <path
        d={`M${series.map((s, i) => `${x(i)} ${y(s.value)}`).join("L")}`}
        fill="none"
        stroke="currentColor"
        strokeWidth={1.5}
      />
      {series.map((s, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: sorties have no other order than their index
        <g key={i} stroke="currentColor">
          <path d={`M${x(i)} ${y(s.value - s.sigma)}V${y(s.value + s.sigma)}`} strokeWidth={1.5} />
          <circle
            cx={x(i)}
            cy={y(s.value)}
            r={3}
            fill={!isSeen(s) ? "var(--color-base-100)" : s.out ? "var(--color-accent)" : "currentColor"}
            strokeWidth={isSeen(s) ? 0 : 1.5}
          />
        </g>
      ))}
    </svg>
  );
}

/** The convergence board: rows are behaviours, columns sorties; predicted dashed, flown solid, landed as a short mark. */
export function ConvergenceBoard({ board }: { board: Board }) {
  const rows = board.columns[0]?.found ?? [];
  return (
    <div className="overflow-x-auto">
      <table className="w-full border-collapse">
        <thead>
          <tr>
            <th className="w-52 text-left align-bottom">Behaviour</th>
            {board.columns.map((c) => (
              <th
                key={c.sortie_id}
                className={`px-1 pb-1 text-left align-bottom ${c.change_words.length ? "border-l-2 border-base-content" : ""}`}
              >
                <span className="block text-xs font-normal text-secondary">{c.change_words.join(", ")}</span>
                sortie {c.sortie_number}
                <span className="block text-sm font-normal">
                  configuration {c.configuration_number}
                  {c.simulated ? ", stand-in" : ""}
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.key} className="border-t border-base-300">
              <th className="pr-3 text-left font-semibold">{row.name}</th>
              {board.columns.map((c) => (
                <td
                  key={c.sortie_id}
                  className={`px-1 ${c.change_words.length ? "border-l-2 border-base-content" : ""}`}
                >
                  <Cell column={c} rowKey={row.key} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Cell({ column, rowKey }: { column: Column; rowKey: string }) {
  const flown = column.flown.find((t) => t.key === rowKey);
  const landed = column.found.find((t) => t.key === rowKey);
  const predicted = column.predicted.find((t) => t.key === rowKey);
  const score = column.score.find((s) => s.key === rowKey);
  if (!flown || !landed) return <span>–</span>;
  /** Where a value lies across the cell, which is as wide as the page gives it [%]. */
  const across = (v: number) =>
    3 +
    (94 * (Math.min(Math.max(v, flown.rail_low), flown.rail_high) - flown.rail_low)) /
      (flown.rail_high - flown.rail_low);
  const bar = (t: Tendency, y: number, dashed: boolean) => (
    <g stroke={dashed ? "var(--color-info)" : "currentColor"}>
      <line
        x1={`${across(t.value - t.sigma)}%`}
        x2={`${across(t.value + t.sigma)}%`}
        y1={y}
        y2={y}
        strokeWidth={dashed ? 2 : 3}
        strokeDasharray={dashed ? "4 3" : undefined}
      />
      <circle
        cx={`${across(t.value)}%`}
        cy={y}
        r={3}
        fill={dashed ? "var(--color-base-100)" : "currentColor"}
        strokeWidth={1.5}
      />
    </g>
  );
  const [from, to] = [`${across(flown.value)}%`, `${across(landed.value)}%`];
  const trimmed = Math.abs(across(landed.value) - across(flown.value)) > 1.5;
  return (
    <div>
      <svg
        className="w-full"
        style={{ minWidth: CELL }}
        height={ROW - 8}
        role="img"
        aria-label={`${predicted ? `predicted ${predicted.words}; ` : ""}flown ${flown.words}${trimmed ? `; after its trim clicks ${landed.words}` : ""}`}
      >
        <rect
          x={`${across(flown.low)}%`}
          y={0}
          width={`${Math.max(across(flown.high) - across(flown.low), 1.5)}%`}
          height={ROW}
          fill="var(--color-success)"
          opacity={0.2}
        />
        {predicted ? bar(predicted, 9, true) : null}
        {bar(flown, 21, false)}
        {trimmed ? (
          <g stroke="currentColor">
            <line x1={from} x2={to} y1={31} y2={31} />
            <line x1={to} x2={to} y1={27} y2={35} />
          </g>
        ) : null}
      </svg>
      <span className={`block text-xs ${score && !score.within_one_sigma ? "font-semibold" : "text-secondary"}`}>
        {score?.words ?? ""}
      </span>
    </div>
  );
}
