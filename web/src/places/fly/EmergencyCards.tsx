import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Emergency } from "../../api/client";
import { Loading, ProblemNote } from "../../components/ui/feedback";
import { useEmergencies } from "../../queries/sorties";
import { canSpeak, say } from "./speech";

interface Props {
  modelId: string;
  back: string;
  backWords: string;
  /** Where it is said what happened; a helper says it on the sortie's console. */
  happened?: string;
}

/** What to do when it goes wrong in the air: six words to choose from, then the steps as large as they fit. */
export function EmergencyCards({ modelId, back, backWords, happened }: Props) {
  const [search] = useSearchParams();
  const cards = useEmergencies(modelId);
  if (cards.isPending) return <Loading words="Fetching the emergency cards…" />;
  if (!cards.data) return <ProblemNote error={cards.error} onRetry={() => void cards.refetch()} />;
  const chosen = cards.data.find((c) => c.key === search.get("what"));
  return (
    <div className="mx-auto max-w-2xl">
      {chosen ? <Steps card={chosen} /> : <Choice cards={cards.data} />}
      <div className="mt-4 grid gap-2 sm:grid-cols-2">
        {chosen ? (
          <Link className="field-choice flex items-center justify-center" to="?">
            It is something else
          </Link>
        ) : null}
        {happened ? (
          <Link className="field-choice flex items-center justify-center" to={happened}>
            It is down: say what happened
          </Link>
        ) : null}
        <Link className="field-choice flex items-center justify-center" to={back}>
          {backWords}
        </Link>
      </div>
    </div>
  );
}

function Choice({ cards }: { cards: readonly Emergency[] }) {
  return (
    <section>
      <h1 className="mb-2 text-2xl font-bold">What is it?</h1>
      <ul className="grid gap-2">
        {cards.map((c) => (
          <li key={c.key}>
            <Link
              to={`?what=${c.key}`}
              className="field-choice block w-full border-l-8 border-l-accent text-left"
              data-emergency={c.key}
            >
              <span className="block text-xl font-bold">{c.title}</span>
              <span className="block text-base font-normal">{c.sign}</span>
            </Link>
          </li>
        ))}
      </ul>
      <p className="mt-2 text-base">
        People first, then the model. The rules of your site and your country come before these cards.
      </p>
    </section>
  );
}

function Steps({ card }: { card: Emergency }) {
  const [spoken, setSpoken] = useState(false);
  return (
    <section data-testid="emergency">
      <h1 className="text-2xl font-bold text-accent">{card.title}</h1>
      <ol className="mt-2 grid gap-2">
        {card.steps.map((s, i) => (
          <li key={s} className="flex gap-3 text-xl leading-snug font-semibold">
            <span aria-hidden="true" className="w-6 shrink-0 text-right text-secondary">
              {i + 1}
            </span>
            {s}
          </li>
        ))}
      </ol>
      <p className="mt-3 border-l-8 border-l-accent bg-base-200 px-2 py-1 text-xl font-bold">{card.never}</p>
      <p className="mt-2 text-lg">{card.then}</p>
      {canSpeak() ? (
        <button
          type="button"
          className="btn mt-2 min-h-14 w-full text-lg"
          onClick={() => {
            setSpoken(true);
            say([card.title, ...card.steps, card.never].join(" "));
          }}
        >
          {spoken ? "Say it again" : "Say it aloud"}
        </button>
      ) : null}
    </section>
  );
}
