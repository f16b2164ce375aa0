import { useEffect, useRef, useState } from "react";
import type { Capture, Reading } from "../../api/client";
import { aReading } from "../../api/records";
import { parse } from "../../domain/units";
import { keepSince, keptSince } from "./kept-since";

interface Props {
  capture: Capture;
  reading: Reading | null;
  onReading: (r: Reading | null) => void;
  onEntered?: (() => void) | undefined;
  /** Where a running watch is kept, so that it survives a reload and another card. */
  watch?: string | undefined;
}

/** A stopwatch for one measure: tap to start, tap to stop; "did not" keeps how long one waited. */
export function Stopwatch({ capture, reading, onReading, onEntered, watch }: Props) {
  const started = useRef<number | null>(null);
  started.current ??= keptSince(watch);
  const [running, setRunning] = useState(started.current !== null);
  const [shown, setShown] = useState(0);
  const [refused, setRefused] = useState<string | null>(null);
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(() => setShown((Date.now() - (started.current ?? 0)) / 1000), 100);
    return () => clearInterval(timer);
  }, [running]);
  const seconds = () => Math.max(0, Math.round((Date.now() - (started.current ?? Date.now())) / 100) / 10);
  const stop = () => {
    setRunning(false);
    keepSince(watch, null);
  };
  const tap = () => {
    if (!running) {
      started.current = Date.now();
      keepSince(watch, started.current);
      setShown(0);
      setRunning(true);
      return;
    }
    stop();
    onReading(aReading({ key: capture.key, number: Math.min(seconds(), capture.highest) }));
  };
  const didNot = () => {
    const waited = running ? seconds() : 8;
    stop();
    onReading(aReading({ key: capture.key, number: Math.min(Math.max(waited, 2), capture.highest), none: true }));
  };
  /** Keep what is typed as it is typed, so that no way off the question loses it; returns why it cannot be kept. */
  const take = (entry: string): string | null => {
    if (entry.trim() === "") return null;
    const parsed = parse(entry, "time", "s");
    const outside = parsed.ok && (parsed.si < 0 || parsed.si > capture.highest);
    if (!parsed.ok || outside) {
      // Half of a number may have been one that could be kept: what stands there now is none.
      onReading(null);
      return parsed.ok ? `From 0 to ${capture.highest} seconds.` : parsed.reason;
    }
    onReading(aReading({ key: capture.key, number: parsed.si, entered: entry.trim().slice(0, 40) }));
    return null;
  };
  const settle = (entry: string): boolean => {
    const wrong = take(entry);
    setRefused(wrong);
    return wrong === null;
  };
  const text = running
    ? `${shown.toFixed(1)} s`
    : reading?.none
      ? `did not in ${reading.number?.toFixed(0)} s`
      : reading?.number
        ? `${reading.number.toFixed(1)} s`
        : "–";
  return (
    <div className="grid flex-1 grid-cols-[1fr_auto] grid-rows-[minmax(8rem,14rem)] gap-2">
      <button
        type="button"
        data-answer
        data-watch
        className={`field-choice ${running ? "border-accent bg-accent text-accent-content" : ""}`}
        onClick={tap}
        aria-label={`${running ? "stop" : "start"}: ${capture.label}`}
      >
        <span className="text-3xl font-bold">{text}</span>
        <span className="block text-lg font-normal">{running ? "tap to stop" : "tap to start"}</span>
      </button>
      <div className="grid gap-2">
        <button type="button" data-answer className="field-choice" onClick={didNot}>
          did not
        </button>
        <input
          className="input h-14 w-28 text-xl"
          inputMode="decimal"
          placeholder="seconds"
          aria-label={`${capture.label}, typed`}
          aria-invalid={refused !== null}
          onChange={(e) => void take(e.target.value)}
          onBlur={(e) => settle(e.target.value)}
          onKeyDown={(e) => e.key === "Enter" && settle(e.currentTarget.value) && onEntered?.()}
        />
      </div>
      {refused ? (
        <p role="alert" className="col-span-2 text-lg font-semibold text-error">
          {refused}
        </p>
      ) : null}
    </div>
  );
}
