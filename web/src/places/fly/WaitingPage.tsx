import { useState } from "react";
import { Link } from "react-router";
import type { Card, CardRecord } from "../../api/client";
import { FlownContext } from "../../components/flown-context";
import { ModelContext } from "../../components/model-context";
import { useSettings } from "../../components/settings-context";
import { TakeIn } from "../../components/TakeIn";
import { Heading, Loading, ProblemNote } from "../../components/ui/feedback";
import { logFile } from "../../offline/hand-over";
import {
  type BeginEntry,
  type Entry,
  flushOutbox,
  held,
  type LandEntry,
  type MediaEntry,
  moveInto,
  type NoteEntry,
  type RecordEntry,
  sendAgain,
  sortieOf,
  throwAway,
} from "../../offline/outbox";
import { useOutbox } from "../../offline/use-outbox";
import { useModel } from "../../queries/models";
import { isOpen, useCards, useSortie } from "../../queries/sorties";
import { CardConsole } from "./CardConsole";
import { HeldBar } from "./HeldBar";

/** Entries that are only on this device: those that wait, and those the program did not accept, with the reason. */
export default function WaitingPage() {
  const { waiting, refused } = useOutbox();
  const { settings } = useSettings();
  const cards = useCards();
  const title = (entry: Entry) =>
    entry.what === "record" ? (cards.data?.find((c) => c.id === entry.record.card_id)?.title ?? "") : "";
  const [trying, setTrying] = useState(false);
  const tryNow = () => {
    setTrying(true);
    void flushOutbox().finally(() => setTrying(false));
  };
  return (
    <div className="mx-auto max-w-2xl">
      <Heading title="Only on this device">
        {settings.lastModel ? (
          <Link className="btn min-h-14 text-lg" to={`/m/${settings.lastModel}/fly`}>
            Back to the sortie
          </Link>
        ) : null}
        <button type="button" className="btn min-h-14 text-lg" disabled={trying} onClick={tryNow}>
          {trying ? "Sending…" : "Send now"}
        </button>
      </Heading>
      {waiting.length + refused.length > 0 ? <HandOver /> : null}
      {waiting.length + refused.length === 0 ? (
        <p className="text-lg">Nothing: everything logged here is in the program.</p>
      ) : null}
      {refused.length > 0 ? (
        <section className="mb-5">
          <h2 className="text-xl font-bold">Not accepted: mend them and send them again</h2>
          <ol>
            {refused.map((e) =>
              e.what === "record" ? (
                <Refused key={e.id} entry={e} title={title(e)} />
              ) : e.what === "note" || e.what === "media" ? (
                <RefusedNote key={e.id} entry={e} />
              ) : (
                <RefusedSortie
                  key={e.id}
                  entry={e}
                  waiting={waiting.filter((w) => sortieOf(w) === sortieOf(e)).length}
                />
              ),
            )}
          </ol>
        </section>
      ) : null}
      {waiting.length > 0 ? (
        <section>
          <h2 className="text-xl font-bold">Waiting for the program, in this order</h2>
          <p className="text-lg">
            They are sent by themselves as soon as it answers. Nothing is lost by closing this page.
          </p>
          <ol>
            {waiting.map((e) => (
              <li key={e.id} className="border-b border-base-300 py-2 text-lg" data-waiting={e.what}>
                {said(e, title(e))}
                {held(e) ? " – waits for its sortie, above" : ""}
              </li>
            ))}
          </ol>
        </section>
      ) : null}
      <div className="mt-6">
        <TakeIn />
      </div>
    </div>
  );
}

/** For where this device reaches no program: the same entries by file, sent from another device. They stay here, too. */
function HandOver() {
  const [words, setWords] = useState("");
  const give = async () => {
    const file = await logFile();
    if (navigator.canShare?.({ files: [file] })) {
      await navigator.share({ files: [file] }).catch(() => undefined);
      setWords("Handed over. It stays here until the program has it.");
      return;
    }
    const link = document.createElement("a");
    link.href = URL.createObjectURL(file);
    link.download = file.name;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
    setWords(`${file.name} is among this device's downloads. It stays here, too, until the program has it.`);
  };
  return (
    <section className="sheet mb-4 p-3 text-lg">
      <p>
        Is there no way to the program from here? Hand it over as a file, and take that in on the laptop, under Phones.
      </p>
      <button type="button" className="btn mt-2 min-h-14 text-lg" onClick={() => void give()}>
        Hand over as a file
      </button>
      {words ? (
        <p role="status" className="mt-1">
          {words}
        </p>
      ) : null}
    </section>
  );
}

function said(entry: Entry, title: string): string {
  const when = new Date(entry.madeAt).toLocaleString();
  if (entry.what === "begin") return `Sortie ${entry.sortie.number} begins, ${when}`;
  if (entry.what === "land") return `The sortie has landed, ${when}`;
  if (entry.what === "note") return `Something noted${entry.note.card_id ? ` on ${entry.note.card_id}` : ""}, ${when}`;
  if (entry.what === "media") return `${entry.kind === "photo" ? "A photo" : "A voice note"} of it, ${when}`;
  const where = entry.target.kind === "sortie" ? "of a sortie" : "bench and ground";
  return `${entry.record.card_id} ${title}, ${entry.record.outcome}, ${where}, ${when}${entry.replaces ? ", a correction" : ""}`;
}

/** What was noted and is not accepted: sent again, or thrown away with what hangs on it. */
function RefusedNote({ entry }: { entry: NoteEntry | MediaEntry }) {
  const [busy, setBusy] = useState(false);
  const again = () => {
    setBusy(true);
    void sendAgain(entry, null).finally(() => setBusy(false));
  };
  return (
    <li className="border-b border-base-300 py-3 text-lg" data-refused={entry.what}>
      <p className="font-semibold">
        {said(entry, "")}
        {entry.what === "note" && entry.note.words ? `: ${entry.note.words}` : ""}
      </p>
      <p className="font-semibold text-accent">{entry.refused?.title}</p>
      <div className="mt-2 grid gap-2 sm:grid-cols-2">
        <button type="button" className="field-choice" disabled={busy} onClick={again}>
          Send it again
        </button>
        <HeldBar words="Hold to throw it away" onHeld={() => void throwAway(entry.id)} disabled={busy} />
      </div>
    </li>
  );
}

/** A sortie that was begun here, or its landing, and is not accepted: with all that was logged of it, it may belong into another. */
function RefusedSortie({ entry, waiting }: { entry: BeginEntry | LandEntry; waiting: number }) {
  const model = useModel(entry.modelId);
  const [busy, setBusy] = useState(false);
  const during = (work: Promise<unknown>) => {
    setBusy(true);
    void work.finally(() => setBusy(false));
  };
  const other = model.data?.sorties.find((s) => isOpen(s) && s.id !== sortieOf(entry));
  return (
    <li className="border-b border-base-300 py-3 text-lg" data-refused={entry.what}>
      <p className="font-semibold">
        {said(entry, "")}
        {waiting > 0 ? `; ${waiting} logged with it ${waiting === 1 ? "waits" : "wait"} here` : ""}
      </p>
      <p className="font-semibold text-accent">{entry.refused?.title}</p>
      <div className="mt-2 grid gap-2 sm:grid-cols-3">
        {entry.what === "begin" && other ? (
          <MoveButton begin={entry} into={other} busy={busy} onMove={(id) => during(moveInto(entry, id))} />
        ) : null}
        <button type="button" className="field-choice" disabled={busy} onClick={() => during(sendAgain(entry, null))}>
          Send it again
        </button>
        <HeldBar
          words={waiting > 0 ? "Hold to throw it and its cards away" : "Hold to throw it away"}
          onHeld={() => void throwAway(entry.id)}
          disabled={busy}
        />
      </div>
    </li>
  );
}

interface MoveProps {
  begin: BeginEntry;
  into: { id: string; number: number };
  busy: boolean;
  onMove: (sortieId: string) => void;
}

function MoveButton({ begin, into, busy, onMove }: MoveProps) {
  return (
    <button type="button" className="field-choice" disabled={busy} onClick={() => onMove(into.id)}>
      {begin.sortie.number === into.number
        ? `It is the same sortie ${into.number}: put its cards there`
        : `Put its cards into sortie ${into.number}`}
    </button>
  );
}

function Refused({ entry, title }: { entry: RecordEntry; title: string }) {
  const asked = useCardOf(entry);
  const [mending, setMending] = useState(false);
  const [busy, setBusy] = useState(false);
  const leave = () => setMending(false);
  const again = (mended: CardRecord | null) => {
    setBusy(true);
    return sendAgain(entry, mended).finally(() => setBusy(false));
  };
  const mend = { entry, busy, onMended: again, onLeave: leave };
  return (
    <li className="border-b border-base-300 py-3 text-lg" data-refused={entry.record.card_id}>
      <p className="font-semibold">{said(entry, title)}</p>
      <p className="font-semibold text-accent">{entry.refused?.title}</p>
      {entry.record.note ? <p>Note: {entry.record.note}</p> : null}
      <div className="mt-2 grid gap-2 sm:grid-cols-3">
        <button
          type="button"
          className="field-choice"
          disabled={busy || !asked.card}
          onClick={() => setMending((m) => !m)}
        >
          {mending ? "Leave it as it is" : "Mend it"}
        </button>
        <button type="button" className="field-choice" disabled={busy} onClick={() => void again(null)}>
          Send it again
        </button>
        <HeldBar words="Hold to throw it away" onHeld={() => void throwAway(entry.id)} disabled={busy} />
      </div>
      {mending && asked.error ? <ProblemNote error={asked.error} onRetry={asked.refetch} /> : null}
      {mending && asked.card ? (
        entry.target.kind === "ground" ? (
          <MendOfModel modelId={entry.target.modelId} card={asked.card} {...mend} />
        ) : (
          <FlownContext value={asked.sortie ?? null}>
            <Mend card={asked.card} {...mend} />
          </FlownContext>
        )
      ) : null}
    </li>
  );
}

/** The card of an entry: in the words of its sortie where it belongs to one, else from the catalogue. */
function useCardOf(entry: RecordEntry) {
  const { target } = entry;
  const sortie = useSortie(target.kind === "sortie" ? target.sortieId : "");
  const cards = useCards(target.kind === "ground");
  const every = sortie.data ? [...sortie.data.cards, ...sortie.data.others, sortie.data.incident] : cards.data;
  const query = target.kind === "sortie" ? sortie : cards;
  return {
    card: every?.find((c) => c.id === entry.record.card_id),
    sortie: sortie.data,
    error: query.error,
    refetch: () => void query.refetch(),
  };
}

interface MendProps {
  card: Card;
  entry: RecordEntry;
  busy: boolean;
  onMended: (record: CardRecord) => Promise<unknown>;
  onLeave: () => void;
}

function MendOfModel({ modelId, ...mend }: MendProps & { modelId: string }) {
  const model = useModel(modelId);
  if (model.isPending) return <Loading words="Fetching the model…" />;
  if (!model.data) return <ProblemNote error={model.error} onRetry={() => void model.refetch()} />;
  return (
    <ModelContext value={model.data}>
      <Mend {...mend} />
    </ModelContext>
  );
}

/** The card filled in as it was kept. */
function Mend({ card, entry, busy, onMended, onLeave }: MendProps) {
  return (
    <CardConsole
      sortieId={`mend-${entry.id}`}
      card={card}
      before={entry.record}
      busy={busy}
      onLog={(record) => onMended({ ...entry.record, ...record, from_memory: entry.record.from_memory })}
      onLeave={onLeave}
      inTheAir={false}
    />
  );
}
