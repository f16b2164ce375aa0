/** A moment as a pilot reads it: the time of today, the day before it otherwise. */
export function when(time: Date, now: Date = new Date()): string {
  const clock = time.toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hour12: false });
  if (time.toDateString() === now.toDateString()) return clock;
  return `${time.toLocaleDateString([], { day: "numeric", month: "short" })}, ${clock}`;
}
