import type { Said } from "../../api/client";
import { SpeakButton } from "../../components/SpeakButton";

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
        {[...new Set(stops.map((s) => s.code))].map((code) => (
          <li key={code} data-stop={code} className="mt-1 border-t border-base-300 pt-1">
            {stops
              .filter((s) => s.code === code)
              .map((s) => (
                <p key={s.words} className="font-semibold text-accent">
                  {s.words}
                </p>
              ))}
            {firm.includes(code) ? (
              <p className="mt-1">No reason overrides this: set it right first.</p>
            ) : (
              <>
                <label className="mt-1 block">
                  You fly this one sortie all the same? Say why; it is kept.
                  <input
                    className="input mt-1 w-full text-base"
                    maxLength={300}
                    value={reasons[code] ?? ""}
                    onChange={(e) => onReason(code, e.target.value)}
                  />
                </label>
                <SpeakButton what="why it is flown" onText={(text) => onReason(code, text.slice(0, 300))} />
              </>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
