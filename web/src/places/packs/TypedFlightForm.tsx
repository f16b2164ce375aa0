import { useState } from "react";
import { QuantityField } from "../../components/quantity/QuantityField";
import { ProblemNote } from "../../components/ui/feedback";
import { newId } from "../../domain/identity";
import { type TypedFlight, useKeepFlight } from "../../queries/packs";

type Draft = Partial<TypedFlight>;

/** A flight from before, or with a model that is not here: what it took from the pack. */
export function TypedFlightForm({ packId, onKept }: { packId: string; onKept: () => void }) {
  const [id] = useState(newId);
  const [draft, setDraft] = useState<Draft>({});
  const keep = useKeepFlight(packId);
  const put = (part: Draft) => setDraft((d) => ({ ...d, ...part }));
  const { minutes } = draft;
  return (
    <div data-fields className="mt-2">
      <p>Volts after it and the charge put back tell together what the pack holds, whatever it flew in.</p>
      <label className="flex items-center gap-2 py-1">
        <span className="flex-1">Day</span>
        <input
          type="date"
          className="input w-40 min-w-0 text-base"
          value={draft.flown_on ?? ""}
          onChange={(e) => put({ flown_on: e.target.value || null })}
        />
      </label>
      <QuantityField
        label="Minutes in the air"
        quantity="minutes"
        value={minutes ?? null}
        onCommit={(v) => put({ minutes: v })}
      />
      <QuantityField
        label="Volts at rest before"
        hint="of the pack or of one cell"
        quantity="volts"
        value={draft.before_v ?? null}
        onCommit={(v) => put({ before_v: v })}
      />
      <QuantityField
        label="Volts at rest after"
        hint="after the same wait as always"
        quantity="volts"
        value={draft.after_v ?? null}
        onCommit={(v) => put({ after_v: v })}
      />
      <QuantityField
        label="Charge put back"
        quantity="charge"
        value={draft.put_back_c ?? null}
        onCommit={(v) => put({ put_back_c: v })}
      />
      {keep.error ? <ProblemNote error={keep.error} /> : null}
      <button
        type="button"
        className="btn btn-primary mt-2 min-h-11"
        disabled={!minutes || !draft.after_v || !draft.put_back_c || keep.isPending}
        onClick={() => minutes && keep.mutate({ id, flight: { ...draft, minutes } }, { onSuccess: onKept })}
      >
        {keep.isPending ? "Keeping…" : "Keep it"}
      </button>
    </div>
  );
}
