import { useRef } from "react";
import { inOwnUnits } from "../../../api/client";
import { ProblemNote } from "../../../components/ui/feedback";
import { useThrowTable } from "../../../queries/controls";
import { useEdit } from "../editing";
import { useDesk } from "./desk";

/** The set-up sheet as it will be printed. */
export function SheetBoard() {
  const { modelId, revision } = useDesk();
  return (
    <img
      src={inOwnUnits(`/api/v1/models/${modelId}/setup-sheet.svg?r=${revision}`)}
      alt="Set-up sheet: surfaces, rates, mixes, phases, switches, fail-safe and timers on one page"
      className="sheet w-full bg-white"
    />
  );
}

/** Paper and tables out, throws in. */
export function SheetFields() {
  const { modelId } = useDesk();
  const { readOnly } = useEdit();
  const table = useThrowTable(modelId);
  const file = useRef<HTMLInputElement>(null);
  const path = `/api/v1/models/${modelId}`;
  return (
    <div className="space-y-2">
      <p className="flex flex-wrap gap-2">
        <a className="btn btn-sm" href={inOwnUnits(`${path}/setup-sheet.pdf`)} target="_blank" rel="noreferrer">
          Set-up sheet (PDF)
        </a>
        <a className="btn btn-sm" href={inOwnUnits(`${path}/setup-sheet.csv`)} download="setup-sheet.csv">
          As a table (CSV)
        </a>
        <a className="btn btn-sm" href={`${path}/throws.csv`} download="throws.csv">
          Throws (CSV)
        </a>
      </p>
      {readOnly ? null : (
        <>
          <button type="button" className="btn btn-sm" disabled={table.isPending} onClick={() => file.current?.click()}>
            {table.isPending ? "Reading…" : "Read throws from a CSV"}
          </button>
          <p className="label-small">
            Columns axis, rate, nose_up_or_right_mm, nose_down_or_left_mm, expo_percent, chord_mm. Each throw becomes
            the rate that gives it with these linkages.
          </p>
          <input
            ref={file}
            type="file"
            accept=".csv,text/csv"
            className="hidden"
            aria-label="Throws as a CSV file"
            onChange={(e) => {
              const chosen = e.target.files?.[0];
              e.target.value = "";
              if (chosen) table.mutate(chosen);
            }}
          />
        </>
      )}
      {table.error ? <ProblemNote error={table.error} /> : null}
      {table.isSuccess ? <p role="status">The throws are read: look at them under Throws.</p> : null}
    </div>
  );
}
