import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import { type Card, type CardRecord, inOwnUnits, isAway, type Plan, ProblemError, type Said } from "../../api/client";
import { BetterFirst } from "../../components/BetterFirst";
import { KitNote } from "../../components/KitNote";
import { LandedUnsent } from "../../components/LandedUnsent";
import { useTheModel } from "../../components/model-context";
import { Notes } from "../../components/Notes";
import { Heading, Loading, ProblemNote } from "../../components/ui/feedback";
import { landedUnsent } from "../../offline/overlay";
import { useOnDevice } from "../../offline/use-outbox";
import {
  isOpen,
  NO_WISHES,
  useBeginSortie,
  useLogGroundCard,
  usePlan,
  useReadWind,
  type Wishes,
} from "../../queries/sorties";
import { Contested } from "./Contested";
import { GateCard } from "./GateCard";
import { PackPanel } from "./PackPanel";
import { SitePanel } from "./SitePanel";
import { SortieColumn } from "./SortieColumn";
import { type Reasons, Stops } from "./Stops";
import { WindPanel } from "./WindPanel";

/** What to fly next, whether to go, and the gates that are still open. */
export default function PlanPage() {
  const model = useTheModel();
  const [wishes, setWishes] = useState<Wishes>(NO_WISHES);
  const plan = usePlan(model.id, wishes);
  const [reasons, setReasons] = useState<Reasons>({});
  if (plan.isPending) return <Loading words="Packing the sortie…" />;
  if (plan.error && !plan.data) return <ProblemNote error={plan.error} onRetry={() => void plan.refetch()} />;
  if (!plan.data) return null;
  return (
    <PlanView
      plan={plan.data}
      error={plan.error}
      wishes={wishes}
      onWishes={setWishes}
      reasons={reasons}
      onReason={(code, why) => setReasons((r) => ({ ...r, [code]: why }))}
    />
  );
}

/** The stops of the proposal, and the one for which the order as it was changed here was refused. */
function withRefused(stops: readonly Said[], error: unknown): readonly Said[] {
  const problem = error instanceof ProblemError ? error.problem : null;
  const code = problem?.context?.stop;
  if (typeof code !== "string" || stops.some((s) => s.code === code)) return stops;
  return [...stops, { code, severity: "stop", words: problem?.title ?? "", about: [] }];
}

/** What has changed by an entry elsewhere on the page, for whoever does not see it. */
function said(count: number, what: string, so: string): string {
  return count === 0 ? `No ${what} ${so}.` : `${count} ${what}${count === 1 ? "" : "s"} ${so}.`;
}

interface ViewProps {
  plan: Plan;
  error: unknown;
  wishes: Wishes;
  onWishes: (wishes: Wishes) => void;
  reasons: Reasons;
  onReason: (code: string, why: string) => void;
}

function PlanView({ plan, error, wishes, onWishes, reasons, onReason }: ViewProps) {
  const model = useTheModel();
  const navigate = useNavigate();
  const log = useLogGroundCard(model.id);
  const start = useBeginSortie(model.id);
  const unsent = landedUnsent(useOnDevice(), model.id);
  const read = useReadWind(model.id);
  const proposed = plan.programme.flight.join();
  const [order, setOrder] = useState<string[]>(plan.programme.flight);
  const [basis, setBasis] = useState(proposed);
  // A new proposal begins its column anew; what was said, typed and looked at elsewhere on the page stays.
  if (basis !== proposed) {
    setBasis(proposed);
    setOrder(plan.programme.flight);
  }
  const [alone, setAlone] = useState(false);
  const cards = Object.fromEntries(plan.cards.map((c) => [c.id, c])) as Record<string, Card>;
  const open = model.sorties.find(isOpen);
  const gates = plan.programme.gates;
  // What was refused was the column as it stood then.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the proposal is what it waits for
  useEffect(() => start.reset(), [proposed]);
  const stops = withRefused(plan.stops, start.error);
  const unanswered = stops.some((s) => plan.firm.includes(s.code) || !reasons[s.code]?.trim());
  const toFly = { onSuccess: () => void navigate(`/m/${model.id}/fly`) };
  const lookAndFly = () => start.mutate({ card_ids: order, alone, reasons, stops }, toFly);
  return (
    <div>
      <Heading title={`Sortie ${plan.programme.sortie_number}`}>
        <label className="flex items-center gap-2">
          <input type="checkbox" className="toggle" checked={alone} onChange={(e) => setAlone(e.target.checked)} />I fly
          alone: brief, fly, log from memory
        </label>
        <button
          type="button"
          className="btn btn-accent"
          disabled={
            unanswered || gates.length > 0 || open !== undefined || unsent || start.isPending || model.read_only
          }
          onClick={lookAndFly}
        >
          {start.isPending ? "Planning…" : "Fly this sortie"}
        </button>
        <a className="btn" href={inOwnUnits(`/api/v1/models/${model.id}/sortie-cards.pdf`)}>
          Cards on paper
        </a>
      </Heading>
      {model.today.station === "rework" && model.sorties.length > 0 ? (
        <p className="sheet mb-2 flex flex-wrap items-center justify-between gap-2 border-l-4 border-l-accent p-2">
          <span>
            <span className="font-semibold">{model.today.sentence}</span> What is planned here would be flown as it
            landed.
          </span>
          <Link className="btn btn-sm" to={`/m/${model.id}/rework`}>
            {model.today.button}
          </Link>
        </p>
      ) : null}
      <p role="status" className="sr-only">
        {said(gates.length, "gate", "open")}{" "}
        {said(new Set(stops.map((s) => s.code)).size, "reason", "not to fly it like this")}
      </p>
      <Stops stops={stops} firm={plan.firm} reasons={reasons} onReason={onReason} />
      <Notes />
      {plan.programme.note ? <p className="mb-2">{plan.programme.note}</p> : null}
      <BetterFirst found={plan.programme.first ?? []} title="Worth doing on the bench first" />
      {open ? (
        <p className="sheet mb-2 border-l-4 border-l-accent p-2 font-semibold">
          Sortie {open.number} is still open. Fly it or land it first.
        </p>
      ) : null}
      <LandedUnsent />
      {start.error ? <ProblemNote error={start.error} /> : null}
      {error && !isAway(error) ? <ProblemNote error={error} /> : null}
      <div className="grid gap-4 lg:grid-cols-[1fr_1.1fr_1fr]">
        <section>
          <h2 className="mb-1 text-lg">
            Gates{" "}
            {gates.length ? (
              <span className="text-accent">{gates.length} open</span>
            ) : (
              <span className="text-success">all closed</span>
            )}
          </h2>
          {log.error ? <ProblemNote error={log.error} /> : null}
          <Contested lines={plan.contested ?? []} cards={cards} />
          {plan.programme.cards
            .filter((c) => cards[c.card_id]?.phase === "bench" || cards[c.card_id]?.phase === "ground")
            .filter((c) => c.state !== "not_for_this_model")
            .map((c) => {
              const card = cards[c.card_id];
              return card ? (
                <GateCard
                  key={c.card_id}
                  card={card}
                  planned={c}
                  busy={log.isPending || model.read_only}
                  onLog={(record: CardRecord) => log.mutate(record)}
                />
              ) : null;
            })}
          <div className="mt-4">
            <SitePanel modelId={model.id} plan={plan} busy={model.read_only} />
          </div>
        </section>
        <SortieColumn
          modelId={model.id}
          programme={plan.programme}
          cards={cards}
          order={order}
          setOrder={setOrder}
          refused={plan.wind?.refused_cards ?? []}
          wishes={wishes}
          onWishes={onWishes}
        />
        <div>
          <PackPanel modelId={model.id} plan={plan} busy={model.read_only} />
          <WindPanel
            read={plan.wind_read}
            verdict={plan.wind}
            busy={read.isPending}
            error={read.error}
            onRead={(w) => read.mutate(w)}
            stall_mps={plan.stall_speed_mps}
            limits={model.setup.limits}
            elevation_m={plan.site?.elevation_m ?? model.setup.site_elevation_m ?? 0}
            strip_rad={plan.site?.heading_rad ?? null}
          />
        </div>
      </div>
      <KitNote />
      {open ? null : (
        <FlownAlready
          busy={start.isPending || model.read_only}
          onFlown={(flown) => start.mutate({ card_ids: order, alone: true, reasons: {}, flown, stops: [] }, toFly)}
        />
      )}
    </div>
  );
}

/** What happened can always be logged: a sortie that was flown without a plan, with a line of reason. */
function FlownAlready({ busy, onFlown }: { busy: boolean; onFlown: (why: string) => void }) {
  const [why, setWhy] = useState("");
  return (
    <details className="sheet mt-3 p-2" data-testid="flown-already">
      <summary className="font-semibold">It has flown already, without this plan</summary>
      <p className="my-1">
        Log it from memory with the cards above; skip what was not flown, take in what was. Open gates and stops do not
        keep it out: they are kept beside it.
      </p>
      <label className="block">
        Say in a few words how that came.
        <input
          className="input mt-1 w-full text-base"
          maxLength={300}
          value={why}
          onChange={(e) => setWhy(e.target.value)}
        />
      </label>
      <button
        type="button"
        className="btn mt-2"
        disabled={busy || why.trim().length < 8}
        onClick={() => onFlown(why.trim())}
      >
        Log what was flown
      </button>
    </details>
  );
}
