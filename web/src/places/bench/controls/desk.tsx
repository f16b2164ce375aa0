import { createContext, type ReactNode, useContext, useRef, useState } from "react";
import type { ControlSetup, ControlsAnswer, ControlsView, Fitting, Said, Whole } from "../../../api/client";
import { QuantityField } from "../../../components/quantity/QuantityField";
import { ProblemNote } from "../../../components/ui/feedback";
import type { Quantity } from "../../../domain/units";
import { useEdit } from "../editing";

export const SECTIONS = [
  "Linkage",
  "Throws",
  "Mixes",
  "Trim",
  "Directions",
  "Radio",
  "Shims",
  "Stabiliser",
  "Sheet",
] as const;
export type Section = (typeof SECTIONS)[number];

interface Desk {
  modelId: string;
  revision: number;
  view: Whole<ControlsView>;
  /** The surface that is looked at, and how to choose another. */
  role: string;
  choose: (role: string) => void;
}

const Context = createContext<Desk | null>(null);
export const DeskProvider = Context.Provider;

/** What the controls desk shows; must be used below its provider. */
export function useDesk(): Desk & { answer: ControlsAnswer; setup: ControlSetup; fitting: Fitting } {
  const desk = useContext(Context);
  if (!desk) throw new Error("useDesk is used outside the controls desk");
  const { setup } = desk.view.answer;
  const fitting = setup.fittings.find((f) => f.role === desk.role) ?? setup.fittings[0];
  if (!fitting) throw new Error("a control set-up without surfaces");
  return { ...desk, answer: desk.view.answer, setup, fitting };
}

/** Turns a control set-up into the next one. */
export type SetupChange = (setup: ControlSetup) => ControlSetup;

/** Save a change of the control set-up; on a model that has none yet, of the one it starts from. */
export function usePut(): (change: SetupChange, words: string) => Promise<unknown> {
  const { edit } = useEdit();
  const { view } = useDesk();
  return (change, words) =>
    edit(
      (s) => ({ ...s, controls: change((s.controls as ControlSetup | null | undefined) ?? view.answer.setup) }),
      words,
    );
}

/** Replace one fitting by its role. */
export function withFitting(role: string, change: (f: Fitting) => Fitting): SetupChange {
  return (s) => ({ ...s, fittings: s.fittings.map((f) => (f.role === role ? change(f) : f)) });
}

interface NumberProps {
  label: string;
  quantity: Quantity;
  value: number | null;
  change: (value: number) => SetupChange;
  words: string;
  hint?: string;
  extraDigits?: number;
}

/** One number of the control set-up, saved on Enter, refused at the field. */
export function SetupNumber({ change, words, ...field }: NumberProps) {
  const { readOnly } = useEdit();
  const put = usePut();
  return <QuantityField {...field} disabled={readOnly} onCommit={(v) => put(change(v), words)} />;
}

interface WayFieldProps {
  label: string;
  quantity: Quantity;
  extraDigits?: number;
  ways: readonly [positive: string, negative: string];
  value: number | null;
  disabled: boolean;
  onCommit: (signed: number) => Promise<unknown>;
}

/**
 * A number whose direction is a word: its size in a field, its way in a choice beside it. Never a sign.
 * What has been chosen shows at once and goes with a size that is still on its way: a quick hand loses nothing.
 */
export function WayField({ ways, value, disabled, onCommit, ...field }: WayFieldProps) {
  const [chosen, setChosen] = useState<boolean | null>(null);
  const [problem, setProblem] = useState<unknown>(null);
  const underWay = useRef<{ size: number } | null>(null);
  const size = value === null ? null : Math.abs(value);
  const back = chosen ?? (value ?? 0) < 0;
  const send = async (next: number, turned: boolean) => {
    const mine = { size: next };
    underWay.current = mine;
    setProblem(null);
    let kept = false;
    try {
      await onCommit(turned ? -next : next);
      kept = true;
    } finally {
      if (underWay.current === mine) {
        underWay.current = null;
        if (kept) setChosen(null);
      }
    }
  };
  const turn = async (turned: boolean) => {
    setChosen(turned);
    const turning = underWay.current?.size ?? size;
    if (!turning) return;
    try {
      await send(turning, turned);
    } catch (error) {
      setProblem(error);
      setChosen(null);
    }
  };
  return (
    <div>
      <div className="flex items-center gap-1">
        <div className="min-w-0 flex-1">
          <QuantityField {...field} value={size} disabled={disabled} onCommit={(v) => send(Math.abs(v), back)} />
        </div>
        <select
          className="select select-sm w-41 shrink-0 text-base"
          aria-label={`way of ${field.label}`}
          value={back ? ways[1] : ways[0]}
          disabled={disabled}
          onChange={(e) => void turn(e.target.value === ways[1])}
        >
          {ways.map((w) => (
            <option key={w}>{w}</option>
          ))}
        </select>
      </div>
      {problem ? <ProblemNote error={problem} /> : null}
    </div>
  );
}

/** One directed number of the control set-up. */
export function WayNumber({
  change,
  words,
  ...field
}: NumberProps & { ways: readonly [positive: string, negative: string] }) {
  const { readOnly } = useEdit();
  const put = usePut();
  return <WayField {...field} disabled={readOnly} onCommit={(v) => put(change(v), words)} />;
}

/** What is wrong, the worst first; what stops a flight stands out and says so. */
export function Findings({ findings, none }: { findings: readonly Said[]; none?: string }) {
  if (findings.length === 0) return none ? <p className="my-1">{none}</p> : null;
  return (
    <ul className="my-2 space-y-1" data-testid="findings">
      {findings.map((f) => (
        <li
          key={f.code + f.words}
          className={`border-l-4 pl-2 ${f.severity === "stop" ? "border-l-accent font-semibold text-accent" : "border-l-base-300"}`}
          data-finding={f.code}
        >
          {f.severity === "stop" ? "Do not fly: " : ""}
          {f.words}
        </li>
      ))}
    </ul>
  );
}

/** A figure with its label below, as in a table of a drawing. */
export function Figure({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="min-w-24 px-2">
      <div className="text-lg font-semibold whitespace-nowrap">{children}</div>
      <div className="label-small">{label}</div>
    </div>
  );
}
