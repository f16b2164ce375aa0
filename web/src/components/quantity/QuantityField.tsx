import { type ReactNode, useEffect, useId, useRef, useState } from "react";
import { ProblemError } from "../../api/client";
import { format, parse, type Quantity, UNITS } from "../../domain/units";
import { useSettings } from "../settings-context";

interface Props {
  label: string;
  quantity: Quantity;
  value: number | null;
  /** Takes the value in SI; a promise that rejects with a ProblemError puts its words at the field. */
  onCommit: (si: number) => unknown;
  hint?: ReactNode;
  extraDigits?: number;
  disabled?: boolean;
  onFocus?: () => void;
  /** Where Enter goes on once the entry is taken; without it to the next field. */
  onEntered?: (() => void) | undefined;
}

/**
 * A number with its unit: metric and imperial both accepted as typed. A typed unit changes nothing that is shown elsewhere: the
 * switch beside the number does, for its quantity, remembered. What is refused stays, with the reason at the field. Enter goes to
 * the next field, Escape takes the entry back.
 */
export function QuantityField({
  label,
  quantity,
  value,
  onCommit,
  hint,
  extraDigits = 0,
  disabled = false,
  onFocus,
  onEntered,
}: Props) {
  const { unit, setUnit } = useSettings();
  const shown = unit(quantity);
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const [error, setError] = useState<string | null>(null);
  // Enter commits and then moves on, which also blurs: the same entry is handed over once.
  const handedOver = useRef<string | null>(null);
  const stored = value === null ? "" : format(value, quantity, shown, extraDigits);

  // A new value from outside replaces what is shown, but never a refused entry.
  // biome-ignore lint/correctness/useExhaustiveDependencies: only a new stored value clears the entry
  useEffect(() => {
    if (error === null) setText(null);
  }, [stored]);

  async function commit(): Promise<boolean> {
    if (text === null || text.trim() === stored) {
      setText(null);
      setError(null);
      return true;
    }
    const parsed = parse(text, quantity, shown);
    if (!parsed.ok) {
      setError(parsed.reason);
      return false;
    }
    if (handedOver.current === text) return error === null;
    handedOver.current = text;
    try {
      await onCommit(parsed.si);
      setError(null);
      setText(null);
      return true;
    } catch (e) {
      handedOver.current = null;
      if (e instanceof ProblemError) e.atField = true;
      setError(e instanceof ProblemError ? e.problem.title : "This could not be saved; your entry is still here.");
      return false;
    }
  }

  return (
    <div className="py-1">
      <div className="flex items-center gap-2">
        <label htmlFor={id} className="flex-1 leading-tight">
          {label}
          {hint ? <span className="label-small block">{hint}</span> : null}
        </label>
        <input
          id={id}
          className="input input-sm w-24 text-right text-base"
          value={text ?? stored}
          disabled={disabled}
          aria-invalid={error !== null}
          aria-describedby={error ? `${id}-error` : undefined}
          autoComplete="off"
          onChange={(e) => {
            handedOver.current = null;
            setText(e.target.value);
          }}
          onFocus={(e) => {
            e.target.select();
            onFocus?.();
          }}
          onBlur={() => void commit()}
          onKeyDown={(e) => {
            if (e.key === "Enter") {
              // In a form Enter would submit, before a refused entry could say so.
              e.preventDefault();
              const from = e.currentTarget;
              // Saving takes its time; who has gone on to another field meanwhile is left where they are.
              void commit().then((ok) => ok && leftAlone(from) && (onEntered ? onEntered() : focusNext(from)));
            }
            if (e.key === "Escape") {
              setText(null);
              setError(null);
            }
          }}
        />
        {UNITS[quantity].length > 1 ? (
          <select
            className="select select-sm w-[4.9rem] px-2 text-base"
            aria-label={`unit of ${label}`}
            value={shown}
            tabIndex={-1}
            onChange={(e) => setUnit(quantity, e.target.value)}
          >
            {UNITS[quantity].map((u) => (
              <option key={u.key}>{u.key}</option>
            ))}
          </select>
        ) : (
          <span className="w-[4.9rem] pl-2">{shown}</span>
        )}
      </div>
      {error ? (
        <p id={`${id}-error`} role="alert" className="mt-1 text-right text-sm font-semibold text-error">
          {error}
        </p>
      ) : null}
    </div>
  );
}

/** Nobody has moved the focus from a field elsewhere; one that went with what held it is nobody's doing. */
function leftAlone(from: HTMLInputElement): boolean {
  return document.activeElement === from || document.activeElement === document.body;
}

function focusNext(from: HTMLInputElement): void {
  const scope = from.closest("[data-fields]") ?? document;
  const fields = Array.from(scope.querySelectorAll<HTMLInputElement>("input:not(:disabled)"));
  const next = fields[fields.indexOf(from) + 1];
  if (next) next.focus();
  else from.blur();
}
