import { Link, useNavigate } from "react-router";
import { FlownContext } from "../../components/flown-context";
import { useTheModel } from "../../components/model-context";
import { Loading, ProblemNote } from "../../components/ui/feedback";
import { useLogCard, useSortie } from "../../queries/sorties";
import { CardConsole } from "./CardConsole";

/** One entry of a landed sortie said again: the new entry replaces the old one, which stays in the log. */
export function Correction({ sortieId, entryId }: { sortieId: string; entryId: string }) {
  const model = useTheModel();
  const navigate = useNavigate();
  const sortie = useSortie(sortieId);
  const log = useLogCard(sortieId);
  const back = `/m/${model.id}/debrief?sortie=${sortieId}`;
  if (sortie.isPending) return <Loading words="Fetching the log…" />;
  if (!sortie.data) return <ProblemNote error={sortie.error} onRetry={() => void sortie.refetch()} />;
  const line = sortie.data.log.find((l) => l.id === entryId && !l.replaced);
  const card = [...sortie.data.cards, sortie.data.incident].find((c) => c.id === line?.record.card_id);
  if (!line || !card)
    return (
      <p className="text-lg">
        This entry is not there to be corrected, or it was corrected already.{" "}
        <Link className="underline" to={back}>
          Back to the debrief
        </Link>
      </p>
    );
  return (
    <div className="mx-auto max-w-2xl">
      <p className="sheet mb-2 border-l-4 border-l-accent p-2 text-lg">
        You correct what was logged in sortie {sortie.data.number}. The old entry stays visible beside it; everything
        computed from it is computed anew.
      </p>
      {log.error ? <ProblemNote error={log.error} /> : null}
      <FlownContext value={sortie.data}>
        <CardConsole
          sortieId={`correct-${line.id}`}
          card={card}
          before={line.record}
          busy={log.isPending}
          onLog={(record) =>
            log
              .mutateAsync({ record: { ...record, from_memory: line.record.from_memory }, replaces: line.id })
              .then(() => void navigate(back))
          }
          onLeave={() => void navigate(back)}
          inTheAir={false}
          flownWith={sortie.data.flown_with}
        />
      </FlownContext>
    </div>
  );
}
