import { useEffect, useMemo, useRef, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { Card, CardRecord, Configuration, SortieDetail } from "../../api/client";
import { aReading, aRecord } from "../../api/records";
import { useTheModel } from "../../components/model-context";
import { Loading, ProblemNote } from "../../components/ui/feedback";
import { type Fate, recordsOf, sortieOf, throwAway } from "../../offline/outbox";
import { begunHere, landedUnsent } from "../../offline/overlay";
import { useOnDevice, useOutbox } from "../../offline/use-outbox";
import { isOpen, useCallOff, useLand, useLogCard, useSortie, useStandIn } from "../../queries/sorties";
import { Brief } from "./Brief";
import { CardConsole } from "./CardConsole";
import { Correction } from "./Correction";
import { Progress } from "./Progress";
import { canSpeak, say, spoken } from "./speech";

/** The console for one sortie: one card at a time in huge type; or one entry of a landed sortie to be corrected. */
export default function FlyPage() {
  const model = useTheModel();
  const [search] = useSearchParams();
  const open = model.sorties.find(isOpen);
  const last = model.sorties.filter((s) => s.status === "landed").at(-1);
  const sortie = useSortie(open?.id ?? "");
  const here = useOnDevice();
  const unsent = landedUnsent(here, model.id);
  useDebriefOnArrival(model.id, unsent);
  const [corrected, entry] = [search.get("sortie"), search.get("entry")];
  if (corrected && entry) return <Correction key={entry} sortieId={corrected} entryId={entry} />;
  if (!open && unsent) return <LandedHere number={last?.number ?? 0} />;
  if (!open)
    return (
      <div className="mx-auto max-w-xl py-8 text-center">
        <p className="mb-4 text-2xl font-semibold">
          {last ? `Sortie ${last.number} has landed.` : "No sortie is planned."}
        </p>
        <Link className="btn btn-accent btn-lg" to={last ? `/m/${model.id}/debrief` : `/m/${model.id}/plan`}>
          {last ? "Read the debrief" : "Plan the first sortie"}
        </Link>
      </div>
    );
  if (sortie.isPending) return <Loading words="Fetching the cards…" />;
  // What was fetched once stays usable while the program is away.
  if (!sortie.data) return <ProblemNote error={sortie.error} onRetry={() => void sortie.refetch()} />;
  return <Console sortie={sortie.data} away={sortie.error !== null} />;
}

/** Whoever waits here for a landing to arrive is led to what it taught. */
function useDebriefOnArrival(modelId: string, unsent: boolean): void {
  const navigate = useNavigate();
  const waited = useRef(false);
  useEffect(() => {
    if (waited.current && !unsent) void navigate(`/m/${modelId}/debrief`);
    waited.current = unsent;
  }, [unsent, modelId, navigate]);
}

/** Landed where no program answers: what is on this device, and what it waits for. */
function LandedHere({ number }: { number: number }) {
  return (
    <div className="mx-auto max-w-xl py-8" data-testid="landed-here">
      <p className="mb-2 text-2xl font-semibold">Sortie {number} has landed. It is kept on this device.</p>
      <p className="mb-4 text-lg">
        Its debrief is computed when the program answers. Change nothing on the model until then, but what has come
        loose or broken, and do not fly it again.
      </p>
      <Link className="btn btn-accent btn-lg" to="/waiting">
        What is on this device
      </Link>
    </div>
  );
}

interface Toast {
  cardId: string;
  words: string;
}

const FATE_WORDS: Record<Fate["kind"], string> = {
  sent: "kept.",
  waiting: "kept on this device; it is sent as soon as the program answers.",
  refused: "was not accepted. It is kept on this device, to be mended.",
};

function Console({ sortie, away }: { sortie: SortieDetail; away: boolean }) {
  const model = useTheModel();
  const navigate = useNavigate();
  const log = useLogCard(sortie.id);
  const land = useLand(sortie.id, model.id);
  const standIn = useStandIn(sortie.id, model.id);
  const callOff = useCallOff(sortie.id, model.id);
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
    () => !sortie.alone || sortie.status !== "planned" || sortie.against.some((a) => a.code === "unplanned"),
  );
  const [toast, setToast] = useState<Toast | null>(null);
  const [broken, setBroken] = useState<string | null>(null);
  const [aloud, setAloud] = useState(false);
  const [askLanding, setAskLanding] = useState(false);
  const happened = sortie.incident;
  const down = isDown(logged.get(happened.id));
  const next = down ? null : (sortie.cards.find((c) => !logged.has(c.id)) ?? null);
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
  const send = (record: CardRecord) =>
    log.mutateAsync({ record: { ...record, from_memory: sortie.alone && inFlight(record.card_id) } }).then((fate) => {
      setToast({ cardId: record.card_id, words: `${record.card_id} ${FATE_WORDS[fate.kind]}` });
      // What was broken off is asked about at once, while it is fresh; the model comes first, and nothing is lost by waiting.
      setChosen(record.outcome === "aborted" ? happened.id : null);
      if (record.outcome === "aborted") setBroken(record.card_id);
      window.scrollTo({ top: 0 });
    });
  const toDebrief = { onSuccess: () => void navigate(`/m/${model.id}/debrief`) };
  const landNow = () =>
    land.mutate(undefined, {
      onSuccess: (fate) => (fate.kind === "sent" ? toDebrief.onSuccess() : window.scrollTo({ top: 0 })),
    });
  const finish = () => (refused > 0 ? setAskLanding(true) : landNow());
  const callItOff = () =>
    begunHere(here, sortie.id)
      ? void throwAway(sortie.id).then(() => navigate(`/m/${model.id}/plan`))
      : callOff.mutate(undefined, { onSuccess: () => void navigate(`/m/${model.id}/plan`) });
  const problem = log.error ?? land.error ?? standIn.error ?? callOff.error;

  if (!briefed) return <Brief sortie={sortie} onLanded={() => setBriefed(true)} />;
  return (
    <div className="mx-auto flex max-w-2xl flex-col">
      {away || onDevice.waiting.length > 0 ? (
        <p role="status" className="mb-1 border-l-4 border-l-accent px-2 text-lg font-semibold">
          The program does not answer. Go on logging: every card is kept on this device.
        </p>
      ) : null}
      {sortie.against.length > 0 ? (
        <details className="mb-1 border-l-4 border-l-accent px-2 text-lg" data-testid="flown-against">
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
          <Progress sortie={sortie} logged={logged} current={card?.id ?? null} onChoose={setChosen} />
        </div>
        <Link
          to={`/m/${model.id}/emergency`}
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
          <button
            type="button"
            className="min-h-11 px-3 font-semibold underline"
            onClick={() => {
              setChosen(toast.cardId);
              setToast(null);
            }}
          >
            Correct it
          </button>
        </p>
      ) : null}
      {contested.length > 0 ? (
        <p className="my-1 text-lg font-semibold text-accent" data-testid="contested">
          Another device says otherwise of {contested.join(", ")}. The more cautious entry counts; log it again to
          settle it.
        </p>
      ) : null}
      {problem ? <ProblemNote error={problem} /> : null}
      {askLanding ? <LandingQuestion count={refused} onLand={landNow} onLeave={() => setAskLanding(false)} /> : null}
      {card ? (
        <CardConsole
          key={card.id}
          sortieId={sortie.id}
          card={card}
          before={
            logged.get(card.id) ?? (card.id === happened.id ? begun(happened, sortie.phases[broken ?? ""]) : null)
          }
          busy={log.isPending}
          onLog={send}
          onLeave={chosen ? () => setChosen(null) : null}
          radio={sortie.radio[card.id]}
          inTheAir
          fromMemory={sortie.alone}
          flownWith={flownWith(model.setup)}
          unplanned={sortie.others.some((c) => c.id === card.id)}
        />
      ) : (
        <div className="py-6">
          <p className="mb-4 text-3xl font-bold">
            {down ? "The model is down. What was logged counts." : "All cards are logged."}
          </p>
          <button
            type="button"
            className="field-choice w-full bg-accent text-accent-content"
            onClick={finish}
            disabled={land.isPending}
          >
            Landed: to the debrief
          </button>
        </div>
      )}
      <Others others={sortie.others} onChoose={setChosen} />
      <Foot
        sortie={sortie}
        busy={land.isPending || standIn.isPending || callOff.isPending}
        flying={standIn.isPending}
        aloud={aloud}
        onAloud={setAloud}
        onStandIn={model.rehearsal ? () => standIn.mutate(undefined, toDebrief) : null}
        onLand={finish}
        onHappened={card?.id === happened.id ? null : () => setChosen(happened.id)}
        onCallOff={sortie.status === "planned" && logged.size === 0 ? callItOff : null}
      />
    </div>
  );
}

/** What of the model may have flown a card. */
export function flownWith(setup: Configuration | undefined) {
  const controls = setup?.controls;
  return {
    motor: Boolean(setup?.airframe.motor),
    stabiliser: Boolean(controls?.stabiliser),
    flaps: (controls?.fittings ?? []).some((f) => f.role.includes("flap")),
    gear:
      Boolean(setup?.airframe.gear?.folds) ||
      (controls?.radio.switches ?? []).some((s) => (s.jobs ?? []).includes("gear")),
  };
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

interface QuestionProps {
  count: number;
  onLand: () => void;
  onLeave: () => void;
}

/** Landing while the program has not accepted something: the debrief would lack it. What only waits is sent before the landing. */
function LandingQuestion({ count, onLand, onLeave }: QuestionProps) {
  const shown = useRef<HTMLElement>(null);
  // Asked from the foot of a long card: it must not come up out of sight.
  useEffect(() => {
    shown.current?.scrollIntoView({ block: "center" });
  }, []);
  return (
    <section
      ref={shown}
      role="alert"
      className="sheet my-2 border-l-4 border-l-accent p-3 text-lg"
      data-testid="landing-question"
    >
      <p className="font-semibold">
        {count} {count === 1 ? "entry of this sortie was" : "entries of this sortie were"} not accepted.
      </p>
      <p>Landed now, the debrief lacks them; mended later they are taken and it is computed anew.</p>
      <div className="mt-2 grid gap-2 sm:grid-cols-3">
        <Link className="field-choice flex items-center justify-center" to="/waiting">
          Mend them first
        </Link>
        <button type="button" className="field-choice" onClick={onLand}>
          Land all the same
        </button>
        <button type="button" className="field-choice" onClick={onLeave}>
          Not yet
        </button>
      </div>
    </section>
  );
}

interface FootProps {
  sortie: SortieDetail;
  busy: boolean;
  flying: boolean;
  aloud: boolean;
  onAloud: (aloud: boolean) => void;
  onStandIn: (() => void) | null;
  onLand: () => void;
  onHappened: (() => void) | null;
  onCallOff: (() => void) | null;
}

function Foot({ sortie, busy, flying, aloud, onAloud, onStandIn, onLand, onHappened, onCallOff }: FootProps) {
  return (
    <div className="mt-3 space-y-2 pb-2">
      {canSpeak() ? (
        <label className="flex min-h-14 items-center gap-3 text-lg">
          <input
            type="checkbox"
            className="toggle toggle-lg"
            checked={aloud}
            onChange={(e) => onAloud(e.target.checked)}
          />
          Read each card aloud
        </label>
      ) : null}
      <div className="flex flex-wrap gap-2">
        {onCallOff ? (
          <button type="button" className="btn min-h-14 flex-1 text-lg" onClick={onCallOff} disabled={busy}>
            Call this sortie off
          </button>
        ) : (
          <button type="button" className="btn min-h-14 flex-1 text-lg" onClick={onLand} disabled={busy}>
            Landed early
          </button>
        )}
        {onHappened ? (
          <button type="button" className="btn min-h-14 flex-1 text-lg" onClick={onHappened} disabled={busy}>
            Something went wrong
          </button>
        ) : null}
        {onStandIn ? (
          <button type="button" className="btn min-h-14 flex-1 text-lg" onClick={onStandIn} disabled={busy}>
            {flying ? "The stand-in is flying…" : "Let the stand-in fly this sortie"}
          </button>
        ) : null}
      </div>
      <p className="label-small">
        {onStandIn
          ? `Rehearsal: the stand-in is a simulated model with hidden faults; it logs what a pilot would. Sortie ${sortie.number}.`
          : `Sortie ${sortie.number}. To try it out first, make a rehearsal copy in the ledger.`}
      </p>
    </div>
  );
}
