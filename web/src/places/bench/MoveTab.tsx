import { useState } from "react";
import type { Arrangements, BenchAnswer } from "../../api/client";
import { QuantityField } from "../../components/quantity/QuantityField";
import { marginWords, stationWords } from "../../components/quantity/station";
import { useSettings } from "../../components/settings-context";
import { ProblemNote } from "../../components/ui/feedback";
import { ChangeDrawing } from "../../drawing/ChangeDrawing";
import { useArrange } from "../../queries/models";
import { SmallButton, Tick, useEditing } from "./editing";
import { OrderSheet } from "./OrderSheet";
import { StockFields } from "./StockFields";

type Proposal = Arrangements["proposals"][number];

/** What to move: the target, the best few ways there as drawings, and what moving or adding anything does. */
export function MoveTab({ modelId, answer }: { modelId: string; answer: BenchAnswer | undefined }) {
  const { readOnly, setup } = useEditing();
  const { show } = useSettings();
  const [target, setTarget] = useState<number | null>(null);
  const [level, setLevel] = useState(false);
  const arrange = useArrange(modelId);
  const found = arrange.data;
  return (
    <div>
      <OrderSheet answer={answer} />
      {setup.order ? null : (
        <p className="mb-2 text-sm font-semibold text-accent">Propeller off, pack out while you work.</p>
      )}
      <QuantityField
        label="Balance point wanted, from the datum"
        hint="empty: the maiden point, or the class target once flown"
        quantity="length"
        value={target}
        disabled={readOnly}
        onCommit={setTarget}
      />
      {target !== null ? <SmallButton words="Use the computed one" onClick={() => setTarget(null)} /> : null}
      <Tick label="Level from side to side as well" checked={level} onChange={setLevel} />
      <button
        type="button"
        className="btn btn-accent my-2"
        disabled={arrange.isPending || readOnly}
        onClick={() => arrange.mutate({ target_x_m: target, level })}
      >
        {arrange.isPending ? "Finding what to move…" : "Find what to move"}
      </button>
      {arrange.error ? <ProblemNote error={arrange.error} /> : null}
      {found ? (
        <>
          <p className="mb-2">
            Target {stationWords(show, found.target_x_m)}: {found.target_words}. It balances{" "}
            {stationWords(show, found.now_x_m)} now.
          </p>
          {found.proposals.map((p, i) => (
            <Way key={p.steps.join()} proposal={p} place={i} onDone={() => arrange.reset()} />
          ))}
          <StockFields stock={setup.ballast ?? found.stock} />
          <details className="mt-2">
            <summary className="min-h-9 font-semibold">What moving or adding anything does</summary>
            <ul className="list-disc pl-5 text-sm">
              {found.sensitivities.map((s) => (
                <li key={s}>{s}</li>
              ))}
            </ul>
          </details>
        </>
      ) : null}
    </div>
  );
}

const PLACES = ["Best", "Second", "Third"];

function Way({ proposal: p, place, onDone }: { proposal: Proposal; place: number; onDone: () => void }) {
  const { setup, edit } = useEditing();
  const { show } = useSettings();
  const reached = p.shortfall_m === 0;
  const inertia = Math.round((p.pitch_inertia_ratio - 1) * 100);
  const more = inertia === 0 ? "unchanged" : `${Math.abs(inertia)} % ${inertia > 0 ? "more" : "less"}`;
  return (
    <section className="sheet mb-3 p-3" aria-label={`${PLACES[place]} way`}>
      <h2 className={`font-bold ${reached ? "" : "text-accent"}`}>
        {reached ? PLACES[place] : "Out of reach; nearest"}
      </h2>
      <ChangeDrawing before={setup} after={p.setup} />
      <ol className="list-decimal pl-5">
        {p.steps.map((s) => (
          <li key={s}>{s}</li>
        ))}
      </ol>
      <p className={p.both_ends || !reached ? "font-semibold text-accent" : "text-sm"}>{p.words}</p>
      {p.caution ? <p className="font-semibold text-error">{p.caution}</p> : null}
      <p className="text-sm">
        Balance {stationWords(show, p.x_cg_m, 1)}, margin {marginWords(show, p.static_margin)}, mass{" "}
        {show(p.mass_kg, "mass")}, loading {show(p.wing_loading_kg_m2, "wing_loading")}, stall{" "}
        {show(p.stall_speed_mps, "speed")}, pitch inertia {more}.
      </p>
      <p className="text-sm font-semibold">{p.expect}</p>
      <SmallButton
        words="Do this"
        onClick={() => void edit(() => p.setup, p.steps.join(" ").slice(0, 290)).then(onDone, () => undefined)}
      />
    </section>
  );
}
