import { createContext, useContext, useEffect, useState } from "react";
import { onTheClock, when } from "../../domain/time";
import { type FlightClock, minutesFlown } from "./flight-clock";
import { beep } from "./speech";

/** The clock of the sortie, for what is read by it after landing. */
export const ClockContext = createContext<FlightClock>({ takeOff: null, landed: null });

function useNow(everyMs: number): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), everyMs);
    return () => clearInterval(timer);
  }, [everyMs]);
  return now;
}

/** The model is down: since when, and the way back for whoever was asked too early. */
export function DownSince({ landed, onNotDown }: { landed: number; onNotDown: () => void }) {
  return (
    <p
      role="status"
      className="my-1 flex flex-wrap items-center justify-between gap-2 border-l-4 border-l-base-content px-2 text-lg"
      data-testid="down-since"
    >
      <span className="font-semibold">Down since {when(new Date(landed))}. Disconnect the pack first.</span>
      <button type="button" className="min-h-11 px-3 font-semibold underline" onClick={onNotDown}>
        Not down yet
      </button>
    </p>
  );
}

/** Until when a reading waits after touch-down, so that it is read after the same wait each time. */
export function WaitFor({ minutes }: { minutes: number }) {
  const { landed } = useContext(ClockContext);
  const now = useNow(1_000);
  const due = landed === null ? null : landed + 60_000 * minutes;
  const over = due !== null && now >= due;
  const [waited, setWaited] = useState(false);
  useEffect(() => {
    if (due !== null && !over) setWaited(true);
    if (over && waited) beep();
  }, [due, over, waited]);
  if (minutes <= 0) return null;
  if (due === null)
    return <p className="mb-2 text-lg">Read {minutes} minutes after touch-down, the same wait each time.</p>;
  return (
    <p role="status" className="mb-2 text-lg font-semibold" data-testid="wait-for">
      {over
        ? `${minutes} minutes are over: read them now.`
        : `Wait till ${when(new Date(due))}: ${onTheClock((due - now) / 60_000)} left. Do the other cards meanwhile.`}
    </p>
  );
}

/** The minutes the clock has counted, to be taken with one tap. */
export function ByTheClock({ onTake }: { onTake: (minutes: number) => void }) {
  const minutes = minutesFlown(useContext(ClockContext));
  if (minutes === null) return null;
  return (
    <button type="button" className="field-choice mb-2" data-testid="by-the-clock" onClick={() => onTake(minutes)}>
      {minutes.toFixed(1)} min, by the clock
    </button>
  );
}

interface QuestionProps {
  unflown: readonly string[];
  onDown: () => void;
  onLeave: () => void;
}

/** Asked once: what was not flown stays open, nothing is taken from the log. */
export function DownQuestion({ unflown, onDown, onLeave }: QuestionProps) {
  return (
    <section role="alert" className="sheet my-2 border-l-4 border-l-accent p-3 text-lg" data-testid="down-question">
      <p className="font-semibold">Is it down?</p>
      {unflown.length > 0 ? (
        <p>
          Not logged: {unflown.join(", ")}. What was flown can still be logged; the rest stays open for the next sortie.
        </p>
      ) : null}
      <div className="mt-2 grid gap-2 sm:grid-cols-2">
        <button type="button" className="field-choice" onClick={onDown}>
          It is down
        </button>
        <button type="button" className="field-choice" onClick={onLeave}>
          Still flying
        </button>
      </div>
    </section>
  );
}
