import { type ReactNode, useCallback, useEffect, useId, useRef, useState } from "react";
import type { SortieDetail } from "../../api/client";
import { SpeakButton } from "../../components/SpeakButton";
import { type Medium, noteIt } from "../../offline/outbox";
import { smallPicture } from "./picture";
import { canRecord, useRecorder } from "./recorder";

/** What was kept, to be said and to be taken back. */
export interface Noted {
  id: string;
  words: string;
}

interface Props {
  sortie: SortieDetail;
  /** The card that is flown. */
  cardId: string;
  onNoted: (noted: Noted) => void;
  onLeave: () => void;
  /** The card's abort: it is held from here, too. */
  abort?: ReactNode;
}

/** What is noticed and stands on no card: each by one tap, kept at once, gone through before the next flight. */
export function NoteSheet({ sortie, cardId, onNoted, onLeave, abort = null }: Props) {
  const [typed, setTyped] = useState("");
  const [busy, setBusy] = useState(false);
  const [failed, setFailed] = useState("");
  const keep = useCallback(
    (said: string, note: { what?: string; words?: string }, ...media: Medium[]) => {
      setBusy(true);
      return noteIt(sortie.id, { what: "", words: "", card_id: cardId, ...note }, ...media)
        .then(([id, fate]) => onNoted({ id, words: `${said}${WHERE[fate.kind]}` }))
        .catch(() => setFailed("This device keeps nothing: its storage is full, or the window is a private one."))
        .finally(() => setBusy(false));
    },
    [sortie.id, cardId, onNoted],
  );
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => heading.current?.focus(), []);
  const recorded = useCallback((voice: Medium) => void keep("A voice note", {}, voice), [keep]);
  const voice = useRecorder(recorded);
  useEffect(() => {
    const leave = (e: KeyboardEvent) => e.key === "Escape" && onLeave();
    window.addEventListener("keydown", leave);
    return () => window.removeEventListener("keydown", leave);
  }, [onLeave]);
  const photo = (file: File) =>
    smallPicture(file).then(
      (made) => keep("A photo", {}, made),
      () => setFailed("This photo could not be read. Take it once more."),
    );
  if (voice.since !== null) return <Recording since={voice.since} onStop={voice.stop} abort={abort} />;
  return (
    <section className="console" aria-label="Note something" data-testid="note-sheet">
      <header>
        <h1 className="text-2xl leading-tight font-bold outline-none" ref={heading} tabIndex={-1}>
          What was noticed?
        </h1>
        <p className="text-base [@media(max-height:760px)]:hidden landscape:block">
          Each tap is kept at once, and gone through before the next flight.
        </p>
      </header>
      <div className="console-body gap-2">
        <div className="grid grid-cols-2 gap-2">
          <PhotoButton disabled={busy} onPhoto={(file) => void photo(file)} />
          {canRecord() ? (
            <button type="button" className="field-choice" disabled={busy} onClick={() => void voice.start()}>
              Speak a note
            </button>
          ) : null}
        </div>
        <ul className="grid flex-1 auto-rows-[minmax(3.5rem,1fr)] grid-cols-2 gap-2 landscape:grid-cols-3">
          {sortie.noticed.map((n) => (
            <li key={n.key}>
              <button
                type="button"
                className="field-choice h-full w-full px-2 py-1 text-left text-lg leading-tight"
                disabled={busy}
                onClick={() => void keep(capital(n.words), { what: n.key })}
              >
                {capital(n.words)}
              </button>
            </li>
          ))}
        </ul>
        <form
          className="flex gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            if (typed.trim()) void keep("Noted", { words: typed.trim() });
          }}
        >
          <input
            className="input min-h-14 flex-1 text-lg"
            aria-label="In words"
            placeholder="In words"
            maxLength={500}
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
          />
          <button type="submit" className="field-choice" disabled={busy || !typed.trim()}>
            Keep
          </button>
        </form>
        <SpeakButton what="what was noticed" onText={(text) => setTyped(text.slice(0, 500))} />
        {voice.problem || failed ? (
          <p role="alert" className="text-lg font-semibold text-error">
            {voice.problem || failed}
          </p>
        ) : null}
      </div>
      <div className="console-bar console-bar-sheet">
        <button type="button" className="field-choice" onClick={onLeave}>
          Back to the card
        </button>
        {abort}
      </div>
    </section>
  );
}

const WHERE = {
  sent: " is noted.",
  waiting: " is noted on this device.",
  refused: " was not accepted. It is kept on this device.",
} as const;

const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);

function PhotoButton({ disabled, onPhoto }: { disabled: boolean; onPhoto: (file: File) => void }) {
  const input = useId();
  return (
    <>
      <label
        htmlFor={input}
        className="field-choice flex cursor-pointer items-center justify-center focus-within:outline-2"
      >
        Photo
      </label>
      <input
        id={input}
        type="file"
        className="sr-only"
        accept="image/*"
        capture="environment"
        aria-label="Photo"
        disabled={disabled}
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          if (file) onPhoto(file);
          e.target.value = "";
        }}
      />
    </>
  );
}

/** The whole screen ends it: nothing has to be aimed at. */
function Recording({ since, onStop, abort }: { since: number; onStop: () => void; abort: ReactNode }) {
  const [now, setNow] = useState(since);
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 250);
    return () => clearInterval(timer);
  }, []);
  return (
    <section className="console" aria-label="Recording">
      <button
        type="button"
        className="my-2 flex flex-1 flex-col items-center justify-center border-4 border-accent text-3xl font-bold text-accent"
        onClick={onStop}
      >
        <span role="timer">{Math.max(0, Math.round((now - since) / 1000))} s</span>
        <span>Tap to end and keep it</span>
      </button>
      {abort ? <div className="console-bar console-bar-sheet">{abort}</div> : null}
    </section>
  );
}
