import { useEffect, useRef, useState } from "react";
import type { Capture, Reading } from "../../api/client";
import { aReading } from "../../api/records";
import { parse } from "../../domain/units";

/** A stopwatch for one measure: tap to start, tap to stop; "did not" keeps how long one waited. */
export function Stopwatch({
  capture,
  reading,
  onReading,
}: {
  capture: Capture;
  reading: Reading | null;
  onReading: (r: Reading | null) => void;
}) {
  const started = useRef<number | null>(null);
  const [running, setRunning] = useState(false);
  const [shown, setShown] = useState(0);
  const [refused, setRefused] = useState<string | null>(null);
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(() => setShown((performance.now() - (started.current ?? 0)) / 1000), 100);
    return () => clearInterval(timer);
  }, [running]);
  const seconds = () => Math.round(((performance.now() - (started.current ?? performance.now())) / 1000) * 10) / 10;
  const tap = () => {
    if (!running) {
      started.current = performance.now();
      setShown(0);
      setRunning(true);
      return;
    }
    setRunning(false);
    onReading(aReading({ key: capture.key, number: Math.min(seconds(), capture.highest) }));
  };
  const didNot = () => {
    const waited = running ? seconds() : 8;
    setRunning(false);
    onReading(aReading({ key: capture.key, number: Math.min(Math.max(waited, 2), capture.highest), none: true }));
  };
  const typed = (entry: string) => {
    if (entry.trim() === "") return setRefused(null);
    const parsed = parse(entry, "time", "s");
    if (!parsed.ok) return setRefused(parsed.reason);
    if (parsed.si < 0 || parsed.si > capture.highest) return setRefused(`From 0 to ${capture.highest} seconds.`);
    setRefused(null);
    onReading(aReading({ key: capture.key, number: parsed.si, entered: entry.trim().slice(0, 40) }));
  };
  const text = running
    ? `${shown.toFixed(1)} s`
    : reading?.none
      ? `did not in ${reading.number?.toFixed(0)} s`
      : reading?.number
        ? `${reading.number.toFixed(1)} s`
        : "–";
  return (
    <div className="grid grid-cols-[1fr_auto] gap-2">
      <button
        type="button"
        className={`field-choice ${running ? "border-accent bg-accent text-accent-content" : ""}`}
        onClick={tap}
        aria-label={`${running ? "stop" : "start"}: ${capture.label}`}
      >
        <span className="text-3xl font-bold">{text}</span>
        <span className="block text-lg font-normal">{running ? "tap to stop" : "tap to start"}</span>
      </button>
      <div className="grid gap-2">
        <button type="button" className="field-choice" onClick={didNot}>
          did not
        </button>
        <input
          className="input h-14 w-28 text-xl"
          inputMode="decimal"
          placeholder="seconds"
          aria-label={`${capture.label}, typed`}
          aria-invalid={refused !== null}
          onBlur={(e) => typed(e.target.value)}
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
