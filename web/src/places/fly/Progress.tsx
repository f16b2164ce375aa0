import { useEffect, useRef, useState } from "react";
import type { CardRecord, SortieDetail } from "../../api/client";
import type { FlightClock } from "./flight-clock";
import { useTimeCalls } from "./speech";

interface Props {
  sortie: SortieDetail;
  logged: Map<string, CardRecord>;
  current: string | null;
  onChoose: (id: string) => void;
  clock: FlightClock;
  aloud: boolean;
}

/** The pack's minutes shrinking, and the cards of the sortie with those already logged struck through. */
export function Progress({ sortie, logged, current, onChoose, clock, aloud }: Props) {
  // From the mark at take-off where there is one, else from the first card that was logged.
  const started = clock.takeOff ?? new Date(sortie.started_at).getTime();
  const running = clock.landed === null && (clock.takeOff !== null || sortie.status === "flying");
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 10_000);
    return () => clearInterval(timer);
  }, []);
  const list = useRef<HTMLOListElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the card is what it waits for
  useEffect(() => {
    // The row scrolls, never the page: a question stays where it is.
    const chip = list.current?.querySelector<HTMLElement>("[aria-current=step]");
    if (list.current && chip) list.current.scrollLeft = chip.offsetLeft - 60;
  }, [current]);
  const until = clock.landed ?? now;
  const minutes = running || clock.landed !== null ? Math.max(0, (until - started) / 60_000) : 0;
  useTimeCalls(running ? sortie.safe_minutes - minutes : null, aloud);
  const left = Math.max(0, 1 - minutes / sortie.safe_minutes);
  return (
    <div>
      <div
        // A sortie that an older page has begun on this device says nothing of its minutes yet.
        hidden={!Number.isFinite(left)}
        className={`flex items-center gap-2 ${left < 0.25 ? "text-accent" : ""}`}
      >
        <span className="min-w-0 truncate text-2xl leading-none font-bold" data-testid="minutes-left">
          {Math.max(0, sortie.safe_minutes - minutes).toFixed(0)}
          <span className="text-base"> safe min{sortie.pack ? `, ${sortie.pack}` : " left"}</span>
        </span>
        <div className="h-3 min-w-6 flex-1 border border-base-content" aria-hidden="true">
          <div className="h-full bg-current" style={{ width: `${left * 100}%` }} />
        </div>
      </div>
      <ol
        ref={list}
        className="relative flex gap-1 overflow-x-auto py-1 md:flex-wrap"
        aria-label="cards of this sortie"
      >
        {sortie.cards.map((c) => {
          const done = logged.has(c.id);
          return (
            <li key={c.id}>
              <button
                type="button"
                onClick={() => onChoose(c.id)}
                aria-current={c.id === current ? "step" : undefined}
                aria-label={`${c.id} ${c.title}${done ? ", logged" : ""}`}
                className={`min-h-11 min-w-11 border px-1.5 text-base ${c.id === current ? "border-2 border-accent font-bold" : "border-base-content/50"} ${done ? "line-through opacity-70" : ""}`}
              >
                {c.id}
              </button>
            </li>
          );
        })}
      </ol>
    </div>
  );
}
