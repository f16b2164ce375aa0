import { Link } from "react-router";
import type { ModelDetail } from "../api/client";

export const STATIONS = [
  { key: "bench", name: "Bench" },
  { key: "plan", name: "Plan" },
  { key: "fly", name: "Fly" },
  { key: "debrief", name: "Debrief" },
  { key: "rework", name: "Rework" },
] as const;

/** The loop as a closed circuit with a bead where this model is now; each station carries its count of open things. */
export function LoopStrip({ model, place }: { model: ModelDetail; place: string }) {
  const n = STATIONS.length;
  return (
    <nav aria-label="the loop" className="relative h-14 max-w-2xl">
      <svg
        className="absolute inset-0 h-full w-full"
        viewBox="0 0 100 100"
        preserveAspectRatio="none"
        aria-hidden="true"
      >
        <path
          d={`M${50 / n} 34H${100 - 50 / n}C${100 - 12 / n} 34 ${100 - 12 / n} 92 ${100 - 50 / n} 92H${50 / n}C${12 / n} 92 ${12 / n} 34 ${50 / n} 34`}
          fill="none"
          stroke="currentColor"
          strokeWidth={1.2}
          vectorEffect="non-scaling-stroke"
        />
      </svg>
      <ol className="absolute inset-0 grid" style={{ gridTemplateColumns: `repeat(${n}, 1fr)` }}>
        {STATIONS.map((s) => {
          const count = model.today.counts[s.key] ?? 0;
          const here = model.today.station === s.key;
          return (
            <li key={s.key} className="flex justify-center">
              <Link
                to={`/m/${model.id}/${s.key}`}
                aria-current={place === s.key ? "page" : undefined}
                className={`flex min-h-12 flex-col items-center px-3 ${place === s.key ? "font-bold" : ""}`}
              >
                <span
                  aria-hidden="true"
                  className={`mt-[0.72rem] block rounded-full border-2 border-base-content ${here ? "-mb-0.5 -translate-y-0.5 h-4 w-4 border-accent bg-accent" : "h-3 w-3 bg-base-100"}`}
                />
                <span
                  className={`bg-base-100 px-1 leading-tight ${place === s.key ? "underline underline-offset-4" : ""}`}
                >
                  {s.name}
                  {count > 0 ? (
                    <span className="ml-1 rounded bg-accent px-1 text-sm font-semibold text-accent-content">
                      {count}
                      <span className="sr-only"> open</span>
                    </span>
                  ) : null}
                  {here ? <span className="sr-only"> (the model is here)</span> : null}
                </span>
              </Link>
            </li>
          );
        })}
      </ol>
    </nav>
  );
}
