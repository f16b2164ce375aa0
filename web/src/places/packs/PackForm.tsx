import { useState } from "react";
import { QuantityField } from "../../components/quantity/QuantityField";
import { ProblemNote } from "../../components/ui/feedback";
import { type PackLabel, type PackView, useCells, useKeepPack } from "../../queries/packs";

type Draft = Partial<Omit<PackLabel, "name">> & { name: string };

interface Props {
  id: string;
  view: PackView | null;
  onKept: () => void;
}

/** What is written on a pack. What was entered stays where it is refused. */
export function PackForm({ id, view, onKept }: Props) {
  const cells = useCells();
  const keep = useKeepPack();
  const [draft, setDraft] = useState<Draft>(() => draftOf(view));
  const put = (part: Partial<Draft>) => setDraft((d) => ({ ...d, ...part }));
  const label = whole(draft);
  const missing = lacks(draft);
  return (
    <div data-fields>
      <label className="flex items-center gap-2 py-1">
        <span className="flex-1">
          Name <span className="label-small block">as written on it</span>
        </span>
        <input
          className="input w-40 min-w-0 text-base"
          maxLength={40}
          value={draft.name}
          onChange={(e) => put({ name: e.target.value })}
        />
      </label>
      <label className="flex items-center gap-2 py-1">
        <span className="flex-1">Cells of</span>
        <select
          className="select w-52 min-w-0 text-base"
          value={draft.chemistry ?? ""}
          onChange={(e) => {
            const kind = cells.data?.find((c) => c.chemistry === e.target.value);
            if (kind) put({ chemistry: kind.chemistry });
          }}
        >
          <option value="">choose…</option>
          {(cells.data ?? []).map((c) => (
            <option key={c.chemistry} value={c.chemistry}>
              {c.words}
            </option>
          ))}
        </select>
      </label>
      <QuantityField
        label="Cells in a row"
        hint="the number before the S"
        quantity="count"
        value={draft.cells ?? null}
        onCommit={(v) => put({ cells: Math.round(v) })}
      />
      <QuantityField
        label="Capacity"
        quantity="charge"
        value={draft.capacity_c ?? null}
        onCommit={(v) => put({ capacity_c: v })}
      />
      <QuantityField
        label="Rating"
        hint="the number before the C, if it is there"
        quantity="count"
        value={draft.rating_per_h ?? null}
        onCommit={(v) => put({ rating_per_h: v })}
      />
      <QuantityField
        label="Resistance of the pack"
        hint="if the charger shows it: all cells together"
        quantity="resistance"
        value={draft.resistance_ohm ?? null}
        onCommit={(v) => put({ resistance_ohm: v })}
      />
      <QuantityField
        label="Mass with its lead"
        hint="if weighed: another mass moves the balance point"
        quantity="mass"
        value={draft.mass_kg ?? null}
        onCommit={(v) => put({ mass_kg: v })}
      />
      {keep.error ? <ProblemNote error={keep.error} /> : null}
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <button
          type="button"
          className="btn btn-primary min-h-11"
          disabled={!label || keep.isPending}
          onClick={() => label && keep.mutate({ id, label }, { onSuccess: onKept })}
        >
          {keep.isPending ? "Keeping…" : "Keep it"}
        </button>
        {missing ? <span>{missing}</span> : null}
      </div>
    </div>
  );
}

function draftOf(view: PackView | null): Draft {
  const pack = view?.pack;
  if (!pack) return { name: view?.name ?? "" };
  return {
    name: pack.name,
    chemistry: pack.chemistry,
    cells: pack.cells,
    capacity_c: pack.capacity_c,
    rating_per_h: pack.rating_per_h ?? null,
    resistance_ohm: pack.resistance_ohm ?? null,
    mass_kg: pack.mass_kg ?? null,
    put_away: view.put_away,
  };
}

/** What a pack needs before it can be kept; empty when nothing does. */
export function lacks(draft: Draft): string {
  const missing = [
    draft.name.trim() ? "" : "its name",
    draft.chemistry ? "" : "what its cells are",
    draft.cells ? "" : "how many in a row",
    draft.capacity_c ? "" : "its capacity",
  ].filter(Boolean);
  return missing.length > 0 ? `Still needed: ${missing.join(", ")}.` : "";
}

function whole(draft: Draft): PackLabel | null {
  const { name, chemistry, cells, capacity_c } = draft;
  if (!name.trim() || !chemistry || !cells || !capacity_c) return null;
  return { ...draft, name: name.trim(), chemistry, cells, capacity_c, put_away: draft.put_away ?? false };
}
