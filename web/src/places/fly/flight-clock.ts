import { useCallback, useState } from "react";

/** When the wheels left the ground and came back, by this device's clock [ms]; null: nobody has marked it here. */
export interface FlightClock {
  takeOff: number | null;
  landed: number | null;
}

const NOT_RUN: FlightClock = { takeOff: null, landed: null };

const keyOf = (sortieId: string) => `jinba-clock-${sortieId}`;

function kept(sortieId: string): FlightClock {
  try {
    return { ...NOT_RUN, ...(JSON.parse(localStorage.getItem(keyOf(sortieId)) ?? "{}") as Partial<FlightClock>) };
  } catch {
    return NOT_RUN;
  }
}

/** The clock of one sortie on this device; it survives a reload, and a storage that is full costs no more than that. */
export function useFlightClock(sortieId: string) {
  const [clock, setClock] = useState(() => kept(sortieId));
  const put = useCallback(
    (part: Partial<FlightClock>) =>
      setClock((now) => {
        const next = { ...now, ...part };
        try {
          localStorage.setItem(keyOf(sortieId), JSON.stringify(next));
        } catch {
          // The marks then last as long as this page.
        }
        return next;
      }),
    [sortieId],
  );
  const takeOff = useCallback(() => put({ takeOff: Date.now(), landed: null }), [put]);
  const land = useCallback(() => put({ landed: Date.now() }), [put]);
  const notLanded = useCallback(() => put({ landed: null }), [put]);
  return { clock, takeOff, land, notLanded };
}

/** Minutes from take-off to touch-down, in tenths; null where one of both was not marked. */
export function minutesFlown({ takeOff, landed }: FlightClock): number | null {
  if (takeOff === null || landed === null || landed <= takeOff) return null;
  return Math.round((landed - takeOff) / 6_000) / 10;
}
