import type { Card, LogLine } from "../../api/client";
import { LogEntry } from "../../components/LogEntry";
import { useTheModel } from "../../components/model-context";
import { ProblemNote } from "../../components/ui/feedback";
import { useChooseRecord } from "../../queries/sorties";

/** What two devices say of a card without knowing of each other: both shown, the more cautious one counts until one is chosen. */
export function Contested({ lines, cards }: { lines: LogLine[]; cards: Record<string, Card> }) {
  const model = useTheModel();
  const choose = useChooseRecord();
  if (lines.length === 0) return null;
  return (
    <section className="sheet mb-2 border-l-4 border-l-accent p-2" data-testid="contested">
      <p className="font-semibold text-accent">
        Two devices say different things. Until you choose, or do the card again, the more cautious entry counts.
      </p>
      {choose.error ? <ProblemNote error={choose.error} /> : null}
      <ol>
        {lines.map((line) => (
          <LogEntry
            key={line.id}
            line={line}
            title={cards[line.record.card_id]?.title}
            readOnly={model.read_only}
            busy={choose.isPending}
            onChoose={() => choose.mutate(line.id)}
          />
        ))}
      </ol>
    </section>
  );
}
