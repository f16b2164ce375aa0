import type { Said } from "../../api/client";

/** Why the pilot in command flies against a stop, by its code. */
export type Reasons = Readonly<Record<string, string>>;

interface Props {
  stops: readonly Said[];
  /** Codes of those that no reason overrides. */
  firm: readonly string[];
  reasons: Reasons;
  onReason: (code: string, reason: string) => void;
}

/** What stops this sortie, each with a place to say why it is flown all the same. Nothing is filled in beforehand. */
export function Stops({ stops, firm, reasons, onReason }: Props) {
  if (stops.length === 0) return null;
  return (
    <section className="sheet mb-2 border-l-4 border-l-accent p-2" data-testid="stops">
      <p className="text-lg font-bold text-accent">Do not fly it like this</p>
      <ul>
        {stops.map((s) => (
          <li key={s.code} data-stop={s.code} className="mt-1 border-t border-base-300 pt-1">
            <p className="font-semibold text-accent">{s.words}</p>
            {firm.includes(s.code) ? (
              <p className="mt-1">No reason overrides this: set it right first.</p>
            ) : (
              <label className="mt-1 block">
                You fly this one sortie all the same? Say why; it is kept.
                <input
                  className="input mt-1 w-full text-base"
                  maxLength={300}
                  value={reasons[s.code] ?? ""}
                  onChange={(e) => onReason(s.code, e.target.value)}
                />
              </label>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
