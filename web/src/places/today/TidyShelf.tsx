import { useState } from "react";
import type { ShelfModel } from "../../api/client";
import { ProblemNote } from "../../components/ui/feedback";
import { useShelfChange } from "../../queries/models";

/** Models off the shelf and back on it; what is put away is kept with everything, or deleted for good. */
export function TidyShelf({ models }: { models: ShelfModel[] }) {
  if (models.length === 0) return null;
  const away = models.filter((m) => m.put_away).length;
  return (
    <details className="mt-6" data-testid="tidy">
      <summary className="min-h-11 text-lg font-semibold">
        Tidy the shelf{away > 0 ? ` (${away} put away)` : ""}
      </summary>
      <ul>
        {models.map((m) => (
          <li key={m.id} className="border-b border-base-300 py-1">
            {m.put_away ? <Kept model={m} /> : <Standing model={m} />}
          </li>
        ))}
      </ul>
    </details>
  );
}

function Standing({ model }: { model: ShelfModel }) {
  const change = useShelfChange();
  return (
    <>
      <div className="flex flex-wrap items-center gap-2">
        <span className="flex-1 font-semibold">{model.name}</span>
        <button
          type="button"
          className="btn btn-sm min-h-11"
          disabled={change.isPending}
          aria-label={`Put ${model.name} away`}
          onClick={() => change.mutate({ id: model.id, change: "put away" })}
        >
          Put away
        </button>
      </div>
      {change.error ? <ProblemNote error={change.error} /> : null}
    </>
  );
}

function Kept({ model }: { model: ShelfModel }) {
  const change = useShelfChange();
  const [deleting, setDeleting] = useState(false);
  return (
    <>
      <div className="flex flex-wrap items-center gap-2">
        <span className="flex-1">
          <span className="font-semibold">{model.name}</span> <span className="label-small">put away</span>
        </span>
        <button
          type="button"
          className="btn btn-sm min-h-11"
          disabled={change.isPending}
          onClick={() => change.mutate({ id: model.id, change: "take back" })}
        >
          Take back
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-sm min-h-11"
          aria-expanded={deleting}
          onClick={() => setDeleting(!deleting)}
        >
          Delete for good…
        </button>
      </div>
      {change.error ? <ProblemNote error={change.error} /> : null}
      {deleting ? (
        <Deleting
          model={model}
          busy={change.isPending}
          onDelete={(name) => change.mutate({ id: model.id, change: "delete", name })}
        />
      ) : null}
    </>
  );
}

interface DeletingProps {
  model: ShelfModel;
  busy: boolean;
  onDelete: (name: string) => void;
}

function Deleting({ model, busy, onDelete }: DeletingProps) {
  const [typed, setTyped] = useState("");
  return (
    <form
      className="sheet mt-1 border-l-4 border-l-error p-3"
      onSubmit={(e) => {
        e.preventDefault();
        onDelete(typed);
      }}
    >
      <p className="font-semibold">
        Everything of it goes: setups, flights, what they taught. Keep a copy first:{" "}
        <a className="link" href={`/api/v1/models/${model.id}/archive`} download>
          export its project file
        </a>
        .
      </p>
      <label className="mt-2 flex flex-wrap items-center gap-2">
        Type its name to say that you mean this one
        <input className="input min-h-11" value={typed} onChange={(e) => setTyped(e.target.value)} />
      </label>
      <button type="submit" className="btn btn-error mt-2 min-h-11" disabled={busy || typed.trim() !== model.name}>
        {busy ? "Deleting…" : `Delete ${model.name} for good`}
      </button>
    </form>
  );
}
