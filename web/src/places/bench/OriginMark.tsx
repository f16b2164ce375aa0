import type { Schemas } from "../../api/client";
import { OriginLine } from "../../components/quantity/OriginLine";

export type MeasureOrigin = Schemas["MeasureOrigin"];

/** Where one measure comes from: guessed, or how often it was read and how well that knows it. */
export function OriginMark({ origin }: { origin: MeasureOrigin }) {
  return (
    <span className={origin.origin === "guessed" ? "font-semibold text-accent" : ""} data-origin={origin.origin}>
      <OriginLine origin={origin.origin} />
      {origin.words}
    </span>
  );
}
