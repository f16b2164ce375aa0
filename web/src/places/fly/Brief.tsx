import type { SortieDetail } from "../../api/client";
import { canSpeak, say, spoken, usePrompter } from "./speech";

/** For the pilot who flies alone: the whole sortie read out before, logged from memory after landing. */
export function Brief({ sortie, onLanded }: { sortie: SortieDetail; onLanded: () => void }) {
  const flight = sortie.cards.filter((c) => c.phase === "flight");
  const prompter = usePrompter(flight);
  return (
    <div className="mx-auto max-w-2xl">
      <h1 className="text-3xl font-bold">Brief for sortie {sortie.number}, alone</h1>
      <p className="my-2 text-lg font-semibold text-accent">
        Both thumbs on the sticks. Nothing here needs a hand in flight.
      </p>
      {canSpeak() ? (
        <div className="my-2 grid grid-cols-2 gap-2">
          <button type="button" className="field-choice" onClick={() => say(flight.map(spoken).join(" "))}>
            Read it to me now
          </button>
          <button type="button" className="field-choice" onClick={prompter.card ? prompter.stop : prompter.start}>
            {prompter.card ? "Stop the prompts" : "Prompt me in flight"}
          </button>
        </div>
      ) : null}
      {prompter.card ? (
        <p role="status" className="my-2 flex items-center justify-between bg-base-content p-3 text-2xl text-base-100">
          {prompter.card.id} {prompter.card.title}
          <button type="button" className="min-h-14 px-4 text-lg font-semibold underline" onClick={prompter.next}>
            next
          </button>
        </p>
      ) : null}
      <ol className="space-y-3">
        {flight.map((c) => (
          <li key={c.id} className="border-b border-base-300 pb-2">
            <p className="text-2xl font-semibold">
              {c.id} {c.title}
            </p>
            <p className="text-lg">{c.steps.join(" ")}</p>
            <p className="text-lg">
              Remember:{" "}
              {c.captures
                .filter((k) => k.required)
                .map((k) => k.label.toLowerCase())
                .join("; ") || "nothing to measure"}
              .
            </p>
            {c.abort_when ? <p className="text-lg font-semibold text-accent">{c.abort_when}</p> : null}
          </li>
        ))}
      </ol>
      <button type="button" className="field-choice mt-4 w-full bg-accent text-accent-content" onClick={onLanded}>
        I have landed: log from memory
      </button>
    </div>
  );
}
