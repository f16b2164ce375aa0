/** What this pilot chose on this device: units per quantity, theme, last model. Kept in local storage. */

import { defaultUnit, type Quantity, type System } from "./units";

const KEY = "jinba-settings";

/** Day or night, or as the device has it. */
export type Theme = "device" | "paper" | "night";

export interface Settings {
  system: System;
  units: Partial<Record<Quantity, string>>;
  theme: Theme;
  lastModel: string | null;
}

const DEFAULTS: Settings = { system: "metric", units: {}, theme: "device", lastModel: null };

/** The stored settings; anything unreadable counts as none. */
export function readSettings(): Settings {
  try {
    return { ...DEFAULTS, ...(JSON.parse(localStorage.getItem(KEY) ?? "{}") as Partial<Settings>) };
  } catch {
    return DEFAULTS;
  }
}

/** Store settings; a full or forbidden storage is not an error worth stopping for. */
export function writeSettings(settings: Settings): void {
  try {
    localStorage.setItem(KEY, JSON.stringify(settings));
  } catch {
    // Private windows may refuse storage: the choice then lasts for this visit only.
  }
}

/** The unit a quantity is shown in now. */
export function unitFor(settings: Settings, quantity: Quantity): string {
  return settings.units[quantity] ?? defaultUnit(quantity, settings.system);
}

const SPOKEN: Quantity[] = ["length", "distance", "mass", "speed"];

/** The pilot's own units as the program is told them, "length=in,mass=oz"; empty where all are what it writes anyway. */
export function spokenUnits(settings: Settings): string {
  return SPOKEN.filter((quantity) => unitFor(settings, quantity) !== defaultUnit(quantity, "metric"))
    .map((quantity) => `${quantity}=${unitFor(settings, quantity)}`)
    .join(",");
}
