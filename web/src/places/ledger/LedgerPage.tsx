import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { inOwnUnits } from "../../api/client";
import { ConvergenceBoard } from "../../components/Convergence";
import { useTheModel } from "../../components/model-context";
import { Photos } from "../../components/Photos";
import { Heading, Loading, ProblemNote } from "../../components/ui/feedback";
import { useMakeSister, useRehearse } from "../../queries/models";
import { useBoard } from "../../queries/sorties";
import { Compare } from "./Compare";
import { Diary } from "./Diary";
import { Reliability } from "./Reliability";
import { Rename } from "./Rename";
import { Sorties } from "./Sorties";

const PARTS = [
  ["sorties", "Sorties and trims"],
  ["compare", "Two flights side by side"],
  ["configurations", "Configurations"],
  ["incidents", "What went wrong"],
  ["diary", "What was said and seen"],
  ["name", "Name, copies, sisters"],
] as const;

/** Looking back: the convergence board, prediction against outcome, the project file. */
export default function LedgerPage() {
  const model = useTheModel();
  const board = useBoard(model.id);
  return (
    <div>
      <Heading title="Ledger">
        <span className="flex flex-wrap gap-2">
          {model.sorties.some((s) => s.status === "landed") ? (
            <a className="btn min-h-11" href={inOwnUnits(`/api/v1/models/${model.id}/hand-over.pdf`)}>
              Print the hand-over sheet
            </a>
          ) : null}
          <a className="btn min-h-11" href={`/api/v1/models/${model.id}/archive`} download>
            Export the project file
          </a>
        </span>
      </Heading>
      <nav aria-label="Parts of the ledger" className="no-print mb-2 flex flex-wrap gap-x-4">
        {PARTS.map(([id, words]) => (
          <a key={id} className="flex min-h-11 items-center underline" href={`#${id}`}>
            {words}
          </a>
        ))}
      </nav>
      {board.isPending ? <Loading words="Reading all sorties…" /> : null}
      {board.error && !board.data ? <ProblemNote error={board.error} onRetry={() => void board.refetch()} /> : null}
      {board.data ? (
        <>
          <section data-testid="convergence">
            <h2 className="mb-1 text-lg">
              Convergence: predicted dashed, flown solid, the tick where its trim clicks took it; wanted band shaded
            </h2>
            {board.data.columns.length === 0 ? <p>Nothing flown yet.</p> : <ConvergenceBoard board={board.data} />}
            {board.data.within_one_sigma !== null && board.data.within_one_sigma !== undefined ? (
              <p className="mt-2">
                {Math.round(board.data.within_one_sigma * 100)} % of all predictions lay within one sigma; an honest
                forecaster has about 68 %.
              </p>
            ) : null}
            <Reliability kept={board.data.kept} />
          </section>
          <Sorties />
          <Compare />
          <section className="mt-5" id="configurations">
            <h2 className="mb-1 text-lg">Configurations and their differences</h2>
            <ol>
              {board.data.configurations.map((c) => (
                <li key={c.number} className="border-b border-base-300 py-1">
                  <span className="font-semibold">Configuration {c.number}</span>
                  {c.sortie_numbers.length ? `, flown in sortie ${c.sortie_numbers.join(", ")}` : ", not flown"}:{" "}
                  {c.change_words.join("; ") || "as first described"}
                  {c.stale.length ? (
                    <span className="label-small block">to be looked at or flown again: {c.stale.join(", ")}</span>
                  ) : null}
                </li>
              ))}
            </ol>
          </section>
          <Incidents />
          <Diary />
          <Rename />
          <Rehearsal />
          <Sister />
        </>
      ) : null}
    </div>
  );
}

/** What went wrong: nothing of it is ever deleted. */
function Incidents() {
  const model = useTheModel();
  return (
    <section className="mt-5" id="incidents" data-testid="incidents">
      <h2 className="mb-1 text-lg">What went wrong</h2>
      {model.incidents.length === 0 ? <p>Nothing is logged.</p> : null}
      <ol>
        {model.incidents.map((i) => (
          <li key={i.record_id} className="border-b border-base-300 py-1">
            <span className="font-semibold">{i.sortie ? `Sortie ${i.sortie}` : "Before the first sortie"}</span>:{" "}
            {i.words}
            <span className="label-small block">
              {i.open.length ? `still to go over: ${i.open_titles.join(", ")}` : "gone over since"}
            </span>
            <Photos of={{ record_id: i.record_id }} what={i.words} />
          </li>
        ))}
      </ol>
      <Link className="btn btn-sm mt-2" to={`/m/${model.id}/happened`}>
        Say what happened
      </Link>
    </section>
  );
}

/** A copy for the stand-in: practice that leaves no trace in the model's history. */
function Rehearsal() {
  const model = useTheModel();
  const navigate = useNavigate();
  const rehearse = useRehearse(model.id);
  return (
    <section className="mt-5">
      <h2 className="mb-1 text-lg">Try it out first</h2>
      <p className="mb-2 text-sm">
        A rehearsal is a copy of this model as it stands on the bench, with faults nobody knows. A stand-in flies it;
        every page and paper of it says so, and nothing of it comes back here.
      </p>
      <button
        type="button"
        className="btn btn-sm"
        disabled={rehearse.isPending}
        onClick={() => rehearse.mutate(undefined, { onSuccess: (m) => void navigate(`/m/${m.id}/plan`) })}
      >
        Make a rehearsal copy
      </button>
      {rehearse.error ? <ProblemNote error={rehearse.error} /> : null}
    </section>
  );
}

/** The next build of the same airframe starts with what this one has taught. */
function Sister() {
  const model = useTheModel();
  const navigate = useNavigate();
  const make = useMakeSister(model.id);
  const [name, setName] = useState(`${model.name} sister`.slice(0, 60));
  return (
    <form
      className="mt-5"
      onSubmit={(e) => {
        e.preventDefault();
        make.mutate(name.trim(), { onSuccess: (m) => void navigate(`/m/${m.id}/bench`) });
      }}
    >
      <h2 className="mb-1 text-lg">The next one of its kind</h2>
      <p className="mb-2 text-sm">
        A sister starts with this airframe, weighed and balanced anew, and with what the flights have taught.
      </p>
      <label>
        Name
        <input
          className="input input-sm mx-2 w-64 text-base"
          value={name}
          maxLength={60}
          onChange={(e) => setName(e.target.value)}
        />
      </label>
      <button type="submit" className="btn btn-sm" disabled={name.trim() === "" || make.isPending}>
        Build a sister
      </button>
      {make.error ? <ProblemNote error={make.error} /> : null}
    </form>
  );
}
