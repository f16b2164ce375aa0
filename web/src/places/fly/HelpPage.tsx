import { Navigate } from "react-router";
import { OnDevice } from "../../components/OnDevice";
import { Loading, ProblemNote } from "../../components/ui/feedback";
import { useField } from "../../queries/pairing";
import { isOpen, useEmergencies, useSortie } from "../../queries/sorties";
import { Console } from "./Console";
import { EmergencyCards } from "./EmergencyCards";

/** A helper's device: the console of its one sortie, and the emergency cards of its model. */
export default function HelpPage({ emergency = false }: { emergency?: boolean }) {
  const field = useField();
  if (field.isPending) return <Loading words="Asking the program…" />;
  const helps = field.data?.device?.helps;
  if (!field.data) return <ProblemNote error={field.error} onRetry={() => void field.refetch()} />;
  if (!helps) return <Navigate to={field.data.asks === "nobody" ? "/pair" : "/"} replace />;
  return emergency ? (
    <Emergencies modelId={helps.model_id} />
  ) : (
    <Sortie id={helps.sortie_id} modelId={helps.model_id} />
  );
}

function Sortie({ id, modelId }: { id: string; modelId: string }) {
  const sortie = useSortie(id, true);
  // Fetched beside it, so that they are here when the program is away.
  useEmergencies(modelId);
  if (sortie.isPending) return <Loading words="Fetching the cards…" />;
  if (!sortie.data) return <ProblemNote error={sortie.error} onRetry={() => void sortie.refetch()} />;
  return (
    <main className="mx-auto max-w-2xl px-3 pt-2 pb-3">
      <p className="flex flex-wrap items-center justify-between gap-2 text-lg">
        <span>
          <span className="font-bold">{sortie.data.model_name}</span>, sortie {sortie.data.number}: you help log it
        </span>
        <OnDevice />
      </p>
      {isOpen(sortie.data) ? (
        <Console sortie={sortie.data} away={sortie.error !== null} helper />
      ) : (
        <h1 className="py-8 text-2xl font-semibold" data-testid="helped">
          This sortie has landed. What you logged is in; thank you. The page can be closed.
        </h1>
      )}
    </main>
  );
}

function Emergencies({ modelId }: { modelId: string }) {
  return (
    <main className="px-3 pt-2 pb-3">
      <EmergencyCards modelId={modelId} back="/help" backWords="Back to the sortie" />
    </main>
  );
}
