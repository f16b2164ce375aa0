/** What the plain numbers of a card are: how they are read and shown. */
import type { Quantity } from "../../../domain/units";

interface Plain {
  quantity: Quantity;
  /** SI value of one of the unit that the card counts in. */
  si: number;
}

const PLAIN: Record<string, Plain> = {
  m: { quantity: "distance", si: 1 },
  "m/s": { quantity: "speed", si: 1 },
  V: { quantity: "volts", si: 1 },
  A: { quantity: "current", si: 1 },
  min: { quantity: "minutes", si: 1 },
  mm: { quantity: "length", si: 0.001 },
};

/** How a number with this unit is read and shown; a number of seconds where the unit is not one of these. */
export function plainOf(unit: string): Plain & { typed: string } {
  const known = PLAIN[unit];
  return known ? { ...known, typed: unit } : { quantity: "time", si: 1, typed: "s" };
}
