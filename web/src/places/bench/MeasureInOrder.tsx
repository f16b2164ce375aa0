import { useEffect, useRef, useState } from "react";
import type { Airframe, MeasuringStep } from "../../api/client";
import { Loading, ProblemNote } from "../../components/ui/feedback";
import { useMeasuringSteps } from "../../queries/measures";
import { Measure, useEditing } from "./editing";
import { valueAt, withValueAt } from "./path";

/** One measure at a time, in the order of a model lying on a table, each lit up on the drawing. */
export function MeasureInOrder({ onDone }: { onDone: () => void }) {
  const { setup, edit, onFocus } = useEditing();
  const steps = useMeasuringSteps(setup.airframe);
  const [chosen, setAt] = useState<number | null>(null);
  const firstGuess = steps.data?.findIndex((s) => setup.guessed?.includes(s.path.join("."))) ?? -1;
  // Begun where it was left: at the first that is still a guess.
  useEffect(() => {
    if (steps.data) setAt((now) => now ?? Math.max(firstGuess, 0));
  }, [steps.data, firstGuess]);
  const at = chosen ?? 0;
  const box = useRef<HTMLDivElement>(null);
  const step = steps.data?.[at];
  useEffect(() => {
    if (!step) return;
    onFocus(step.focus);
    box.current?.querySelector("input")?.focus();
  }, [step, onFocus]);
  const stop = () => {
    onFocus(null);
    onDone();
  };
  if (steps.error) return <ProblemNote error={steps.error} />;
  if (!steps.data || !step) return <Loading words="Looking what there is to measure…" />;
  const count = steps.data.length;
  const key = step.path.join(".");
  const guessed = setup.guessed ?? [];
  const isGuess = guessed.includes(key);
  const confirm = () =>
    void edit((s) => ({ ...s, guessed: (s.guessed ?? []).filter((g) => g !== key) }), `${step.part} measured`);
  const last = at === count - 1;
  const goOn = () => (last ? stop() : setAt(at + 1));
  return (
    <section className="sheet mb-2 p-3" aria-label="Measure in order">
      <p className="label-small flex justify-between gap-2">
        <span>
          Step {at + 1} of {count}, {step.part}
        </span>
        <span>
          {count - guessed.length} of {count} measured
        </span>
      </p>
      <progress className="progress w-full" value={at + 1} max={count} aria-label="steps done" />
      <p className="my-1 text-lg font-semibold" aria-live="polite">
        {step.words}
      </p>
      {/* Enter takes the entry and goes on to the next step; a guess that is only passed over stays one. */}
      <div ref={box} data-fields>
        <StepField key={step.path.join(".")} step={step} airframe={setup.airframe} onEntered={goOn} />
      </div>
      {isGuess ? (
        <p className="mt-1 flex items-center justify-between gap-2">
          <span className="font-semibold text-accent">Guessed by the silhouette.</span>
          <button type="button" className="btn min-h-11" onClick={confirm}>
            Measured: it is so
          </button>
        </p>
      ) : null}
      <div className="mt-2 flex justify-between gap-2">
        <button type="button" className="btn min-h-11" disabled={at === 0} onClick={() => setAt(at - 1)}>
          Back
        </button>
        <button type="button" className="btn btn-ghost min-h-11" onClick={stop}>
          Stop measuring
        </button>
        <button type="button" className="btn btn-accent min-h-11" onClick={goOn}>
          {last ? "Finished" : "Next"}
        </button>
      </div>
    </section>
  );
}

function StepField({ step, airframe, onEntered }: { step: MeasuringStep; airframe: Airframe; onEntered: () => void }) {
  const sign = step.negated ? -1 : 1;
  const value = valueAt(airframe, step.path);
  // The left half counts as the right one until it is measured itself.
  const alike = step.path.map((p) => (p === "left_twist_rad" ? "twist_rad" : p));
  const shown = value ?? (alike.includes("twist_rad") ? valueAt(airframe, alike) : null);
  return (
    <Measure
      label={step.label}
      quantity={step.quantity === "angle" ? "angle" : "length"}
      value={shown === null ? null : sign * shown + 0}
      focus={step.focus}
      words={`${step.part} measured`}
      onEntered={onEntered}
      change={(s, v) => ({ ...s, airframe: withValueAt(s.airframe, step.path, sign * v) })}
    />
  );
}
