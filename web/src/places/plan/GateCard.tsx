import { useState } from "react";
import type { Card, CardRecord, PlannedCard } from "../../api/client";
import { aReading, aRecord } from "../../api/records";

interface Props {
  card: Card;
  planned: PlannedCard;
  busy: boolean;
  onLog: (record: CardRecord) => void;
}

const CLOSED = new Set(["done"]);

/** A bench or ground card as a gate: open or closed, with what to do, the cautions first. */
export function GateCard({ card, planned, busy, onLog }: Props) {
  const [answers, setAnswers] = useState<Record<string, string>>({});
  const questions = card.captures.filter((c) => c.kind === "yes_no");
  const closed = CLOSED.has(planned.state);
  const complete = questions.every((q) => answers[q.key] !== undefined);
  const allYes = questions.every((q) => answers[q.key] === "yes");
  const done = (outcome: "passed" | "failed", given: Record<string, string>) =>
    onLog(
      aRecord({
        card_id: card.id,
        outcome,
        readings: Object.entries(given).map(([key, choice]) => aReading({ key, choice })),
      }),
    );
  return (
    <details className="border-b border-base-300 py-1.5" data-gate={card.id} data-state={planned.state}>
      <summary className="flex items-baseline gap-2">
        <span
          aria-hidden="true"
          className={`inline-block h-3 w-3 shrink-0 border-2 border-base-content ${closed ? "bg-base-content" : ""}`}
        />
        <span className="w-8 shrink-0 font-semibold">{card.id}</span>
        <span className="flex-1">{card.title}</span>
        <span className={`text-sm ${closed ? "" : "font-semibold text-accent"}`}>
          {closed ? "closed" : planned.state === "stale" ? "stale" : planned.state === "failed" ? "failed" : "open"}
        </span>
      </summary>
      <div className="pt-1 pl-5 text-sm">
        {card.cautions.map((c) => (
          <p key={c} className="font-semibold text-accent">
            {c}
          </p>
        ))}
        <ol className="my-1 list-decimal pl-5">
          {card.steps.map((s) => (
            <li key={s}>{s}</li>
          ))}
        </ol>
        {card.abort_when ? <p className="my-1 font-semibold">{card.abort_when}</p> : null}
        {questions.map((q) => (
          <div key={q.key} className="flex items-center justify-between gap-2 py-0.5">
            <span>{q.label}</span>
            <span className="join">
              {["yes", "no"].map((v) => (
                <button
                  key={v}
                  type="button"
                  className={`btn join-item btn-sm ${answers[q.key] === v ? "btn-primary" : ""}`}
                  aria-pressed={answers[q.key] === v}
                  onClick={() => setAnswers((a) => ({ ...a, [q.key]: v }))}
                >
                  {v}
                </button>
              ))}
            </span>
          </div>
        ))}
        <button
          type="button"
          className="btn btn-sm mt-1"
          disabled={!complete || busy}
          onClick={() => done(allYes ? "passed" : "failed", answers)}
        >
          {complete && !allYes ? "Log as failed" : "Log as passed"}
        </button>
        {planned.reason ? <p className="label-small mt-1">{planned.reason}</p> : null}
      </div>
    </details>
  );
}
