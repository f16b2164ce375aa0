import { Link } from "react-router";
import type { Rework, WorkOrder } from "../../api/client";
import { useTheModel } from "../../components/model-context";
import { Photos } from "../../components/Photos";
import { Rail } from "../../components/Rail";
import { Heading, ProblemNote } from "../../components/ui/feedback";
import { ChangeDrawing } from "../../drawing/ChangeDrawing";
import { useProve, useTakeBackOrder } from "../../queries/sorties";
import { ProofEntry } from "./ProofEntry";

/** The work order: check boxes, and for each the measurement that proves it was done. */
export function WorkOrderSheet({ order, rework }: { order: WorkOrder; rework: Rework }) {
  const model = useTheModel();
  const prove = useProve(order.id, model.id);
  const takeBack = useTakeBackOrder(order.id, model.id);
  const flownOn = model.sorties.some((s) => s.configuration === order.to_configuration);
  const open = order.actions.filter((_, i) => order.proofs[String(i)] === undefined).length;
  return (
    <div className="mx-auto max-w-4xl">
      <Heading title={`Work order: to configuration ${order.to_configuration}`}>
        <button type="button" className="btn" onClick={() => window.print()}>
          Print
        </button>
        {flownOn ? null : (
          <button
            type="button"
            className="btn"
            disabled={takeBack.isPending || model.read_only}
            onClick={() => takeBack.mutate()}
          >
            Take the order back
          </button>
        )}
        <Link className={`btn ${open === 0 ? "btn-accent" : ""}`} to={`/m/${model.id}/plan`}>
          Plan the next sortie
        </Link>
      </Heading>
      <p className="mb-2 text-lg font-semibold text-accent">Propeller off, pack out while you work.</p>
      {takeBack.error ? <ProblemNote error={takeBack.error} /> : null}
      <ChangeDrawing before={rework.flown_setup} after={rework.setup} />
      {order.actions.length === 0 ? <p className="mt-3">Nothing to do: fly again as it is.</p> : null}
      <ol className="mt-2">
        {order.actions.map((a, i) => {
          const proof = order.proofs[String(i)];
          return (
            <li key={a.words} className="flex gap-3 border-b border-base-content/60 py-3">
              <span
                aria-hidden="true"
                className={`mt-1 inline-block h-6 w-6 shrink-0 border-2 border-base-content text-center leading-5 font-bold ${proof ? "bg-base-content text-base-100" : ""}`}
              >
                {proof ? "✓" : ""}
              </span>
              <div className="min-w-0 flex-1">
                <p className="text-lg font-semibold">{a.words}</p>
                {a.surface_words ? <p>Afterwards: {a.surface_words}.</p> : null}
                <p>
                  <span className="font-semibold">Proof:</span> {a.proof}
                </p>
                {proof ? (
                  <p className="text-sm">
                    Read: {proof}{" "}
                    <button
                      type="button"
                      className="no-print ml-2 underline"
                      disabled={prove.isPending}
                      onClick={() => prove.mutate({ index: i, taken_back: true })}
                    >
                      not so: open it again
                    </button>
                  </p>
                ) : (
                  <ProofEntry
                    action={a}
                    busy={prove.isPending}
                    onRead={(read) => prove.mutateAsync({ index: i, ...read })}
                  />
                )}
                <Photos of={{ work_order_id: order.id, position: i }} what={`Work done: ${a.words}`} />
              </div>
            </li>
          );
        })}
      </ol>
      <section className="mt-4">
        <h2 className="text-lg">Predicted for the next flight</h2>
        <div className="grid gap-x-6 md:grid-cols-2">
          {rework.predicted.map((t) => (
            <Rail key={t.key} name={t.name} marks={[{ tendency: t, kind: "predicted" }]} />
          ))}
        </div>
        <p className="mt-2 text-sm">To be flown again: {model.stale.join(", ") || "nothing is stale"}.</p>
      </section>
    </div>
  );
}
