import { useCallback, useEffect, useState } from "react";
import type { Configuration } from "../../api/client";
import { useTheModel } from "../../components/model-context";
import { ReasonNumber } from "../../components/quantity/ReasonNumber";
import { Rail } from "../../components/Rail";
import { ProblemNote } from "../../components/ui/feedback";
import { BenchDrawing } from "../../drawing/BenchDrawing";
import { useBench, useSaveSetup, useUndo } from "../../queries/models";
import { AirframeTab } from "./AirframeTab";
import { CheckTab } from "./CheckTab";
import { ControlsTab } from "./ControlsTab";
import { ItemsTab } from "./ItemsTab";
import { WeighTab } from "./WeighTab";

const TABS = ["Airframe", "Items", "Weigh", "Controls", "Check"] as const;
const FOOT = ["mass", "wing_loading", "stall_speed", "neutral_point", "balance", "static_margin", "risk"];

export interface TabProps {
  setup: Configuration;
  readOnly: boolean;
  /** Save a changed setup; rejects with a ProblemError whose words belong at the field. */
  save: (setup: Configuration, words: string) => Promise<unknown>;
  onFocus: (what: string | null) => void;
}

/** The bench: a live scale drawing, the measuring list beside it, every number with its reason at the foot. */
export default function BenchPage() {
  const model = useTheModel();
  const [tab, setTab] = useState<(typeof TABS)[number]>("Airframe");
  const [draft, setDraft] = useState<Configuration | null>(null);
  const [focus, setFocus] = useState<string | null>(null);
  const bench = useBench(model.id, draft);
  const saving = useSaveSetup(model.id);
  const undo = useUndo(model.id);
  const setup = draft ?? model.setup;

  const save = useCallback(
    (next: Configuration, words: string) => saving.mutateAsync({ base_revision: model.revision, setup: next, words }),
    [saving.mutateAsync, model.revision],
  );

  const dragBattery = (x_m: number) => {
    const heaviest = setup.items
      .filter((i) => i.kind === "battery" && i.bay_m)
      .sort((a, b) => b.mass_kg - a.mass_kg)[0];
    setDraft({ ...setup, items: setup.items.map((i) => (i.key === heaviest?.key ? { ...i, x_m } : i)) });
  };
  const dropBattery = () => {
    if (draft)
      void save(draft, "battery moved on the drawing").then(
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

  const answer = bench.data?.answer;
  const props: TabProps = { setup, readOnly: model.read_only, save, onFocus: setFocus };
  return (
    <div className="grid gap-3 xl:grid-cols-[1.75fr_1fr]">
      <div className="min-w-0">
        <h1 className="sr-only">Bench</h1>
        <div className="sheet px-1">
          <BenchDrawing
            setup={setup}
            answer={answer}
            stale={bench.isPlaceholderData}
            ghosts={bench.data?.flown_battery_x_m ?? []}
            focus={focus}
            readOnly={model.read_only}
            onDragBattery={dragBattery}
            onDropBattery={dropBattery}
          />
        </div>
        {bench.error ? <ProblemNote error={bench.error} onRetry={() => void bench.refetch()} /> : null}
        {saving.error ? <ProblemNote error={saving.error} onRetry={draft ? dropBattery : undefined} /> : null}
        <div className="mt-2 flex flex-wrap gap-1.5" data-testid="bench-numbers">
          {answer?.numbers
            .filter((n) => FOOT.includes(n.key))
            .map((n) => (
              <ReasonNumber key={n.key} number={n} />
            ))}
        </div>
        {answer ? <Sentences answer={answer} /> : null}
      </div>
      <aside className="min-w-0">
        <div className="mb-2 flex items-center justify-between gap-1">
          <div role="tablist" className="tabs tabs-border flex-1 flex-nowrap">
            {TABS.map((t) => (
              <button
                key={t}
                type="button"
                role="tab"
                aria-selected={t === tab}
                className={`tab px-2 text-base ${t === tab ? "tab-active font-bold" : ""}`}
                onClick={() => setTab(t)}
              >
                {t}
              </button>
            ))}
          </div>
          <span className="flex">
            <button
              type="button"
              className="btn btn-ghost btn-sm px-2"
              disabled={!model.can_undo || undo.isPending}
              onClick={() => undo.mutate("undo")}
            >
              Undo
            </button>
            <button
              type="button"
              className="btn btn-ghost btn-sm px-2"
              disabled={!model.can_redo || undo.isPending}
              onClick={() => undo.mutate("redo")}
            >
              Redo
            </button>
          </span>
        </div>
        {model.read_only ? (
          <p className="sheet mb-2 p-2 text-sm">
            Read-only: this kind of airframe can be looked at, not yet worked on.
          </p>
        ) : null}
        <div className="max-h-[70dvh] overflow-y-auto pr-1" data-fields>
          {tab === "Airframe" ? <AirframeTab {...props} modelId={model.id} revision={model.revision} /> : null}
          {tab === "Items" ? <ItemsTab {...props} /> : null}
          {tab === "Weigh" ? <WeighTab {...props} answer={answer} /> : null}
          {tab === "Controls" ? <ControlsTab {...props} /> : null}
          {tab === "Check" && answer ? <CheckTab {...props} answer={answer} /> : null}
        </div>
      </aside>
      {answer ? (
        <section className="xl:col-span-2">
          <h2 className="mb-1 text-lg">What the next flight would show</h2>
          <div className="grid gap-x-6 md:grid-cols-2">
            {answer.tendencies.map((t) => (
              <Rail key={t.key} name={t.name} marks={[{ tendency: t, kind: "predicted" }]} />
            ))}
          </div>
        </section>
      ) : null}
    </div>
  );
}

function Sentences({ answer }: { answer: NonNullable<ReturnType<typeof useBench>["data"]>["answer"] }) {
  return (
    <ul className="mt-2 space-y-1 text-sm">
      <li className="font-semibold text-accent">{answer.fingers.words}</li>
      <li>{answer.thumb}</li>
      {answer.disagreement_words ? (
        <li className={answer.disagreement_words.startsWith("Jig and") ? "" : "font-semibold text-accent"}>
          {answer.disagreement_words}
        </li>
      ) : null}
      {answer.maiden.published_words ? (
        <li className={(answer.maiden.published_sigmas ?? 0) > 0.25 ? "font-semibold text-accent" : ""}>
          {answer.maiden.published_words}
        </li>
      ) : null}
      {answer.caveats.map((c) => (
        <li key={c.code} className="font-semibold text-accent">
          {c.words}
        </li>
      ))}
    </ul>
  );
}
