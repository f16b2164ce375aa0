import { LogEntry } from "../../components/LogEntry";
import { useTheModel } from "../../components/model-context";
import { Loading, ProblemNote } from "../../components/ui/feedback";
import { useChooseRecord, useSortie } from "../../queries/sorties";

/** What was logged: every entry, which one counts, who logged it when; corrected here, never overwritten. */
export function LogList({ sortieId }: { sortieId: string }) {
  const model = useTheModel();
  const sortie = useSortie(sortieId);
  const choose = useChooseRecord();
  if (sortie.isPending) return <Loading words="Fetching the log…" />;
  if (!sortie.data) return <ProblemNote error={sortie.error} onRetry={() => void sortie.refetch()} />;
  const { log } = sortie.data;
  const cards = [...sortie.data.cards, sortie.data.incident];
  const contested = log.some((l) => l.contested);
  return (
    <details className="mt-5" open={contested} data-testid="log">
      <summary className="text-lg font-semibold">What was logged ({log.length} entries)</summary>
      {contested ? (
        <p className="mt-1 font-semibold text-accent">
          Two devices say different things of a card. Until you choose, the more cautious entry counts, as doubtful.
        </p>
      ) : null}
      {choose.error ? <ProblemNote error={choose.error} /> : null}
      <ol>
        {log.map((line) => (
          <LogEntry
            key={line.id}
            line={line}
            title={cards.find((c) => c.id === line.record.card_id)?.title}
            correct={`/m/${model.id}/fly?sortie=${sortieId}&entry=${line.id}`}
            readOnly={model.read_only}
            busy={choose.isPending}
            onChoose={() => choose.mutate(line.id)}
          />
        ))}
      </ol>
    </details>
  );
}
