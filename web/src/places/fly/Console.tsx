import { useEffect, useMemo, useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Card, CardRecord, SortieDetail } from "../../api/client";
import { aReading, aRecord } from "../../api/records";
import { FlownContext } from "../../components/flown-context";
import { ProblemNote } from "../../components/ui/feedback";
import { type Fate, recordsOf, snapshot, sortieOf, throwAway } from "../../offline/outbox";
import { begunHere } from "../../offline/overlay";
import { useOnDevice, useOutbox } from "../../offline/use-outbox";
import { useTakeNoteBack } from "../../queries/notes";
import { useCallOff, useKeepCard, useLand, useStandIn } from "../../queries/sorties";
import { ClockContext, DownQuestion, DownSince } from "./AfterLanding";
import { Brief } from "./Brief";
import { CardConsole } from "./CardConsole";
import { Foot, LandingQuestion } from "./Foot";
import { useFlightClock } from "./flight-clock";
import { type Noted, NoteSheet } from "./NoteSheet";
import { Progress } from "./Progress";
import { say, spoken } from "./speech";

/** What was just kept: a card can be corrected, a note taken back. */
interface Toast {
  words: string;
  label?: string;
  act?: () => void;
}

const FATE_WORDS: Record<Fate["kind"], string> = {
  sent: "kept.",
  waiting: "kept on this device; it is sent as soon as the program answers.",
  refused: "was not accepted. It is kept on this device, to be mended.",
};

interface Props {
  sortie: SortieDetail;
  /** The program did not answer when it was last asked. */
  away: boolean;
  rehearsal?: boolean;
  /** It is logged by a helper, beside the pilot: he neither lands nor calls it off. */
  helper?: boolean;
}

/** One card of a sortie after the other, then the landing. */
export function Console({ sortie, away, rehearsal = false, helper = false }: Props) {
  const navigate = useNavigate();
  const keepCard = useKeepCard(sortie.id);
  const [unkept, setUnkept] = useState(false);
  const land = useLand(sortie.id, sortie.model_id);
  const standIn = useStandIn(sortie.id, sortie.model_id);
  const callOff = useCallOff(sortie.id, sortie.model_id);
  const onDevice = useOutbox();
  const here = useOnDevice();
  const waiting = useMemo(() => recordsOf(here, sortie.id).map((e) => e.record), [here, sortie.id]);
  const refused = onDevice.refused.filter((e) => sortieOf(e) === sortie.id).length;
  const logged = useMemo(
    () => new Map([...sortie.records, ...waiting].map((r) => [r.card_id, r])),
    [sortie.records, waiting],
  );
  const contested = [...new Set(sortie.log.filter((l) => l.contested).map((l) => l.record.card_id))];
  const [chosen, setChosen] = useState<string | null>(null);
  const [briefed, setBriefed] = useState(
    () => helper || !sortie.alone || sortie.status !== "planned" || sortie.against.some((a) => a.code === "unplanned"),
  );
  const [toast, setToast] = useState<Toast | null>(null);
  const [broken, setBroken] = useState<string | null>(null);
  const [aloud, setAloud] = useState(false);
  const [askLanding, setAskLanding] = useState(false);
  const [noting, setNoting] = useState(false);
  const takeNoteBack = useTakeNoteBack(sortie.model_id);
  const happened = sortie.incident;
  const { clock, takeOff, land: markDown, notLanded } = useFlightClock(sortie.id);
  const [askDown, setAskDown] = useState(false);
  const down = isDown(logged.get(happened.id));
  const unflown = sortie.cards.filter((c) => c.phase === "flight" && !logged.has(c.id));
  const left = clock.landed === null ? sortie.cards : afterLanding(sortie.cards);
  const next = down ? null : (left.find((c) => !logged.has(c.id)) ?? null);
  const card = [...sortie.cards, ...sortie.others, happened].find((c) => c.id === chosen) ?? next;
  useEffect(() => {
    if (aloud && card) say(spoken(card));
  }, [aloud, card]);
  useEffect(() => {
    if (!toast) return;
    const timer = setTimeout(() => setToast(null), 6000);
    return () => clearTimeout(timer);
  }, [toast]);

  const inFlight = (id: string) => sortie.cards.some((c) => c.id === id && c.phase === "flight");
  const send = async (record: CardRecord) => {
    const fromMemory = sortie.alone && !helper && inFlight(record.card_id);
    // Nothing is drawn before it is on the device, and nothing waits for the program behind that: neither the next card nor its abort.
    // Said here, too: a card that is aborted from what is noted stands behind that.
    const { fate } = await keepCard({ record: { ...record, from_memory: fromMemory } }).catch((e: unknown) => {
      setUnkept(true);
      throw e;
    });
    setUnkept(false);
    // What was broken off is asked about at once, while it is fresh; the model comes first, and nothing is lost by waiting.
    // A card that was chosen meanwhile stays chosen.
    setChosen((now) => (record.outcome === "aborted" ? happened.id : now === chosen ? null : now));
    setNoting(false);
    if (record.outcome === "aborted") setBroken(record.card_id);
    else if (record.card_id === unflown.at(-1)?.id && unflown.length === 1 && clock.landed === null) markDown();
    window.scrollTo({ top: 0 });
    void fate.then(({ kind }) =>
      setToast({
        words: `${record.card_id} ${FATE_WORDS[kind]}`,
        label: "Correct it",
        act: () => setChosen(record.card_id),
      }),
    );
  };
  const noted = ({ id, words }: Noted) => {
    setNoting(false);
    const waits = () => snapshot().waiting.some((e) => e.id === id);
    // What a helper has noted and the program has is the pilot's to take back.
    const undone = { label: "Take it back", act: () => (waits() ? void throwAway(id) : takeNoteBack.mutate(id)) };
    setToast({ words, ...(helper && !waits() ? {} : undone) });
  };
  const toDebrief = { onSuccess: () => void navigate(`/m/${sortie.model_id}/debrief`) };
  const landNow = () =>
    land.mutate(undefined, {
      onSuccess: (fate) => (fate.kind === "sent" ? toDebrief.onSuccess() : window.scrollTo({ top: 0 })),
    });
  const finish = () => (refused > 0 ? setAskLanding(true) : landNow());
  const sayDown = () => {
    setAskDown(false);
    setChosen(null);
    markDown();
    window.scrollTo({ top: 0 });
  };
  const callItOff = () =>
    begunHere(here, sortie.id)
      ? void throwAway(sortie.id).then(() => navigate(`/m/${sortie.model_id}/plan`))
      : callOff.mutate(undefined, { onSuccess: () => void navigate(`/m/${sortie.model_id}/plan`) });
  const problem = land.error ?? standIn.error ?? callOff.error ?? takeNoteBack.error;

  if (!briefed) return <Brief sortie={sortie} onLanded={() => setBriefed(true)} />;
  return (
    <div className="mx-auto max-w-2xl landscape:max-w-4xl">
      <div className={`console-screen ${helper ? "console-alone" : ""}`}>
        {away || onDevice.waiting.length > 0 ? (
          <p role="status" className="mb-1 border-l-4 border-l-accent px-2 text-lg font-semibold">
            The program does not answer. Go on logging: every card is kept on this device.
          </p>
        ) : null}
        {sortie.against.length > 0 ? (
          <details className="console-against mb-1 border-l-4 border-l-accent px-2 text-lg" data-testid="flown-against">
            <summary className="font-semibold text-accent">
              Flown against advice: {sortie.against.length === 1 ? "one stop" : `${sortie.against.length} stops`}
            </summary>
            {sortie.against.map((a) => (
              <p key={a.words}>
                <span className="font-semibold text-accent">{a.words}</span> Flown all the same: {a.reason}
              </p>
            ))}
          </details>
        ) : null}
        <div className="flex items-start gap-2">
          <div className="min-w-0 flex-1">
            <Progress
              sortie={sortie}
              logged={logged}
              current={card?.id ?? null}
              onChoose={setChosen}
              clock={clock}
              aloud={aloud}
            />
          </div>
          <Link
            to={helper ? "/help/emergency" : `/m/${sortie.model_id}/emergency`}
            className="flex min-h-14 shrink-0 items-center border-2 border-accent px-3 text-lg font-bold text-accent"
          >
            Emergency
          </Link>
        </div>
        {toast ? (
          <p
            role="status"
            className="my-1 flex items-center justify-between gap-2 bg-base-content px-3 py-2 text-lg text-base-100"
          >
            {toast.words}
            {toast.act ? (
              <button
                type="button"
                className="min-h-11 shrink-0 px-3 font-semibold whitespace-nowrap underline"
                onClick={() => {
                  toast.act?.();
                  setToast(null);
                }}
              >
                {toast.label}
              </button>
            ) : null}
          </p>
        ) : null}
        {contested.length > 0 ? (
          <p className="my-1 text-lg font-semibold text-accent" data-testid="contested">
            Another device says otherwise of {contested.join(", ")}. The more cautious entry counts; log it again to
            settle it.
          </p>
        ) : null}
        {problem ? <ProblemNote error={problem} /> : null}
        {unkept && noting ? (
          <p role="alert" className="my-1 text-lg font-semibold text-error">
            The abort was not kept: this device's storage may be full. What was said is still here; hold it again.
          </p>
        ) : null}
        {clock.landed !== null && !down ? <DownSince landed={clock.landed} onNotDown={notLanded} /> : null}
        {askDown ? (
          <DownQuestion unflown={unflown.map((c) => c.id)} onDown={sayDown} onLeave={() => setAskDown(false)} />
        ) : null}
        {askLanding ? <LandingQuestion count={refused} onLand={landNow} onLeave={() => setAskLanding(false)} /> : null}
        {noting && !card ? (
          <NoteSheet sortie={sortie} cardId="" onNoted={noted} onLeave={() => setNoting(false)} />
        ) : card ? (
          <FlownContext value={sortie.airframe ? sortie : null}>
            <ClockContext value={clock}>
              <CardConsole
                key={card.id}
                sortieId={sortie.id}
                card={card}
                before={
                  logged.get(card.id) ?? (card.id === happened.id ? begun(happened, sortie.phases[broken ?? ""]) : null)
                }
                onLog={send}
                onLeave={chosen ? () => setChosen(null) : null}
                radio={sortie.radio[card.id]}
                inTheAir
                fromMemory={sortie.alone && !helper}
                flownWith={sortie.flown_with}
                unplanned={sortie.others.some((c) => c.id === card.id)}
                onNote={() => setNoting(true)}
                linked={rehearsal && !helper && !away && tells(card)}
                sheet={
                  noting
                    ? (abort) => (
                        <NoteSheet
                          sortie={sortie}
                          cardId={card.id}
                          onNoted={noted}
                          onLeave={() => setNoting(false)}
                          abort={abort}
                        />
                      )
                    : null
                }
                onTakeOff={helper || clock.takeOff !== null || card.id !== sortie.cards[0]?.id ? null : takeOff}
              />
            </ClockContext>
          </FlownContext>
        ) : (
          <div className="py-6">
            <h1 className="mb-4 text-3xl font-bold">
              {down ? "The model is down. What was logged counts." : "All cards are logged."}
            </h1>
            <button type="button" className="field-choice mb-2 w-full" onClick={() => setNoting(true)}>
              Note something: a photo, a voice, a word
            </button>
            {helper ? (
              <p className="text-xl">The pilot says that it has landed, on a device of his own.</p>
            ) : (
              <button
                type="button"
                className="field-choice w-full bg-accent text-accent-content"
                onClick={finish}
                disabled={land.isPending}
              >
                Landed: to the debrief
              </button>
            )}
          </div>
        )}
      </div>
      <Others others={sortie.others} onChoose={setChosen} />
      <Foot
        sortie={sortie}
        busy={land.isPending || standIn.isPending || callOff.isPending}
        flying={standIn.isPending}
        aloud={aloud}
        onAloud={setAloud}
        onStandIn={rehearsal ? () => standIn.mutate(undefined, toDebrief) : null}
        onLand={helper ? null : clock.landed === null && !down && unflown.length > 0 ? () => setAskDown(true) : finish}
        onTheGround={clock.landed !== null || down || unflown.length === 0}
        onHappened={card?.id === happened.id ? null : () => setChosen(happened.id)}
        onCallOff={
          !helper && sortie.status === "planned" && logged.size === 0 && clock.takeOff === null ? callItOff : null
        }
      />
    </div>
  );
}

/** Cards that are not on the list: what was flown all the same is logged too. */
function Others({ others, onChoose }: { others: readonly Card[]; onChoose: (id: string) => void }) {
  if (others.length === 0) return null;
  return (
    <details className="mt-3 text-lg" data-testid="others">
      <summary className="min-h-11 font-semibold">Something else was flown</summary>
      <ul className="mt-1 grid gap-2 sm:grid-cols-2">
        {others.map((c) => (
          <li key={c.id}>
            <button
              type="button"
              className="field-choice w-full text-left"
              onClick={() => {
                onChoose(c.id);
                window.scrollTo({ top: 0 });
              }}
            >
              {c.id} {c.title}
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}

/** Whether a link tells something of a card: what is flown, and what the pack gave. */
function tells(card: Card): boolean {
  return card.phase === "flight" || card.captures.some((c) => c.wait_minutes > 0);
}

/** The cards after landing; what waits for its reading comes last, the wait is used for the others. */
function afterLanding(cards: readonly Card[]): Card[] {
  const after = cards.filter((c) => c.phase !== "flight");
  const waits = (c: Card) => c.captures.some((k) => k.wait_minutes > 0);
  return [...after.filter((c) => !waits(c)), ...after.filter(waits)];
}

/** Whether an incident says that the model came to the ground. */
function isDown(record: CardRecord | undefined): boolean {
  const ground = record?.readings?.find((r) => r.key === "ground")?.choice;
  return ground === "hard" || ground === "hit";
}

/** An incident as it is first shown: the part of the flight is known from the card that was broken off. */
function begun(card: Card, phase: string | undefined): CardRecord | null {
  if (!phase) return null;
  return aRecord({ card_id: card.id, outcome: "done", readings: [aReading({ key: "phase", choice: phase })] });
}
