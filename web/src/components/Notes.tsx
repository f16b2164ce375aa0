import { useId, useState } from "react";
import { type NoteLine, useGoThrough, useNotes, useSound, useTakeNoteBack } from "../queries/notes";
import { useTheModel } from "./model-context";
import { SpeakButton } from "./SpeakButton";
import { ProblemNote } from "./ui/feedback";

/** What was noticed on flights: of one sortie, or of all what nobody has gone through. Nothing where there is none. */
export function Notes({ sortieId }: { sortieId?: string }) {
  const model = useTheModel();
  const notes = useNotes(model.id);
  const shown = (notes.data ?? []).filter((n) => (sortieId ? n.sortie_id === sortieId : n.open));
  if (shown.length === 0) return null;
  const numbers = new Map(model.sorties.map((s) => [s.id, s.number]));
  return (
    <section className="sheet mb-3 p-3" data-testid="notes" aria-labelledby="notes-heading">
      <h2 id="notes-heading" tabIndex={-1} className="text-lg font-bold outline-none">
        {sortieId ? "Noted on this flight" : "Noted, and nobody has gone through it"}
      </h2>
      <ul>
        {shown.map((n) => (
          <Noted key={n.id} note={n} sortie={sortieId ? undefined : numbers.get(n.sortie_id ?? "")} />
        ))}
      </ul>
    </section>
  );
}

/** One note in one line; what it was is said behind it. */
function Noted({ note, sortie }: { note: NoteLine; sortie: number | undefined }) {
  const model = useTheModel();
  const [saying, setSaying] = useState(false);
  const takeBack = useTakeNoteBack(model.id);
  return (
    <li className="border-t border-base-300 py-1 first:border-t-0" data-note={note.what || "words"}>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <p className="min-w-0 flex-1 basis-64">
          <span className={`text-lg font-semibold ${note.open ? "text-accent" : ""}`}>
            {note.said.charAt(0).toUpperCase() + note.said.slice(1)}
          </span>
          {note.words && note.words !== note.said ? `: ${note.words}` : ""}{" "}
          <span className="label-small">{whence(note, sortie)}</span>
          {note.found ? <span className="block">Gone through: {note.found}</span> : null}
        </p>
        <Attached note={note} />
        {model.read_only ? null : (
          <div className="no-print flex flex-wrap gap-2">
            {note.open || note.found ? (
              <button
                type="button"
                className="btn min-h-11"
                aria-expanded={saying}
                onClick={() => setSaying((s) => !s)}
              >
                {note.found ? "Change what it was" : "Say what it was"}
              </button>
            ) : null}
            <button
              type="button"
              className="btn btn-ghost min-h-11"
              disabled={takeBack.isPending}
              onClick={() => takeBack.mutate(note.id)}
              aria-label={`Take back, noted by mistake: ${note.said}`}
            >
              Take back
            </button>
          </div>
        )}
      </div>
      {saying ? <Through note={note} onSaid={() => setSaying(false)} /> : null}
      {takeBack.error ? <ProblemNote error={takeBack.error} /> : null}
    </li>
  );
}

function whence(n: NoteLine, sortie: number | undefined): string {
  const where = sortie === undefined ? "" : `sortie ${sortie}`;
  const when = new Date(n.made_at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });
  return [where, n.card_id, when, n.noted_by, n.device_name].filter(Boolean).join(" · ");
}

function Attached({ note }: { note: NoteLine }) {
  const [wanted, setWanted] = useState(false);
  const sound = useSound(note.voice_id ?? "", wanted && note.voice_id !== null);
  return (
    <>
      {note.photo_id ? (
        <a href={`/api/v1/photos/${note.photo_id}/image`} target="_blank" rel="noreferrer">
          <img
            src={`/api/v1/photos/${note.photo_id}/image`}
            alt={`What was noted: ${note.said}`}
            className="h-16 border border-base-content object-cover"
            loading="lazy"
          />
        </a>
      ) : null}
      {note.voice_id && !wanted ? (
        <button type="button" className="btn min-h-11" onClick={() => setWanted(true)}>
          Listen to it
        </button>
      ) : null}
      {sound.data ? (
        // A voice note has no words to show: who hears nothing asks whoever spoke it.
        // biome-ignore lint/a11y/useMediaCaption: nobody has written down what was spoken
        <audio className="h-11 w-64 max-w-full" src={sound.data} controls autoPlay />
      ) : null}
      {sound.isError ? (
        <p role="alert" className="font-semibold text-error">
          The voice note is not on this device: listen to it where the program answers.
        </p>
      ) : null}
    </>
  );
}

/** What it was, or what was found: in words; none opens it again. */
function Through({ note, onSaid }: { note: NoteLine; onSaid: () => void }) {
  const model = useTheModel();
  const through = useGoThrough(model.id);
  const [found, setFound] = useState(note.found);
  const input = useId();
  return (
    <form
      className="no-print mt-1"
      onSubmit={(e) => {
        e.preventDefault();
        // On Plan the note goes when it was gone through: the focus goes to what is left.
        const said = () => {
          onSaid();
          document.getElementById("notes-heading")?.focus();
        };
        through.mutate({ note: note.id, found: found.trim() }, { onSuccess: said });
      }}
    >
      {note.look ? <p>{note.look}</p> : null}
      <label htmlFor={input} className="block">
        What was it, or what was found?{note.found ? " Empty, it is open again." : ""}
      </label>
      <div className="flex flex-wrap items-center gap-2">
        <input
          id={input}
          className="input min-h-11 flex-1 basis-60 text-base"
          maxLength={500}
          value={found}
          onChange={(e) => setFound(e.target.value)}
        />
        <SpeakButton what="what was found" onText={(text) => setFound(text.slice(0, 500))} />
        <button type="submit" className="btn min-h-11" disabled={through.isPending || found.trim() === note.found}>
          Gone through
        </button>
      </div>
      {through.error ? <ProblemNote error={through.error} /> : null}
    </form>
  );
}
