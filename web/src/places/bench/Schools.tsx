import type { BenchAnswer } from "../../api/client";
import { marginWords, stationWords } from "../../components/quantity/station";
import { useSettings } from "../../components/settings-context";

/** Where the trade and where this geometry would balance it, side by side, each with its margin and its risk. */
export function Schools({ answer }: { answer: BenchAnswer }) {
  const { show } = useSettings();
  const all = answer.schools;
  if (all.length === 0) return null;
  const low = Math.min(...all.map((s) => s.from_m), answer.x_cg_m, answer.x_np_m);
  const high = Math.max(...all.map((s) => s.to_m), answer.x_cg_m, answer.x_np_m);
  const at = (x: number) => 3 + ((x - low) / (high - low || 1)) * 94;
  const risk = (r: number) => (r < 0.001 ? "below 0.1 %" : r > 0.999 ? "above 99.9 %" : show(r, "fraction"));
  return (
    <section className="mt-3">
      <h2 className="font-bold">The schools, side by side</h2>
      <p className="label-small">
        Bars on one ruler, nose to the left. The thick line is where it balances now, the thin one its neutral point.
      </p>
      <ul>
        {all.map((s) => (
          <li key={s.key} className="border-b border-base-300 py-1">
            <span className="flex justify-between gap-2">
              <span className={s.computed ? "font-semibold" : ""}>{s.name}</span>
              <span className={s.risk > 0.05 ? "font-semibold text-error" : ""}>risk {risk(s.risk)}</span>
            </span>
            <svg viewBox="0 0 100 9" className="h-6 w-full" preserveAspectRatio="none" aria-hidden="true">
              <path d="M0 6H100" stroke="currentColor" strokeWidth={0.4} />
              <rect
                x={at(s.from_m)}
                y={3}
                width={Math.max(at(s.to_m) - at(s.from_m), 0.8)}
                height={3}
                fill={s.computed ? "var(--color-success)" : "none"}
                stroke="currentColor"
                strokeWidth={0.35}
              />
              <path d={`M${at(answer.x_cg_m)} 0V9`} stroke="currentColor" strokeWidth={0.9} />
              <path d={`M${at(answer.x_np_m)} 0V9`} stroke="var(--color-info)" strokeWidth={0.4} />
            </svg>
            <span className="block text-sm">
              {s.to_m - s.from_m > 0.0005 ? `${show(Math.abs(s.from_m), "length")} to ` : ""}
              {stationWords(show, s.to_m)}, margin {marginWords(show, s.static_margin)}. {s.words}
            </span>
          </li>
        ))}
      </ul>
      {answer.remedies.length > 0 ? (
        <>
          <h3 className="mt-3 font-bold">
            {answer.maiden.reachable ? "What would widen the room" : "No point is safe both ways: what would help"}
          </h3>
          <ul>
            {answer.remedies.map((r) => (
              <li key={r.key} className="border-b border-base-300 py-1 text-sm">
                <span className="font-semibold">{r.name}.</span> {r.words}
              </li>
            ))}
          </ul>
        </>
      ) : null}
    </section>
  );
}
