/** Units at the edge: SI inside, what a pilot types and reads outside. Pure functions, no React, no rule of the job. */

export type Quantity =
  | "length"
  | "distance"
  | "mass"
  | "speed"
  | "area"
  | "wing_loading"
  | "angle"
  | "fraction"
  | "force"
  | "time"
  | "volts"
  | "charge"
  | "current"
  | "resistance"
  | "minutes"
  | "temperature"
  | "torque"
  | "pulse"
  | "count";

interface Unit {
  key: string;
  /** SI value of one of this unit. */
  si: number;
  digits: number;
  aliases: string[];
  /** SI value of zero of this unit, where that is not zero (temperatures). */
  zero?: number;
}

const DEG = Math.PI / 180;

/** First unit of each list is the metric default, the second the imperial one where both exist. */
export const UNITS: Record<Quantity, Unit[]> = {
  length: [
    { key: "mm", si: 0.001, digits: 0, aliases: ["mm", "millimetre", "millimetres", "millimeter", "millimeters"] },
    { key: "in", si: 0.0254, digits: 2, aliases: ["in", "inch", "inches", '"', "”", "″"] },
    { key: "cm", si: 0.01, digits: 1, aliases: ["cm"] },
    { key: "m", si: 1, digits: 3, aliases: ["m", "metre", "metres", "meter", "meters"] },
    { key: "ft", si: 0.3048, digits: 3, aliases: ["ft", "foot", "feet", "'", "’", "′"] },
  ],
  distance: [
    { key: "m", si: 1, digits: 0, aliases: ["m", "metre", "metres", "meter", "meters"] },
    { key: "ft", si: 0.3048, digits: 0, aliases: ["ft", "foot", "feet", "'", "’", "′"] },
  ],
  mass: [
    { key: "g", si: 0.001, digits: 0, aliases: ["g", "gram", "grams"] },
    { key: "oz", si: 0.028349523125, digits: 1, aliases: ["oz", "ounce", "ounces"] },
    { key: "kg", si: 1, digits: 3, aliases: ["kg"] },
    { key: "lb", si: 0.45359237, digits: 2, aliases: ["lb", "lbs", "pound", "pounds"] },
  ],
  speed: [
    { key: "m/s", si: 1, digits: 1, aliases: ["m/s", "mps"] },
    { key: "mph", si: 0.44704, digits: 0, aliases: ["mph"] },
    { key: "km/h", si: 1 / 3.6, digits: 0, aliases: ["km/h", "kmh", "kph"] },
    { key: "kt", si: 0.514444444444444, digits: 1, aliases: ["kt", "kts", "knot", "knots"] },
    { key: "ft/s", si: 0.3048, digits: 1, aliases: ["ft/s", "fps"] },
  ],
  area: [
    { key: "dm²", si: 0.01, digits: 1, aliases: ["dm2", "dm²"] },
    { key: "in²", si: 0.00064516, digits: 0, aliases: ["in2", "in²", "sq in"] },
    { key: "ft²", si: 0.09290304, digits: 2, aliases: ["ft2", "ft²", "sq ft"] },
  ],
  wing_loading: [
    { key: "g/dm²", si: 0.1, digits: 1, aliases: ["g/dm2", "g/dm²"] },
    { key: "oz/ft²", si: 0.30515172, digits: 1, aliases: ["oz/ft2", "oz/ft²"] },
  ],
  angle: [
    { key: "°", si: DEG, digits: 1, aliases: ["°", "deg", "degree", "degrees"] },
    { key: "rad", si: 1, digits: 4, aliases: ["rad"] },
  ],
  fraction: [{ key: "%", si: 0.01, digits: 1, aliases: ["%", "percent"] }],
  force: [
    { key: "N", si: 1, digits: 1, aliases: ["n", "newton", "newtons"] },
    { key: "oz thrust", si: 0.2780138509, digits: 0, aliases: ["ozf", "oz"] },
    { key: "g thrust", si: 0.00980665, digits: 0, aliases: ["g", "gf"] },
    { key: "kg thrust", si: 9.80665, digits: 2, aliases: ["kg", "kgf"] },
    { key: "lb thrust", si: 4.4482216152605, digits: 2, aliases: ["lb", "lbf"] },
  ],
  time: [{ key: "s", si: 1, digits: 1, aliases: ["s", "sec", "secs", "seconds"] }],
  volts: [{ key: "V", si: 1, digits: 2, aliases: ["v", "volt", "volts"] }],
  charge: [
    { key: "mAh", si: 3.6, digits: 0, aliases: ["mah"] },
    { key: "Ah", si: 3600, digits: 2, aliases: ["ah"] },
  ],
  current: [{ key: "A", si: 1, digits: 1, aliases: ["a", "amp", "amps", "ampere"] }],
  resistance: [{ key: "mΩ", si: 0.001, digits: 1, aliases: ["mω", "mohm", "milliohm", "milliohms"] }],
  temperature: [
    { key: "°C", si: 1, zero: 273.15, digits: 0, aliases: ["°c", "c", "celsius"] },
    { key: "°F", si: 5 / 9, zero: 273.15 - (32 * 5) / 9, digits: 0, aliases: ["°f", "f", "fahrenheit"] },
  ],
  torque: [
    { key: "N·m", si: 1, digits: 2, aliases: ["nm", "n·m", "n m"] },
    { key: "oz·in", si: 0.007061551814, digits: 0, aliases: ["oz·in", "ozin", "oz in"] },
    { key: "kg·cm", si: 0.0980665, digits: 1, aliases: ["kg·cm", "kgcm", "kg cm"] },
  ],
  pulse: [{ key: "µs", si: 1, digits: 0, aliases: ["µs", "us", "microseconds"] }],
  count: [{ key: "", si: 1, digits: 0, aliases: [] }],
  minutes: [
    { key: "min", si: 1, digits: 1, aliases: ["min", "mins", "minute", "minutes"] },
    { key: "s", si: 1 / 60, digits: 0, aliases: ["s", "sec", "secs", "seconds"] },
  ],
};

export type System = "metric" | "imperial";

/** The unit a quantity is shown in by default in a system of units. */
export function defaultUnit(quantity: Quantity, system: System): string {
  const units = UNITS[quantity];
  const imperial = ["length", "distance", "mass", "speed", "area", "wing_loading", "temperature", "torque"].includes(
    quantity,
  );
  return (system === "imperial" && imperial ? units[1] : units[0])?.key ?? "";
}

function unitOf(quantity: Quantity, key: string): Unit {
  const unit = UNITS[quantity].find((u) => u.key === key) ?? UNITS[quantity][0];
  if (!unit) throw new Error(`quantity ${quantity} has no unit`);
  return unit;
}

/** A value in SI as text in a unit, without float dust; zero is "0", missing is "–". */
export function format(value: number | null | undefined, quantity: Quantity, key: string, extraDigits = 0): string {
  if (value === null || value === undefined || !Number.isFinite(value)) return "–";
  const unit = unitOf(quantity, key);
  const text = ((value - (unit.zero ?? 0)) / unit.si).toFixed(Math.max(0, unit.digits + extraDigits));
  return /^-0(\.0*)?$/.test(text) ? text.slice(1) : text;
}

/** A value with its unit, e.g. "112 mm". */
export function withUnit(value: number | null | undefined, quantity: Quantity, key: string, extraDigits = 0): string {
  const text = format(value, quantity, key, extraDigits);
  if (text === "–") return text;
  if (key === "") return text;
  return key === "%" || key === "°" ? `${text}${key === "%" ? " %" : key}` : `${text} ${key}`;
}

export type Parsed = { ok: true; si: number; unit: string } | { ok: false; reason: string };

const NUMBER = String.raw`[+-]?(?:\d+(?:[.,]\d+)?|[.,]\d+)`;
const FRACTION = String.raw`\d+\s*/\s*\d+`;
const PART = new RegExp(
  String.raw`^\s*(?:(${NUMBER})\s+(${FRACTION})|(${FRACTION})|(${NUMBER}))\s*([^\d\s.,+\-/][^\d]*?(?:²|2)?)?\s*(?=$|[\d+\-.,])`,
);

/** As a clock shows it: minutes and seconds. */
const CLOCK = /^(\d{1,3}):([0-5]\d)$/;

/**
 * What a pilot typed as an SI value: "3/8 in", "1 3/8 in", "2.5oz", "12 mm", "2' 3\"", "4 lb 6 oz", "12,5", "6:30".
 * A bare number is in the unit shown. Thousands separators are refused, because "1.234" means two things.
 */
export function parse(text: string, quantity: Quantity, shownUnit: string): Parsed {
  let rest = text.trim().replace(/−/g, "-");
  if (rest === "") return { ok: false, reason: "Enter a value." };
  if (/\d[.,]\d{3}[.,]/.test(rest) || /\d[.,]\d+[.,]\d/.test(rest))
    return { ok: false, reason: "Write it without thousands separators." };
  const clock = CLOCK.exec(rest);
  if (clock && (quantity === "minutes" || quantity === "time")) {
    const seconds = 60 * Number(clock[1]) + Number(clock[2]);
    return { ok: true, si: quantity === "time" ? seconds : seconds / 60, unit: shownUnit };
  }
  let total = 0;
  let sign = 1;
  let used: string | null = null;
  let parts = 0;
  while (rest !== "") {
    const match = PART.exec(rest);
    if (!match) return { ok: false, reason: `Cannot read "${text.trim()}". Try ${example(quantity, shownUnit)}.` };
    const value = readNumber(match);
    if (value === null) return { ok: false, reason: "A fraction needs a number below the line that is not zero." };
    const name = (match[5] ?? "").trim().toLowerCase();
    const unit = name === "" ? unitOf(quantity, shownUnit) : findUnit(quantity, name);
    if (!unit)
      return {
        ok: false,
        reason: `"${name}" is not a unit here. Known: ${UNITS[quantity].map((u) => u.key).join(", ")}.`,
      };
    if (parts > 0 && (name === "" || value < 0))
      return { ok: false, reason: `Cannot read "${text.trim()}". Give each part its unit.` };
    if (parts === 0 && /^-/.test(rest)) sign = -1;
    total += Math.abs(value) * unit.si;
    used ??= unit.key;
    parts += 1;
    rest = rest.slice(match[0].length);
  }
  return { ok: true, si: sign * total + (unitOf(quantity, used ?? shownUnit).zero ?? 0), unit: used ?? shownUnit };
}

function readNumber(match: RegExpExecArray): number | null {
  const [, whole, mixed, fraction, plain] = match;
  const over = (f: string): number | null => {
    const [a, b] = f.split("/").map(Number);
    return a === undefined || !b ? null : a / b;
  };
  if (whole !== undefined && mixed !== undefined) {
    const part = over(mixed);
    const base = Number(whole.replace(",", "."));
    return part === null ? null : base < 0 ? base - part : base + part;
  }
  if (fraction !== undefined) return over(fraction);
  return Number((plain ?? "").replace(",", "."));
}

function findUnit(quantity: Quantity, name: string): Unit | undefined {
  return UNITS[quantity].find((u) => u.aliases.includes(name) || u.key.toLowerCase() === name);
}

function example(quantity: Quantity, unit: string): string {
  return quantity === "length"
    ? '"12 mm" or "3/8 in"'
    : quantity === "mass"
      ? '"70 g" or "2.5 oz"'
      : `a number in ${unit}`;
}
