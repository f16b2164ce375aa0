import { useEffect, useRef, useState } from "react";

const HOLD_MS = 1200;

interface Props {
  words: string;
  /** For a low screen, where the words have no room. */
  short?: string;
  onHeld: () => void;
  disabled: boolean;
}

/** A wide bar that acts only when held, so that a brush of the thumb never does. Enter or Space held works too. */
export function HeldBar({ words, short, onHeld, disabled }: Props) {
  const [held, setHeld] = useState(false);
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null);
  const stop = () => {
    if (timer.current) clearTimeout(timer.current);
    timer.current = null;
    setHeld(false);
  };
  const start = () => {
    if (disabled || timer.current) return;
    setHeld(true);
    timer.current = setTimeout(() => {
      stop();
      onHeld();
    }, HOLD_MS);
  };
  useEffect(() => () => void (timer.current && clearTimeout(timer.current)), []);
  return (
    <button
      type="button"
      aria-label={words}
      disabled={disabled}
      className="held relative min-h-14 w-full touch-none overflow-hidden border-2 border-accent px-3 text-lg font-semibold text-accent select-none"
      onPointerDown={start}
      onPointerUp={stop}
      onPointerLeave={stop}
      onPointerCancel={stop}
      onKeyDown={(e) => (e.key === "Enter" || e.key === " ") && start()}
      onKeyUp={stop}
      onContextMenu={(e) => e.preventDefault()}
    >
      <span
        aria-hidden="true"
        className="absolute inset-y-0 left-0 bg-accent/25"
        style={{ width: held ? "100%" : "0%", transition: held ? `width ${HOLD_MS}ms linear` : "none" }}
      />
      <span className={`relative ${short ? "held-long" : ""}`}>{words}</span>
      {short ? (
        <span className="held-short relative" aria-hidden="true">
          {short}
        </span>
      ) : null}
    </button>
  );
}
