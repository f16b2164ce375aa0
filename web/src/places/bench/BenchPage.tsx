import { lazy, memo, Suspense, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { type Configuration, isAway, ProblemError, type Said, type Tendency } from "../../api/client";
import { useTheModel } from "../../components/model-context";
import { ReasonNumber } from "../../components/quantity/ReasonNumber";
import { Rail } from "../../components/Rail";
import { Loading, ProblemNote } from "../../components/ui/feedback";
import { laid, type Underlay } from "../../domain/underlay";
import { BenchDrawing } from "../../drawing/bench/BenchDrawing";
import { damagedParts } from "../../drawing/DamageMarks";
import { type ReadOn, useBench, useEditSetup, useTakeMeasure, useUndo } from "../../queries/models";
import { AirframeTab } from "./AirframeTab";
import { BenchNav, useBenchAddress } from "./BenchNav";
import { CheckTab } from "./CheckTab";
import { type Change, EditingProvider } from "./editing";
import { ItemsTab } from "./ItemsTab";
import { MoveTab } from "./MoveTab";
import { DrawingTable, Provenance } from "./Provenance";
import { SpokenNumbers } from "./SpokenNumbers";
import { UnderlayFields, UnderlayPoints } from "./UnderlayFields";
import { useUnderlay } from "./use-underlay";
import { WeighTab } from "./WeighTab";

/** A tool of its own, and a large one: fetched when it is gone to. */
const ControlsDesk = lazy(() => import("./controls/ControlsDesk"));

const FOOT = ["mass", "wing_loading", "stall_speed", "neutral_point", "balance", "static_margin", "risk"];

/** The bench: a live scale drawing, the measuring list beside it, every number with its reason at the foot. */
export default function BenchPage() {
  const model = useTheModel();
  const { tool: tab, section } = useBenchAddress();
  const [draft, setDraft] = useState<Configuration | null>(null);
  const [focus, setFocus] = useState<string | null>(null);
  const bench = useBench(model.id, draft);
  const saving = useEditSetup(model.id);
  const undo = useUndo(model.id);
  const setup = draft ?? model.setup;

  const edit = useCallback(
    (change: Change, words: string, read?: ReadOn) => saving.mutateAsync({ change, words, read }),
    [saving.mutateAsync],
  );
  // What was dragged last, to be applied to the newest setup when it is let go.
  const dragged = useRef<Change | null>(null);
  const drag = (change: Change) => {
    dragged.current = change;
    const next = change(setup);
    bench.ahead(next);
    setDraft(next);
  };
  const drop = (words: string) => {
    const change = dragged.current;
    dragged.current = null;
    if (!change) return;
    // What was only drawn was not measured; what was drawn after a picture of it was, as well as a picture can be read.
    void edit(change, words, { how: lies ? "picture" : null, scale: 1 }).then(
      () => setDraft(null),
      () => undefined,
    );
  };

  useEffect(() => {
    function onKey(e: KeyboardEvent): void {
      if (!(e.ctrlKey || e.metaKey) || (e.target as HTMLElement).tagName === "INPUT") return;
      if (e.key === "z" && model.can_undo) undo.mutate("undo");
      if (e.key === "y" && model.can_redo) undo.mutate("redo");
    }
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [model.can_undo, model.can_redo, undo.mutate]);

  const underlay = useUnderlay(model.id);
  const [setting, setSetting] = useState(false);
  const placed = underlay.laid && underlay.url ? laid(underlay.laid, model.setup.airframe) : null;
  const lies = tab === "Airframe" && placed && typeof placed !== "string" ? placed : null;
  // What was refused at its field is said there, and gone when it is mended.
  const refused = saving.error instanceof ProblemError && saving.error.atField ? null : saving.error;
  const stepped = undo.isSuccess && undo.submittedAt > saving.submittedAt;
  const done = !stepped ? "" : undo.variables === "undo" ? "Undone" : "Done again";
  const answer = bench.data?.answer;
  const taking = useTakeMeasure(model.id);
  const origins = answer?.origins ?? null;
  const caveats = answer?.caveats;
  const doubts = useMemo(() => [...(caveats ?? []).filter(isDoubt), ...(origins?.findings ?? [])], [caveats, origins]);
  const readOnly = model.read_only;
  const take = taking.mutateAsync;
  // The very same until something of it changes: an answer to a drag draws none of the fields anew.
  const editing = useMemo(
    () => ({ setup, readOnly, plan: 1, edit, take, origins, doubts, onFocus: setFocus }),
    [setup, readOnly, edit, take, origins, doubts],
  );
  const beneath = useMemo(
    () => <UnderlayFields underlay={underlay} setting={setting} onSetting={setSetting} />,
    [underlay, setting],
  );
  const head = (
    <>
      <BenchNav model={model} undo={undo} onTool={() => setFocus(null)} />
      {model.read_only ? (
        <p className="sheet mb-2 p-2 text-sm">Kept read-only: it can be looked at, not changed.</p>
      ) : null}
    </>
  );
  if (tab === "Controls")
    return (
      <EditingProvider value={editing}>
        {head}
        <Suspense fallback={<Loading words="Fetching the controls desk…" />}>
          <ControlsDesk modelId={model.id} revision={model.revision} section={section} />
        </Suspense>
        {refused ? <ProblemNote error={refused} /> : null}
      </EditingProvider>
    );
  return (
    <EditingProvider value={editing}>
      {head}
      <div className="grid gap-3 xl:grid-cols-[1.75fr_1fr]">
        <div className="min-w-0">
          <h1 className="sr-only">Bench</h1>
          <div className="sheet px-1">
            {setting && tab === "Airframe" && underlay.laid && underlay.url ? (
              <UnderlayPoints url={underlay.url} how={underlay.laid} onChange={underlay.change} />
            ) : (
              <BenchDrawing
                setup={setup}
                answer={answer}
                stale={bench.behind}
                ghosts={bench.data?.flown_battery_x_m ?? []}
                focus={focus}
                readOnly={model.read_only}
                damaged={damagedParts(model.incidents)}
                tool={tab === "Airframe" ? "airframe" : tab === "Items" ? "items" : null}
                underlay={lies && underlay.laid ? { url: underlay.url, ...sizeOf(underlay.laid), lies } : null}
                onDrag={drag}
                onDrop={drop}
              />
            )}
            {answer ? <Provenance origins={answer.origins} /> : null}
          </div>
          {bench.error && !isAway(bench.error) ? (
            <ProblemNote error={bench.error} onRetry={() => void bench.refetch()} />
          ) : null}
          {refused ? <ProblemNote error={refused} onRetry={draft ? () => setDraft(null) : undefined} /> : null}
        </div>
        {/* Across both columns: the numbers are seen whole on a laptop. */}
        <div className="min-w-0 xl:col-span-2 xl:row-start-2">
          <div className="flex flex-wrap gap-1.5" data-testid="bench-numbers">
            {answer?.numbers
              .filter((n) => FOOT.includes(n.key))
              .map((n) => (
                <ReasonNumber key={n.key} number={n} />
              ))}
          </div>
          {answer ? <SpokenNumbers answer={answer} done={done} /> : null}
          {answer ? <Sentences answer={answer} doubts={tab !== "Airframe"} /> : null}
        </div>
        <aside className="min-w-0 xl:col-start-2 xl:row-start-1">
          <div className="max-h-[70dvh] overflow-y-auto pr-1 xl:max-h-[min(70dvh,38rem)]" data-fields>
            {tab === "Airframe" ? (
              <AirframeTab
                modelId={model.id}
                revision={model.revision}
                underlay={beneath}
                findings={answer?.twist ?? NONE}
              />
            ) : null}
            {tab === "Items" ? (
              <ItemsTab
                modelId={model.id}
                mission={answer?.mission ?? null}
                burnt={answer?.tank_empty ?? null}
                incidents={model.incidents}
              />
            ) : null}
            {tab === "Weigh" ? <WeighTab modelId={model.id} answer={answer} /> : null}
            {tab === "Move" ? <MoveTab modelId={model.id} answer={answer} /> : null}
            {tab === "Check" && answer ? <CheckTab answer={answer} /> : null}
          </div>
        </aside>
        {answer ? (
          <div className="xl:col-span-2">
            <DrawingTable origins={answer.origins} />
          </div>
        ) : null}
        {answer ? (
          <section className="xl:col-span-2">
            <h2 className="mb-1 text-lg">What the next flight would show</h2>
            <div className="grid gap-x-6 md:grid-cols-2">
              {answer.tendencies.map((t) => (
                <Predicted key={t.key} tendency={t} />
              ))}
            </div>
          </section>
        ) : null}
      </div>
    </EditingProvider>
  );
}

const NONE: Said[] = [];

const Predicted = memo(function Predicted({ tendency }: { tendency: Tendency }) {
  return <Rail name={tendency.name} marks={[{ tendency, kind: "predicted" }]} />;
});

const sizeOf = ({ width, height }: Underlay) => ({ width, height });

const isDoubt = (said: Said) => said.code === "reason";

interface SentencesProps {
  answer: NonNullable<ReturnType<typeof useBench>["data"]>["answer"];
  /** Whether what is out of reason is said here: where it is typed it stands there. */
  doubts: boolean;
}

function Sentences({ answer, doubts }: SentencesProps) {
  return (
    <ul className="mt-2 space-y-1 text-sm">
      <li className="font-semibold text-accent">{answer.fingers.words}</li>
      <li>{answer.thumb}</li>
      {[answer.disagreement, answer.maiden.published].map((said) =>
        said ? (
          <li key={said.code} className={said.severity === "warning" ? "font-semibold text-accent" : ""}>
            {said.words}
          </li>
        ) : null,
      )}
      {answer.caveats
        .filter((c) => doubts || !isDoubt(c))
        .map((c) => (
          <li key={c.code + c.words} className="font-semibold text-accent">
            {c.words}
          </li>
        ))}
    </ul>
  );
}
