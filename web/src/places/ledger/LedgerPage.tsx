import { ConvergenceBoard } from "../../components/Convergence";
import { useTheModel } from "../../components/model-context";
import { Heading, Loading, ProblemNote } from "../../components/ui/feedback";
import { useBoard } from "../../queries/sorties";

/** Looking back: the convergence board, prediction against outcome, the project file. */
export default function LedgerPage() {
  const model = useTheModel();
  const board = useBoard(model.id);
  return (
    <div>
      <Heading title="Ledger">
        <a className="btn" href={`/api/v1/models/${model.id}/archive`} download>
          Export the project file
        </a>
      </Heading>
      {board.isPending ? <Loading words="Reading all sorties…" /> : null}
      {board.error ? <ProblemNote error={board.error} onRetry={() => void board.refetch()} /> : null}
      {board.data ? (
        <>
          <section>
            <h2 className="mb-1 text-lg">Convergence: predicted dashed, found solid, wanted band shaded</h2>
            {board.data.columns.length === 0 ? <p>Nothing flown yet.</p> : <ConvergenceBoard board={board.data} />}
            {board.data.within_one_sigma !== null && board.data.within_one_sigma !== undefined ? (
              <p className="mt-2">
                {Math.round(board.data.within_one_sigma * 100)} % of all predictions lay within one sigma; an honest
                forecaster has about 68 %.
              </p>
            ) : null}
          </section>
          <section className="mt-5">
            <h2 className="mb-1 text-lg">Sorties</h2>
            <ul>
              {model.sorties.map((s) => (
                <li key={s.id} className="border-b border-base-300 py-1">
                  <span className="font-semibold">Sortie {s.number}</span>, configuration {s.configuration}, {s.status}
                  {s.simulated ? ", flown by the stand-in" : ""}
                  {s.alone ? ", alone" : ""}: {s.card_ids.join(" ")}
                </li>
              ))}
            </ul>
          </section>
        </>
      ) : null}
    </div>
  );
}
