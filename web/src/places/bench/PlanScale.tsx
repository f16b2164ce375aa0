import { useState } from "react";
import { parse } from "../../domain/units";
import { Choice } from "./editing";

const COMMON = [
  ["1", "on the model itself"],
  ["2", "on a plan, 1 : 2"],
  ["3", "on a plan, 1 : 3"],
  ["4", "on a plan, 1 : 4"],
  ["5", "on a plan, 1 : 5"],
  ["own", "on a plan of another scale"],
] as const;
type Key = (typeof COMMON)[number][0];

/** How many millimetres on the model one on the plan stands for; kept per model on this device. */
export function usePlanScale(modelId: string): [number, (plan: number) => void] {
  const key = `plan-scale-${modelId}`;
  const [plan, setPlan] = useState(() => Number(localStorage.getItem(key)) || 1);
  return [
    plan,
    (next) => {
      localStorage.setItem(key, String(next));
      setPlan(next);
    },
  ];
}

/** Where the lengths below are measured: on the model, or on a plan that is smaller. */
export function PlanScale({ plan, onPlan }: { plan: number; onPlan: (plan: number) => void }) {
  const known = COMMON.some(([k]) => k === String(plan)) ? (String(plan) as Key) : "own";
  const [own, setOwn] = useState(known === "own");
  const [text, setText] = useState(String(plan));
  const [error, setError] = useState("");
  const take = () => {
    // A bare number, with a decimal point or comma: minutes have no other unit.
    const parsed = parse(text.replace(/^1\s*:\s*/, ""), "minutes", "min");
    if (!parsed.ok || !(parsed.si > 0.05 && parsed.si < 200))
      setError("Write how many millimetres on the model one on the plan is, 0.05 to 200.");
    else {
      setError("");
      onPlan(parsed.si);
    }
  };
  return (
    <div className="mb-2 border-b border-base-300 pb-2">
      <Choice
        label="Lengths are measured"
        value={own ? "own" : known}
        options={COMMON}
        onChoose={(key) => {
          setOwn(key === "own");
          if (key !== "own") onPlan(Number(key));
        }}
      />
      {own ? (
        <label className="flex items-center justify-between gap-2 py-1">
          1 mm on the plan is, in mm
          <input
            className="input input-sm w-24 text-right text-base"
            value={text}
            aria-invalid={error !== ""}
            onChange={(e) => setText(e.target.value)}
            onBlur={take}
            onKeyDown={(e) => e.key === "Enter" && take()}
          />
        </label>
      ) : null}
      {error ? (
        <p role="alert" className="text-right text-sm font-semibold text-error">
          {error}
        </p>
      ) : null}
    </div>
  );
}
