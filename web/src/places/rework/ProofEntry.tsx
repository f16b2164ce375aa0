import { useState } from "react";
import { type Action, ProblemError } from "../../api/client";
import { useSettings } from "../../components/settings-context";
import { parse } from "../../domain/units";

/** What proves an action: a number signed as it is expected, or words. */
export interface Read {
  reading?: string;
  number?: number;
  differently?: boolean;
}

interface Props {
  action: Action;
  busy: boolean;
  /** Rejects with a ProblemError when the reading proves nothing. */
  onRead: (read: Read) => Promise<unknown>;
}

/** Where a person enters what was read to prove an action. Nothing is filled in beforehand, the way included. */
export function ProofEntry({ action, busy, onRead }: Props) {
  return action.expected ? (
    <NumberRead action={action} expected={action.expected} busy={busy} onRead={onRead} />
  ) : (
    <WordsRead action={action} busy={busy} onRead={onRead} />
  );
}

function WordsRead({ action, busy, onRead }: Props) {
  const [words, setWords] = useState("");
  return (
    <div className="no-print mt-1 flex flex-wrap gap-2">
      <input
        className="input min-h-11 w-full max-w-64 text-base"
        placeholder="what you read"
        aria-label={`reading for: ${action.words}`}
        maxLength={200}
        value={words}
        onChange={(e) => setWords(e.target.value)}
      />
      <button type="button" className="btn min-h-11" disabled={busy} onClick={() => void onRead({ reading: words })}>
        Done
      </button>
    </div>
  );
}

function NumberRead({ action, expected, busy, onRead }: Props & { expected: NonNullable<Action["expected"]> }) {
  const { unit } = useSettings();
  const [text, setText] = useState("");
  const [way, setWay] = useState(0);
  const [refused, setRefused] = useState<string | null>(null);
  const isLength = expected.unit === "m";
  const length = isLength ? unit("length") : "clicks";
  const number = (): number | string => {
    if (!isLength) return /^\d+$/.test(text.trim()) ? Number(text) : "Cannot read this: a whole number of clicks.";
    const parsed = parse(text, "length", length);
    return parsed.ok ? Math.abs(parsed.si) : parsed.reason;
  };
  const send = (differently: boolean) => {
    const size = number();
    if (typeof size === "string") return setRefused(size);
    if (way === 0 && size > 0) return setRefused("Say which way it stands.");
    onRead({ number: size === 0 ? 0 : way * size, differently }).then(
      () => setRefused(null),
      (e: unknown) =>
        setRefused(e instanceof ProblemError ? e.problem.title : "Not kept; what you read is still here."),
    );
  };
  return (
    <div className="no-print mt-1" data-testid="proof">
      <div className="flex flex-wrap items-center gap-2">
        <input
          className="input w-28 text-lg"
          inputMode="decimal"
          aria-label={`reading for: ${action.words}`}
          aria-invalid={refused !== null}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <span>{length}</span>
        {[1, -1].map((w) => (
          <button
            key={w}
            type="button"
            className={`btn btn-sm h-auto min-h-11 ${way === w ? "btn-primary" : ""}`}
            aria-pressed={way === w}
            onClick={() => setWay(w)}
          >
            {w > 0 ? expected.positive : expected.negative}
          </button>
        ))}
        <button
          type="button"
          className="btn btn-accent min-h-11"
          disabled={busy || text === ""}
          onClick={() => send(false)}
        >
          It reads so
        </button>
      </div>
      {refused ? (
        <div role="alert" className="mt-1">
          <p className="font-semibold text-error">{refused}</p>
          <button type="button" className="btn btn-sm mt-1 min-h-11" disabled={busy} onClick={() => send(true)}>
            It was done differently: compute with what I read
          </button>
        </div>
      ) : null}
    </div>
  );
}
