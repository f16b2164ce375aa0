import type { Airframe, Capture, Reading } from "../../api/client";
import { aReading } from "../../api/records";
import { useFlown } from "../../components/flown-context";
import { CROSS, placesOf } from "../../drawing/DamageMarks";
import { boundsOf, type Point } from "../../drawing/geometry";
import { PlanView } from "../../drawing/views";

interface Props {
  captures: Capture[];
  readings: Record<string, Reading>;
  onReading: (reading: Reading | null, key: string) => void;
}

const W = 340;
const H = 250;

/** Every part of the model, looked at one by one: on the drawing and as a list; what was not looked at stays open. */
export function PartsLookedAt({ captures, readings, onReading }: Props) {
  const { airframe } = useFlown();
  const choose = (key: string, choice: string) =>
    onReading(readings[key]?.choice === choice ? null : aReading({ key, choice }), key);
  const left = captures.filter((c) => !readings[c.key]);
  return (
    <fieldset data-testid="parts">
      <legend tabIndex={-1} data-heading className="mb-1 text-2xl font-bold outline-none">
        Every part, both sides
      </legend>
      <PartsDrawing airframe={airframe} captures={captures} readings={readings} />
      <ul>
        {captures.map((c) => (
          <li key={c.key} className="grid grid-cols-[1fr_auto_auto] items-center gap-2 border-b border-base-300 py-1">
            <span className="text-lg">{c.label}</span>
            {c.options.map((o) => (
              <button
                key={o.key}
                type="button"
                className="field-choice px-3"
                aria-label={`${c.label}: ${o.words}`}
                aria-pressed={readings[c.key]?.choice === o.key}
                onClick={() => choose(c.key, o.key)}
              >
                {o.words}
              </button>
            ))}
          </li>
        ))}
      </ul>
      <button
        type="button"
        className="field-choice mt-2 w-full"
        disabled={left.length === 0}
        onClick={() => {
          for (const c of left) choose(c.key, "whole");
        }}
      >
        {left.length === captures.length ? "Looked at every part: all whole" : "All the others are whole"}
      </button>
    </fieldset>
  );
}

/** Plan view with a mark at each part: a cross where it is damaged, a ring where it is whole, a dot where nobody has looked. */
function PartsDrawing({
  airframe,
  captures,
  readings,
}: {
  airframe: Airframe;
  captures: Capture[];
  readings: Record<string, Reading>;
}) {
  const b = boundsOf(airframe);
  const scale = Math.min((W - 24) / (2 * b.halfSpan), (H - 24) / (b.xMax - b.xMin));
  const map = (p: Point) => ({ x: W / 2 + p.y * scale, y: H / 2 + (p.x - (b.xMin + b.xMax) / 2) * scale });
  const said = captures
    .filter((c) => readings[c.key]?.choice === "damaged")
    .map((c) => c.label.toLowerCase())
    .join(", ");
  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      className="mx-auto block h-auto w-full max-w-md"
      role="img"
      aria-label={said ? `From above; damaged: ${said}` : "From above; no part marked as damaged"}
    >
      <PlanView airframe={airframe} map={map} />
      {captures.flatMap((c) =>
        placesOf(c.key, airframe).map((p) => {
          const at = map(p);
          const state = readings[c.key]?.choice;
          return (
            <g key={`${c.key}${p.x}${p.y}`} transform={`translate(${at.x} ${at.y})`}>
              {state === "damaged" ? (
                <path d={CROSS} stroke="var(--color-accent)" strokeWidth={5} />
              ) : (
                <circle
                  r={state === "whole" ? 8 : 3.5}
                  fill={state === "whole" ? "var(--color-base-100)" : "var(--color-base-content)"}
                  stroke="var(--color-base-content)"
                  strokeWidth={2.5}
                />
              )}
            </g>
          );
        }),
      )}
    </svg>
  );
}
