/** A moment as a pilot reads it: the time of today, the day before it otherwise. */
export function when(time: Date, now: Date = new Date()): string {
  const clock = time.toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hour12: false });
  if (time.toDateString() === now.toDateString()) return clock;
  return `${time.toLocaleDateString([], { day: "numeric", month: "short" })}, ${clock}`;
}

/** A day of the calendar, "2026-11-29", as a pilot reads it. */
export function day(date: string): string {
  return new Date(`${date}T12:00:00`).toLocaleDateString([], { day: "numeric", month: "short", year: "numeric" });
}

/** Minutes as a timer shows them: 5.5 is "5:30". */
export function onTheClock(minutes: number): string {
  const seconds = Math.round(60 * minutes);
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
}
