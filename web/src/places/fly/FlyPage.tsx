import { useEffect, useMemo, useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Card, CardRecord, SortieDetail } from "../../api/client";
import { useTheModel } from "../../components/model-context";
import { Loading, ProblemNote } from "../../components/ui/feedback";
import { waitingRecords } from "../../offline/outbox";
import { useLand, useLogCard, useSortie, useStandIn } from "../../queries/sorties";
import { Brief } from "./Brief";
import { CardConsole } from "./CardConsole";
import { Progress } from "./Progress";
import { canSpeak, say, spoken } from "./speech";

/** The console for one sortie: one card at a time in huge type. */
export default function FlyPage() {
  const model = useTheModel();
  const open = model.sorties.find((s) => s.status !== "landed");
  const last = model.sorties.at(-1);
  const sortie = useSortie(open?.id ?? "");
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
  if (sortie.error) return <ProblemNote error={sortie.error} onRetry={() => void sortie.refetch()} />;
  return <Console sortie={sortie.data} />;
}

function Console({ sortie }: { sortie: SortieDetail }) {
  const model = useTheModel();
  const navigate = useNavigate();
  const log = useLogCard(sortie.id, model.id);
  const land = useLand(sortie.id, model.id);
  const standIn = useStandIn(sortie.id, model.id);
  const waiting = useWaiting(sortie.id, log.status);
  const logged = useMemo(
    () => new Map([...sortie.records, ...waiting].map((r) => [r.card_id, r])),
    [sortie.records, waiting],
  );
  const [chosen, setChosen] = useState<string | null>(null);
  const [briefed, setBriefed] = useState(() => !sortie.alone || sortie.status !== "planned");
  const [toast, setToast] = useState<string | null>(null);
  const [aloud, setAloud] = useState(false);
  const next = sortie.cards.find((c) => !logged.has(c.id)) ?? null;
  const card = sortie.cards.find((c) => c.id === chosen) ?? next;
  useEffect(() => {
    if (aloud && card) say(spoken(card));
  }, [aloud, card]);
  useEffect(() => {
    if (!toast) return;
    const timer = setTimeout(() => setToast(null), 6000);
    return () => clearTimeout(timer);
  }, [toast]);

  const send = (record: CardRecord) =>
    log.mutateAsync({ ...record, from_memory: sortie.alone && record.card_id.startsWith("F") }).then((result) => {
      setToast(
        `${record.card_id} kept${result === "waiting" ? " on this device; it is sent when there is a connection" : ""}.`,
      );
      setChosen(null);
      window.scrollTo({ top: 0 });
    });
  const abort = (c: Card) =>
    send({ card_id: c.id, outcome: "aborted", readings: [], confidence: "fair", from_memory: false, note: "aborted" });
  const finish = () => land.mutate(undefined, { onSuccess: () => void navigate(`/m/${model.id}/debrief`) });
  const letStandInFly = () => standIn.mutate(undefined, { onSuccess: () => void navigate(`/m/${model.id}/debrief`) });

  if (!briefed) return <Brief sortie={sortie} onLanded={() => setBriefed(true)} />;
  return (
    <div className="mx-auto flex max-w-2xl flex-col">
      <Progress sortie={sortie} logged={logged} current={card?.id ?? null} onChoose={setChosen} />
      {toast ? (
        <p
          role="status"
          className="my-1 flex items-center justify-between gap-2 bg-base-content px-3 py-2 text-lg text-base-100"
        >
          {toast}
          <button
            type="button"
            className="min-h-11 px-3 font-semibold underline"
            onClick={() => {
              setChosen(toast.split(" ")[0] ?? null);
              setToast(null);
            }}
          >
            Correct it
          </button>
        </p>
      ) : null}
      {log.error ? <ProblemNote error={log.error} /> : null}
      {standIn.error ? <ProblemNote error={standIn.error} /> : null}
      {card ? (
        <CardConsole
          key={card.id}
          sortieId={sortie.id}
          card={card}
          before={logged.get(card.id) ?? null}
          busy={log.isPending}
          onLog={send}
          onLeave={chosen ? () => setChosen(null) : null}
          onAbort={() => void abort(card)}
        />
      ) : (
        <div className="py-6">
          <p className="mb-4 text-3xl font-bold">All cards are logged.</p>
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
      <Foot
        sortie={sortie}
        busy={land.isPending || standIn.isPending}
        flying={standIn.isPending}
        aloud={aloud}
        onAloud={setAloud}
        onStandIn={letStandInFly}
        onLand={finish}
      />
    </div>
  );
}

/** Records of this sortie that wait on the device for a connection. */
function useWaiting(sortieId: string, trigger: string): CardRecord[] {
  const [records, setRecords] = useState<CardRecord[]>([]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: looked at again after every logged card
  useEffect(() => {
    let alive = true;
    void waitingRecords(sortieId).then((w) => alive && setRecords(w.map((x) => x.record)));
    return () => {
      alive = false;
    };
  }, [sortieId, trigger]);
  return records;
}

interface FootProps {
  sortie: SortieDetail;
  busy: boolean;
  flying: boolean;
  aloud: boolean;
  onAloud: (aloud: boolean) => void;
  onStandIn: () => void;
  onLand: () => void;
}

function Foot({ sortie, busy, flying, aloud, onAloud, onStandIn, onLand }: FootProps) {
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
        <button type="button" className="btn min-h-14 flex-1 text-lg" onClick={onLand} disabled={busy}>
          Landed early
        </button>
        <button type="button" className="btn min-h-14 flex-1 text-lg" onClick={onStandIn} disabled={busy}>
          {flying ? "The stand-in is flying…" : "Let the stand-in fly this sortie"}
        </button>
      </div>
      <p className="label-small">
        The stand-in is a simulated model with hidden faults; it logs what a pilot would. Sortie {sortie.number}.
      </p>
    </div>
  );
}
