import { useEffect, useState } from "react";
import type { Airframe, WalkStep } from "../../../api/client";
import { aReading, aRecord } from "../../../api/records";
import { ProblemNote } from "../../../components/ui/feedback";
import { DirectionView } from "../../../drawing/controls/DirectionView";
import { useLogGroundCard } from "../../../queries/sorties";
import { useEditing } from "../editing";
import { useDesk } from "./desk";

type Answer = "yes" | "no";
const PARTS = {
  elevator: ["nose_up", "nose_down"],
  aileron: ["roll_left", "roll_right"],
  rudder: ["yaw_left", "yaw_right"],
};

/** The direction check: one picture from behind after the other; the model is only right when every one was. */
export function DirectionsBoard() {
  const { modelId, answer } = useDesk();
  const { setup, readOnly } = useEditing();
  const [answers, setAnswers] = useState<Record<string, Answer>>({});
  const [at, setAt] = useState(0);
  const log = useLogGroundCard(modelId);
  const steps = answer.walk;
  const step = steps[at];
  const wrong = steps.filter((s) => answers[s.key] === "no");
  if (!step)
    return (
      <WalkEnd
        steps={steps}
        wrong={wrong}
        busy={log.isPending}
        logged={log.isSuccess}
        error={log.error}
        readOnly={readOnly}
        onAgain={() => {
          setAnswers({});
          setAt(0);
          log.reset();
        }}
        onLog={() =>
          log.mutate(
            aRecord({
              card_id: "B4",
              outcome: wrong.length === 0 ? "passed" : "failed",
              // Only of what the model has: the card asks for no other.
              readings: Object.entries(PARTS)
                .filter(([, parts]) => steps.some((s) => parts.includes(s.key)))
                .map(([key, parts]) =>
                  aReading({ key, choice: parts.some((p) => answers[p] === "no") ? "no" : "yes" }),
                ),
              confidence: "sure",
              note: wrong.map((s) => `${s.title}: went the other way.`).join(" "),
            }),
          )
        }
      />
    );
  return (
    <WalkStepView
      step={step}
      at={at}
      count={steps.length}
      airframe={setup.airframe}
      onSay={(a) => {
        setAnswers({ ...answers, [step.key]: a });
        setAt(at + 1);
      }}
      onBack={() => setAt(at - 1)}
    />
  );
}

interface StepProps {
  step: WalkStep;
  at: number;
  count: number;
  airframe: Airframe;
  onSay: (answer: Answer) => void;
  onBack: () => void;
}

/** One direction: stick, picture from behind, question. Keys y and n answer, b goes one back. */
function WalkStepView({ step, at, count, airframe, onSay, onBack }: StepProps) {
  useEffect(() => {
    function onKey(e: KeyboardEvent): void {
      if (e.ctrlKey || e.metaKey || e.altKey || /^(INPUT|SELECT|TEXTAREA)$/.test((e.target as HTMLElement).tagName))
        return;
      if (e.key === "y") onSay("yes");
      if (e.key === "n") onSay("no");
      if (e.key === "b" && at > 0) onBack();
    }
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [at, onSay, onBack]);
  return (
    <section aria-label="Direction check" data-testid="walk">
      <p className="text-sm font-semibold text-accent">Propeller off. Stand behind the model, radio in hand.</p>
      <div className="mt-1 flex items-baseline justify-between gap-2">
        <h2 className="text-2xl font-bold">{step.title}</h2>
        <span className="label-small shrink-0">
          {at + 1} of {count}
        </span>
      </div>
      <p className="text-xl">{step.stick[0]?.toUpperCase() + step.stick.slice(1)}. Hold it.</p>
      <div className="sheet my-2 p-2 xl:max-w-xl">
        <DirectionView airframe={airframe} moves={step.moves} />
      </div>
      <p className="text-xl font-semibold">{step.surface[0]?.toUpperCase() + step.surface.slice(1)}?</p>
      <p>The model would go: {step.model}.</p>
      <div className="mt-3 grid grid-cols-2 gap-2">
        <button type="button" className="field-choice" onClick={() => onSay("yes")}>
          Yes, as drawn
        </button>
        <button type="button" className="field-choice" onClick={() => onSay("no")}>
          No, the other way
        </button>
      </div>
      <button type="button" className="btn btn-ghost mt-2 min-h-12" disabled={at === 0} onClick={onBack}>
        One back
      </button>
    </section>
  );
}

interface EndProps {
  steps: readonly WalkStep[];
  wrong: readonly WalkStep[];
  busy: boolean;
  logged: boolean;
  error: unknown;
  readOnly: boolean;
  onAgain: () => void;
  onLog: () => void;
}

function WalkEnd({ steps, wrong, busy, logged, error, readOnly, onAgain, onLog }: EndProps) {
  return (
    <section aria-label="Direction check, result">
      {wrong.length === 0 ? (
        <h2 className="text-2xl font-bold">All {steps.length} directions are right.</h2>
      ) : (
        <>
          <h2 className="text-2xl font-bold text-accent">Do not fly: {wrong.length} wrong.</h2>
          <ul className="my-2 list-disc pl-5 text-lg">
            {wrong.map((s) => (
              <li key={s.key}>
                <span className="font-semibold">{s.title}</span> went the other way. {s.if_wrong}
              </li>
            ))}
          </ul>
        </>
      )}
      <div className="mt-2 flex flex-wrap gap-2">
        <button type="button" className="btn min-h-14 text-lg" onClick={onAgain}>
          Walk it again
        </button>
        <button
          type="button"
          className="btn btn-accent min-h-14 text-lg"
          disabled={busy || logged || readOnly}
          onClick={onLog}
        >
          {logged ? "Logged as B4" : wrong.length === 0 ? "Log B4 as passed" : "Log B4 as failed"}
        </button>
      </div>
      {error ? <ProblemNote error={error} /> : null}
    </section>
  );
}

/** Every direction at a glance: stick, surface, model and trim lever for this pilot's radio. */
export function DirectionsFields() {
  const { answer } = useDesk();
  return (
    <ul className="space-y-2" data-testid="direction-table">
      {answer.walk.map((s) => (
        <li key={s.key} className="border-b border-base-300 pb-1">
          <p className="font-semibold">{s.title}</p>
          <p className="text-sm">Stick: {s.stick}</p>
          <p className="text-sm">Surfaces from behind: {s.surface}</p>
          <p className="text-sm">Model: {s.model}</p>
          {s.trim_lever ? <p className="text-sm">Trim: {s.trim_lever}</p> : null}
        </li>
      ))}
    </ul>
  );
}
