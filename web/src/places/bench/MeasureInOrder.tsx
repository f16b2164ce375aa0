import { useEffect, useRef, useState } from "react";
import { type MeasuringStep, ProblemError } from "../../api/client";
import { QuantityField } from "../../components/quantity/QuantityField";
import { SpeakButton } from "../../components/SpeakButton";
import { useSettings } from "../../components/settings-context";
import { Loading, ProblemNote } from "../../components/ui/feedback";
import { parse, type Quantity } from "../../domain/units";
import { useMeasuringSteps } from "../../queries/measures";
import { readOn, useEditing } from "./editing";
import { type MeasureOrigin, OriginMark } from "./OriginMark";
import { valueAt } from "./path";

interface Props {
  /** The measure that is taken now, by its key; "in-order" begins at the first that is still a guess. */
  at: string;
  onAt: (key: string) => void;
  onDone: () => void;
}

const keyOf = (step: MeasuringStep) => step.path.join(".");

/** One measure at a time, in the order of a model lying on a table or any other, each lit up on the drawing. */
export function MeasureInOrder({ at, onAt, onDone }: Props) {
  const { setup, doubts, onFocus } = useEditing();
  const steps = useMeasuringSteps(setup.airframe);
  const guessed = setup.guessed ?? [];
  const all = steps.data ?? [];
  const known = all.findIndex((s) => keyOf(s) === at);
  const firstGuess = all.findIndex((s) => guessed.includes(keyOf(s)));
  const index = known === -1 ? Math.max(firstGuess, 0) : known;
  const step = all[index];
  const inDoubt = all.filter((s) => doubts.some((said) => said.about.includes(keyOf(s)))).length;
  // Begun where it was left: at the first that is still a guess. It stands in the address from then on.
  useEffect(() => {
    if (step && known === -1) onAt(keyOf(step));
  }, [step, known, onAt]);
  useEffect(() => {
    if (step) onFocus(step.focus);
  }, [step, onFocus]);
  const stop = () => {
    onFocus(null);
    onDone();
  };
  if (steps.error) return <ProblemNote error={steps.error} />;
  if (!steps.data || !step) return <Loading words="Looking what there is to measure…" />;
  const last = index === all.length - 1;
  const goTo = (to: number) => {
    const next = all[to];
    if (next) onAt(keyOf(next));
  };
  const goOn = () => (last ? stop() : goTo(index + 1));
  return (
    <section className="sheet mb-2 p-3" aria-label="Measure in order">
      <p className="label-small flex justify-between gap-2">
        <span>
          Step {index + 1} of {all.length}, {step.part}
        </span>
        <span>
          {inDoubt > 0 ? <span className="font-semibold text-accent">{inDoubt} in doubt, </span> : null}
          {all.length - guessed.length} of {all.length} measured
        </span>
      </p>
      <progress
        className="progress w-full"
        value={all.length - guessed.length}
        max={all.length}
        aria-label="measured so far"
      />
      <p className="my-1 text-lg font-semibold" aria-live="polite">
        {step.words}
      </p>
      <OneMeasure key={keyOf(step)} step={step} onOn={goOn} />
      <div className="mt-2 flex justify-between gap-2">
        <button type="button" className="btn min-h-11" disabled={index === 0} onClick={() => goTo(index - 1)}>
          Back
        </button>
        <button type="button" className="btn btn-ghost min-h-11" onClick={stop}>
          Stop measuring
        </button>
        <button type="button" className="btn btn-accent min-h-11" onClick={goOn}>
          {last ? "Finished" : "Next"}
        </button>
      </div>
      <label className="mt-2 flex items-center gap-2">
        <span className="label-small">Go to</span>
        <select
          className="select min-h-11 min-w-0 flex-1 text-ellipsis pe-8 text-base"
          value={index}
          onChange={(e) => goTo(Number(e.target.value))}
        >
          {all.map((s, i) => (
            <option key={keyOf(s)} value={i}>
              {i + 1} {s.part}: {s.label}
              {guessed.includes(keyOf(s)) ? " (guessed)" : ""}
            </option>
          ))}
        </select>
      </label>
    </section>
  );
}

/** What is read next: the measure itself, one more reading of it, or its left half. */
type Mode = "value" | "again" | "left";

/** Measures of a half that is there twice. */
const sided = ({ path }: MeasuringStep) =>
  (path[2] === "sections" &&
    Number(path[3]) > 0 &&
    ["y_m", "x_offset_m", "chord_m", "z_offset_m"].includes(String(path[4]))) ||
  path[1] === "main_y_m";

function OneMeasure({ step, onOn }: { step: MeasuringStep; onOn: () => void }) {
  const { setup, plan, origins, doubts, take } = useEditing();
  const { unit, show } = useSettings();
  const [mode, setMode] = useState<Mode>("value");
  const [heard, setHeard] = useState("");
  const box = useRef<HTMLDivElement>(null);
  const taken = useRef(false);
  const key = keyOf(step);
  const quantity: Quantity = step.quantity === "angle" ? "angle" : "length";
  const sign = step.negated ? -1 : 1;
  const scale = quantity === "length" ? plan : 1;
  const shown = shownValue(step, setup.airframe);
  const doubted = doubts.find((said) => said.about.includes(key));
  const isGuess = (setup.guessed ?? []).includes(key);
  const origin = origins?.measures.find((m) => m.key === key);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the field is another one in another mode
  useEffect(() => box.current?.querySelector("input")?.focus(), [mode]);
  const keep = async (typed: number, as: Mode = mode) => {
    const value = sign * typed * scale;
    await take({ key, value, left: as === "left", again: as !== "value", read: readOn(scale) });
    taken.current = true;
    setHeard("");
  };
  // Enter takes the entry and goes on; a further reading stays until Enter is pressed on nothing.
  const entered = () => {
    if (mode === "value" || !taken.current) onOn();
    taken.current = false;
  };
  const listen = (text: string) => {
    const parsed = parse(text, quantity, unit(quantity));
    if (!parsed.ok) setHeard(`Heard “${text}”. ${parsed.reason}`);
    else
      void keep(parsed.si).then(
        () => setHeard(`Heard ${show(parsed.si, quantity)}: kept.`),
        (e) => setHeard(e instanceof ProblemError ? e.problem.title : "This could not be saved: type it."),
      );
  };
  const hint = scale !== 1 && shown !== null ? `on the plan; ${show(shown, "length")} on the model` : undefined;
  return (
    <>
      <div ref={box} data-fields>
        <QuantityField
          key={`${mode}${origin?.count ?? 0}`}
          label={mode === "left" ? `${step.label}, left half` : step.label}
          quantity={quantity}
          hint={hint}
          value={mode === "value" && shown !== null && !doubted ? (sign * shown) / scale + 0 : null}
          onCommit={(typed) => keep(typed)}
          onEntered={entered}
        />
      </div>
      <SpeakButton what="the measure" onText={listen} />
      {heard ? (
        <p role="status" className="text-sm font-semibold">
          {heard}
        </p>
      ) : null}
      <Known origin={origin} isGuess={isGuess} onSo={() => void keep((sign * (shown ?? 0)) / scale + 0, "value")} />
      <div className="mt-1 flex flex-wrap gap-2">
        {isGuess ? null : (
          <Toggle
            words="Read it again"
            on={mode === "again"}
            onTap={() => setMode(mode === "again" ? "value" : "again")}
          />
        )}
        {sided(step) ? (
          <Toggle words="Left half" on={mode === "left"} onTap={() => setMode(mode === "left" ? "value" : "left")} />
        ) : null}
      </div>
      {doubted && mode === "value" ? (
        <p className="mt-1">It is in doubt: the same read once more is believed, another reading takes its place.</p>
      ) : null}
      {mode !== "value" ? (
        <p className="mt-1 text-sm">
          {mode === "left"
            ? "Read the left half; what is kept is the mean of both."
            : "Each reading counts; what is kept is their mean."}{" "}
          Enter on an empty field goes on.
        </p>
      ) : null}
    </>
  );
}

function Toggle({ words, on, onTap }: { words: string; on: boolean; onTap: () => void }) {
  return (
    <button type="button" className={`btn min-h-11 ${on ? "btn-primary" : ""}`} aria-pressed={on} onClick={onTap}>
      {words}
    </button>
  );
}

function Known({ origin, isGuess, onSo }: { origin: MeasureOrigin | undefined; isGuess: boolean; onSo: () => void }) {
  if (!isGuess) return origin ? <p className="mt-1 text-sm">{<OriginMark origin={origin} />}</p> : null;
  return (
    <p className="mt-1 flex items-center justify-between gap-2">
      <span className="font-semibold text-accent">Guessed by the silhouette.</span>
      <button type="button" className="btn min-h-11" onClick={onSo}>
        Measured: it is so
      </button>
    </p>
  );
}

/** What stands there [m or rad]; the left half counts as the right one until it is measured itself. */
function shownValue(step: MeasuringStep, airframe: Parameters<typeof valueAt>[0]): number | null {
  const value = valueAt(airframe, step.path);
  if (value !== null) return value;
  const alike = step.path.map((p) => (p === "left_twist_rad" ? "twist_rad" : p));
  return alike.includes("twist_rad") ? valueAt(airframe, alike) : null;
}
