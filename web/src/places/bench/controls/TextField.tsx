import { useEffect, useId, useState } from "react";
import { ProblemError } from "../../../api/client";
import { useEdit } from "../editing";

interface Props {
  label: string;
  value: string;
  hint?: string;
  onCommit: (text: string) => Promise<unknown>;
}

/** A short text, saved on Enter or on leaving; a refused one stays with its reason. */
export function TextField({ label, value, hint, onCommit }: Props) {
  const { readOnly } = useEdit();
  const id = useId();
  const [text, setText] = useState(value);
  const [error, setError] = useState<string | null>(null);
  useEffect(() => setText(value), [value]);
  async function commit(): Promise<void> {
    if (text === value) return;
    try {
      await onCommit(text.trim());
      setError(null);
    } catch (e) {
      setError(e instanceof ProblemError ? e.problem.title : "This could not be saved; your entry is still here.");
    }
  }
  return (
    <div className="py-1">
      <div className="flex items-center justify-between gap-2">
        <label htmlFor={id} className="leading-tight">
          {label}
          {hint ? <span className="label-small block">{hint}</span> : null}
        </label>
        <input
          id={id}
          className="input input-sm w-44 text-base"
          value={text}
          disabled={readOnly}
          aria-invalid={error !== null}
          aria-describedby={error ? `${id}-error` : undefined}
          onChange={(e) => setText(e.target.value)}
          onBlur={() => void commit()}
          onKeyDown={(e) => {
            if (e.key === "Enter") void commit();
            if (e.key === "Escape") setText(value);
          }}
        />
      </div>
      {error ? (
        <p id={`${id}-error`} role="alert" className="mt-1 text-right text-sm font-semibold text-error">
          {error}
        </p>
      ) : null}
    </div>
  );
}
