import { memo, useState } from "react";
import { Link } from "react-router";
import type { BenchAnswer, Schemas } from "../../api/client";
import { OriginLine } from "../../components/quantity/OriginLine";
import { useSettings } from "../../components/settings-context";
import { day } from "../../domain/time";
import { OriginMark } from "./OriginMark";

type Origins = BenchAnswer["origins"];

const LEGEND: [Schemas["Origin"], string][] = [
  ["guessed", "guessed"],
  ["measured", "measured"],
  ["computed", "computed, or inferred from flight"],
];

/** How much of the drawing is the model's own: what its lines mean, and the count. */
export const Provenance = memo(function Provenance({ origins }: { origins: Origins }) {
  const { measures, measured } = origins;
  return (
    <div className="px-2 pb-1 text-sm" data-testid="provenance">
      <p className="flex flex-wrap items-center gap-x-4">
        <span className="font-semibold" data-testid="measured-count">
          {measured} of {measures.length} measured
        </span>
        {LEGEND.map(([origin, words]) => (
          <span key={origin} className="whitespace-nowrap">
            <OriginLine origin={origin} />
            {words}
          </span>
        ))}
      </p>
    </div>
  );
});

/** The measure that makes the margin surest when it is taken next. */
export function MeasureNext({ origins }: { origins: Origins }) {
  const { next, next_key } = origins;
  if (!next || !next_key) return null;
  return (
    <p className="mb-2 flex flex-wrap items-center gap-2" data-testid="measure-next">
      <span className="flex-1">{next.words}</span>
      <Link
        className="btn min-h-11"
        to={next_key === "balance" ? "?tool=weigh" : `?tool=airframe&measure=${encodeURIComponent(next_key)}`}
      >
        {next_key === "balance" ? "Read it" : "Measure it"}
      </Link>
    </p>
  );
}

/** The numbers behind the drawing, as a table. */
export const DrawingTable = memo(function DrawingTable({ origins }: { origins: Origins }) {
  // Its rows are made when they are looked at: the numbers change at every move of a pointer.
  const [open, setOpen] = useState(false);
  return (
    <details className="mt-2" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="min-h-11 cursor-pointer py-2 font-semibold">The drawing as a table</summary>
      {open ? <Rows origins={origins} /> : null}
    </details>
  );
});

function Rows({ origins }: { origins: Origins }) {
  const { show } = useSettings();
  return (
    <div className="overflow-x-auto">
      <table className="table-sm table">
        <thead>
          <tr>
            <th scope="col">Measure</th>
            <th scope="col">Value</th>
            <th scope="col">Where it comes from</th>
            <th scope="col">Read last</th>
          </tr>
        </thead>
        <tbody>
          {origins.measures.map((m) => (
            <tr key={m.key}>
              <th scope="row" className="font-normal">
                {m.part}: {m.label}
              </th>
              <td className="text-right whitespace-nowrap">
                {m.value === null || m.value === undefined
                  ? "as the right one"
                  : show(m.value, m.quantity === "angle" ? "angle" : "length")}
              </td>
              <td>
                <OriginMark origin={m} />
              </td>
              <td className="whitespace-nowrap">{m.on ? day(m.on) : ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
