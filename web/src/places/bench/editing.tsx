import { createContext, type ReactNode, useContext, useMemo } from "react";
import type { BenchAnswer, Configuration, Said } from "../../api/client";
import { QuantityField } from "../../components/quantity/QuantityField";
import { useSettings } from "../../components/settings-context";
import type { Quantity } from "../../domain/units";
import type { ReadOn } from "../../queries/models";
import { OriginMark } from "./OriginMark";

/** Turns a setup into the next one; applied to the newest setup, so that two quick entries never overwrite each other. */
export type Change = (setup: Configuration) => Configuration;

interface Edit {
  readOnly: boolean;
  /** Lengths typed here are read from a plan: one millimetre on it is so many on the model. */
  plan: number;
  /** Save a change; rejects with a ProblemError whose words belong at the field. */
  edit: (change: Change, words: string, read?: ReadOn) => Promise<unknown>;
  /** Keep one reading of a measure by its key. */
  take: (reading: { key: string; value: number; left: boolean; again: boolean; read: ReadOn }) => Promise<unknown>;
  /** Where each measure comes from, as the program says; null until it has answered. */
  origins: BenchAnswer["origins"] | null;
  /** What of the airframe is out of reason, about parts and measures by their keys. */
  doubts: Said[];
  /** Which measure the drawing should show, as "kind:part:index:field". */
  onFocus: (what: string | null) => void;
}

interface Editing extends Edit {
  setup: Configuration;
}

const EditContext = createContext<Edit | null>(null);
const SetupContext = createContext<Configuration | null>(null);

/** Two contexts, because the setup is another one at every move of a pointer and how to change it is not. */
export function EditingProvider({ value, children }: { value: Editing; children: ReactNode }) {
  const { setup, readOnly, plan, edit, take, origins, doubts, onFocus } = value;
  const how = useMemo(
    () => ({ readOnly, plan, edit, take, origins, doubts, onFocus }),
    [readOnly, plan, edit, take, origins, doubts, onFocus],
  );
  return (
    <SetupContext.Provider value={setup}>
      <EditContext.Provider value={how}>{children}</EditContext.Provider>
    </SetupContext.Provider>
  );
}

/** How to change what is on the bench; must be used below the provider. */
export function useEdit(): Edit {
  const value = useContext(EditContext);
  if (!value) throw new Error("useEdit is used outside the bench");
  return value;
}

/** The setup on the bench and how to change it; must be used below the provider. */
export function useEditing(): Editing {
  const how = useEdit();
  const setup = useContext(SetupContext);
  if (!setup) throw new Error("useEditing is used outside the bench");
  return { ...how, setup };
}

interface MeasureProps {
  label: string;
  quantity: Quantity;
  value: number | null;
  change: (setup: Configuration, si: number) => Configuration;
  words: string;
  hint?: string;
  extraDigits?: number;
  focus?: string;
  /** The name of the measure: where it comes from stands beside it. */
  at?: string;
  disabled?: boolean;
  onEntered?: () => void;
}

/** What a length is read on: the model, or a plan that is smaller. */
export const readOn = (plan: number): ReadOn => ({ how: plan === 1 ? "model" : "plan", scale: plan });

/** One measured quantity of the setup: shown on the drawing while focused, saved on Enter. */
export function Measure({ change, words, focus, at, disabled = false, ...field }: MeasureProps) {
  const { readOnly, plan, edit, onFocus, origins } = useEdit();
  const { show } = useSettings();
  const scale = field.quantity === "length" ? plan : 1;
  const real = scale !== 1 && field.value !== null ? `on the plan; ${show(field.value, "length")} on the model` : null;
  const origin = origins?.measures.find((m) => m.key === at);
  const hint = real ?? field.hint;
  return (
    <QuantityField
      {...field}
      hint={
        hint || origin ? (
          <>
            {origin ? <OriginMark origin={origin} /> : null}
            {hint && origin ? " · " : null}
            {hint}
          </>
        ) : undefined
      }
      value={field.value === null ? null : field.value / scale}
      disabled={readOnly || disabled}
      onFocus={() => onFocus(focus ?? null)}
      onCommit={(si) => edit((s) => change(s, si * scale), words, readOn(scale))}
    />
  );
}

/** A titled group of measures. */
export function Group({ title, action, children }: { title: ReactNode; action?: ReactNode; children: ReactNode }) {
  return (
    <fieldset className="mb-2 border-b border-base-300 pb-2">
      <legend className="flex w-full items-center justify-between gap-2 pt-1 text-base font-bold">
        {title}
        {action}
      </legend>
      {children}
    </fieldset>
  );
}

interface ChoiceProps<K extends string> {
  label: string;
  hint?: string;
  value: K;
  options: readonly (readonly [K, string])[];
  onChoose: (key: K) => void;
  disabled?: boolean;
}

/** One of a few, by its words. */
export function Choice<K extends string>({ label, hint, value, options, onChoose, disabled }: ChoiceProps<K>) {
  const { readOnly } = useEdit();
  return (
    <label className="flex items-center justify-between gap-2 py-1">
      <span>
        {label} {hint ? <span className="label-small block">{hint}</span> : null}
      </span>
      <select
        className="select select-sm w-52 text-base"
        value={value}
        disabled={readOnly || disabled}
        onChange={(e) => {
          const found = options.find(([key]) => key === e.target.value);
          if (found) onChoose(found[0]);
        }}
      >
        {options.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}

/** Yes or no. */
export function Tick({
  label,
  checked,
  onChange,
}: {
  label: string;
  checked: boolean;
  onChange: (v: boolean) => void;
}) {
  const { readOnly } = useEdit();
  return (
    <label className="flex items-center gap-2 py-1">
      <input
        type="checkbox"
        className="checkbox checkbox-sm"
        checked={checked}
        disabled={readOnly}
        onChange={(e) => onChange(e.target.checked)}
      />
      {label}
    </label>
  );
}

/** A small button of the measuring list; absent on a read-only model. */
export function SmallButton({
  words,
  onClick,
  quiet = false,
}: {
  words: string;
  onClick: () => void;
  quiet?: boolean;
}) {
  const { readOnly } = useEdit();
  if (readOnly) return null;
  return (
    <button type="button" className={quiet ? "btn btn-ghost btn-xs" : "btn btn-sm"} onClick={onClick}>
      {words}
    </button>
  );
}
