import type { Card } from "../../../api/client";
import { useFlown } from "../../../components/flown-context";
import { SpeakButton } from "../../../components/SpeakButton";
import { useSettings } from "../../../components/settings-context";
import { ifKnown } from "../CaptureInput";
import type { Draft } from "./draft";
import { saidOf } from "./said";
import { questions } from "./steps";

interface Props {
  card: Card;
  draft: Draft;
  setDraft: (change: (d: Draft) => Draft) => void;
  still: readonly string[];
  unplanned: boolean;
  onGo: (step: string) => void;
}

/** Before a card is kept: what is still missing, what may be said besides, how sure, a note. */
export function Keeping({ card, draft, setDraft, still, unplanned, onGo }: Props) {
  const { directions } = useFlown();
  const { show } = useSettings();
  const besides = questions(card).filter((c) => !c.required);
  return (
    <div>
      <h2 tabIndex={-1} data-heading className="text-2xl font-bold outline-none">
        {still.length > 0 ? "Not whole yet" : "Keep it?"}
      </h2>
      {still.length > 0 ? <p className="text-lg font-semibold text-accent">Still to say: {still.join("; ")}</p> : null}
      {besides.length > 0 ? (
        <ul className="mt-2 grid gap-1.5" aria-label="if you saw it">
          {besides.map((c) => {
            const said = saidOf(c, draft.readings[c.key], directions, show);
            return (
              <li key={c.key}>
                <button type="button" className="console-besides" data-ask={c.key} onClick={() => onGo(c.key)}>
                  <span>{c.label}</span>
                  <span className={said ? "font-bold" : "text-secondary"}>{said || ifKnown(c)}</span>
                </button>
              </li>
            );
          })}
        </ul>
      ) : null}
      <fieldset className="mt-3">
        <legend className="mb-1 text-lg font-semibold">How sure?</legend>
        <div className="grid grid-cols-3 gap-2">
          {(["sure", "fair", "doubtful"] as const).map((k) => (
            <button
              key={k}
              type="button"
              className="field-choice"
              aria-pressed={draft.confidence === k}
              onClick={() => setDraft((d) => ({ ...d, confidence: k }))}
            >
              {k}
            </button>
          ))}
        </div>
      </fieldset>
      <label className={`mt-3 block text-lg ${unplanned ? "font-semibold text-accent" : ""}`}>
        {unplanned ? "It was not planned: say in a few words why it was flown" : "Note"}
        <textarea
          className="textarea mt-1 w-full text-lg"
          rows={2}
          maxLength={2000}
          value={draft.note}
          onChange={(e) => setDraft((d) => ({ ...d, note: e.target.value }))}
        />
      </label>
      <SpeakButton
        what="note"
        onText={(text) =>
          setDraft((d) => ({
            ...d,
            note: [d.note, text]
              .filter((s) => s !== "")
              .join(" ")
              .slice(0, 2000),
          }))
        }
      />
    </div>
  );
}
