import type { Schemas } from "../../api/client";

/** A short line as the drawing draws it: dotted for a guess, solid for what was measured, double for what was computed. */
export function OriginLine({ origin }: { origin: Schemas["Origin"] }) {
  const y = 5;
  const path = origin === "computed" || origin === "inferred" ? `M1 ${y - 2}H25M1 ${y + 2}H25` : `M1 ${y}H25`;
  return (
    <svg width="26" height="10" aria-hidden="true" className="mr-1 inline-block align-middle">
      <path
        d={path}
        stroke="currentColor"
        strokeWidth={1.8}
        strokeLinecap="round"
        strokeDasharray={origin === "guessed" ? "0.5 4.5" : undefined}
      />
    </svg>
  );
}
