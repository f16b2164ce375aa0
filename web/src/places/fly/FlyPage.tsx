import { useEffect, useRef } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { useTheModel } from "../../components/model-context";
import { Loading, ProblemNote } from "../../components/ui/feedback";
import { landedUnsent } from "../../offline/overlay";
import { useOnDevice } from "../../offline/use-outbox";
import { useField } from "../../queries/pairing";
import { isOpen, useSortie } from "../../queries/sorties";
import { Console } from "./Console";
import { Correction } from "./Correction";

/** The console for one sortie: one card at a time in huge type; or one entry of a landed sortie to be corrected. */
export default function FlyPage() {
  const model = useTheModel();
  const [search] = useSearchParams();
  const open = model.sorties.find(isOpen);
  const last = model.sorties.filter((s) => s.status === "landed").at(-1);
  const field = useField();
  const sortie = useSortie(open?.id ?? "", field.data?.serving);
  const here = useOnDevice();
  const unsent = landedUnsent(here, model.id);
  useDebriefOnArrival(model.id, unsent);
  const [corrected, entry] = [search.get("sortie"), search.get("entry")];
  if (corrected && entry) return <Correction key={entry} sortieId={corrected} entryId={entry} />;
  if (!open && unsent) return <LandedHere number={last?.number ?? 0} />;
  if (!open)
    return (
      <div className="mx-auto max-w-xl py-8 text-center">
        <h1 className="mb-4 text-2xl font-semibold">
          {last ? `Sortie ${last.number} has landed.` : "No sortie is planned."}
        </h1>
        <Link className="btn btn-accent btn-lg" to={last ? `/m/${model.id}/debrief` : `/m/${model.id}/plan`}>
          {last ? "Read the debrief" : "Plan the first sortie"}
        </Link>
      </div>
    );
  if (sortie.isPending) return <Loading words="Fetching the cards…" />;
  // What was fetched once stays usable while the program is away.
  if (!sortie.data) return <ProblemNote error={sortie.error} onRetry={() => void sortie.refetch()} />;
  return <Console sortie={sortie.data} away={sortie.error !== null} rehearsal={model.rehearsal} />;
}

/** Whoever waits here for a landing to arrive is led to what it taught. */
function useDebriefOnArrival(modelId: string, unsent: boolean): void {
  const navigate = useNavigate();
  const waited = useRef(false);
  useEffect(() => {
    if (waited.current && !unsent) void navigate(`/m/${modelId}/debrief`);
    waited.current = unsent;
  }, [unsent, modelId, navigate]);
}

/** Landed where no program answers: what is on this device, and what it waits for. */
function LandedHere({ number }: { number: number }) {
  return (
    <div className="mx-auto max-w-xl py-8" data-testid="landed-here">
      <h1 className="mb-2 text-2xl font-semibold">Sortie {number} has landed. It is kept on this device.</h1>
      <p className="mb-4 text-lg">
        Its debrief is computed when the program answers. Change nothing on the model until then, but what has come
        loose or broken, and do not fly it again.
      </p>
      <Link className="btn btn-accent btn-lg" to="/waiting">
        What is on this device
      </Link>
    </div>
  );
}
