import { useState } from "react";
import { useSettings } from "../../components/settings-context";
import { ProblemNote } from "../../components/ui/feedback";
import { PackBar } from "../../drawing/PackBar";
import { type PackView, useKeepPack } from "../../queries/packs";
import { FlightTable } from "./FlightTable";
import { PackForm } from "./PackForm";
import { TypedFlightForm } from "./TypedFlightForm";

/** One pack: its label, what it holds by its flights, and their list. */
export function PackSheet({ view }: { view: PackView }) {
  const { show } = useSettings();
  const [open, setOpen] = useState<"label" | "flight" | null>(null);
  const keep = useKeepPack();
  const { pack } = view;
  return (
    <article className="sheet p-3" data-testid={`pack-${view.name}`}>
      <div className="flex flex-wrap items-start gap-x-6 gap-y-2">
        <div className="min-w-56 flex-1">
          <h2 className="text-xl font-semibold">{view.name}</h2>
          {pack ? (
            <p>
              {pack.cells} {CELL_WORDS[pack.chemistry]} in a row, {show(pack.capacity_c, "charge")}, full at{" "}
              {show(view.full_v ?? 0, "volts")}
              {view.most_a ? `, may give ${show(view.most_a, "current")}` : ", rating not known"}
              {pack.mass_kg ? `, ${show(pack.mass_kg, "mass")}` : ""}.
            </p>
          ) : (
            <p className="font-semibold text-accent">
              Only its name is known, from the log. Enter what is written on it: then its minutes can be computed.
            </p>
          )}
        </div>
        {pack && view.holds_c ? (
          <div className="w-72 max-w-full">
            <PackBar
              cells={pack.cells}
              share={view.holds_c / pack.capacity_c}
              sigma={(view.holds_sigma_c ?? 0) / pack.capacity_c}
            />
            <p className="text-sm">
              {view.told_by ? (
                <>
                  Holds {show(view.holds_c, "charge")} ± {show(view.holds_sigma_c ?? 0, "charge")} by{" "}
                  {view.told_by === 1 ? "one flight" : `${view.told_by} flights`} and its label.
                </>
              ) : (
                "What it really holds no flight has told: read its volts, and the charge put back."
              )}
            </p>
          </div>
        ) : null}
      </div>
      <FlightTable view={view} />
      {keep.error ? <ProblemNote error={keep.error} /> : null}
      <div className="mt-2 flex flex-wrap gap-2">
        {pack ? (
          <button type="button" className="btn min-h-11" onClick={() => setOpen(open === "flight" ? null : "flight")}>
            Add an earlier flight
          </button>
        ) : null}
        <button type="button" className="btn min-h-11" onClick={() => setOpen(open === "label" ? null : "label")}>
          {pack ? "Change the label" : "Describe it"}
        </button>
        {pack ? (
          <button
            type="button"
            className="btn min-h-11"
            disabled={keep.isPending}
            onClick={() => keep.mutate({ id: view.id, label: { ...labelOf(pack), put_away: !view.put_away } })}
          >
            {view.put_away ? "Take back" : "Put away"}
          </button>
        ) : null}
      </div>
      {open === "label" ? <PackForm id={view.id} view={view} onKept={() => setOpen(null)} /> : null}
      {open === "flight" ? <TypedFlightForm packId={view.id} onKept={() => setOpen(null)} /> : null}
    </article>
  );
}

const CELL_WORDS: Record<NonNullable<PackView["pack"]>["chemistry"], string> = {
  lipo: "lithium polymer cells",
  lihv: "high-voltage lithium polymer cells",
  li_ion: "lithium ion cells",
  lifepo4: "lithium iron phosphate cells",
  nimh: "nickel metal hydride cells",
};

function labelOf({ key: _key, ...label }: NonNullable<PackView["pack"]>) {
  return label;
}
