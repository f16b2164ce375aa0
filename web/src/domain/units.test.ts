import { describe, expect, it } from "vitest";
import { defaultUnit, format, parse, UNITS, withUnit } from "./units";

const si = (text: string, quantity: Parameters<typeof parse>[1], unit: string) => {
  const result = parse(text, quantity, unit);
  return result.ok ? result.si : result.reason;
};

describe("parsing what a pilot types", () => {
  // Inch, ounce, pound and foot: international yard and pound agreement, 1959 (exact).
  it.each([
    ["3/8 in", "length", "mm", 0.009525],
    ["1 3/8 in", "length", "mm", 0.034925],
    ["2' 3\"", "length", "mm", 0.6858],
    ["12 mm", "length", "in", 0.012],
    // Ounce-force inch and kilogram-force centimetre: NIST SP 811.
    ["1 oz·in", "torque", "N·m", 0.007061551814],
    ["1 kg·cm", "torque", "N·m", 0.0980665],
    ["0.18", "torque", "N·m", 0.18],
    ["1520 µs", "pulse", "µs", 1520],
    ["6", "count", "", 6],
    ["12", "length", "in", 0.3048],
    ["12,5", "length", "mm", 0.0125],
    ["-4", "length", "mm", -0.004],
    ["-1 1/2 in", "length", "mm", -0.0381],
    [".5in", "length", "mm", 0.0127],
    ["2.5oz", "mass", "g", 0.0708738078125],
    ["4 lb 6 oz", "mass", "g", 1.98446661875],
    ["20 km/h", "speed", "m/s", 5.5555555556],
    ["10 kt", "speed", "m/s", 5.1444444444],
    ["12 %", "fraction", "%", 0.12],
    ["30°", "angle", "°", Math.PI / 6],
    ["6", "minutes", "min", 6],
    ["6 mins", "minutes", "min", 6],
    ["6:30", "minutes", "min", 6.5],
    ["6 min 30 s", "minutes", "min", 6.5],
    ["1:05", "time", "s", 65],
  ] as const)("%s as %s", (text, quantity, unit, expected) => {
    expect(si(text, quantity, unit)).toBeCloseTo(expected, 9);
  });

  it.each([
    ["", "length"],
    ["abc", "length"],
    ["1.234,5", "mass"],
    ["1,234,567", "mass"],
    ["3/0 in", "length"],
    ["12 oz", "length"],
    ["1 in 2", "length"],
    ["NaN", "mass"],
    ["1e999", "mass"],
    ["6:75", "minutes"],
    ["6:30", "length"],
    ["Infinity", "mass"],
  ] as const)("refuses %j as %s and says why", (text, quantity) => {
    const result = parse(text, quantity, UNITS[quantity][0]?.key ?? "");
    expect(result.ok).toBe(false);
    if (!result.ok) expect(result.reason.length).toBeGreaterThan(8);
  });
});

describe("formatting", () => {
  it("shows no float dust and no negative zero", () => {
    expect(format(0.1 + 0.2, "length", "m")).toBe("0.300");
    expect(format(-0.0001, "length", "mm")).toBe("0");
  });
  it("tells zero from missing", () => {
    expect(withUnit(0, "mass", "g")).toBe("0 g");
    expect(withUnit(null, "mass", "g")).toBe("–");
    expect(withUnit(Number.NaN, "mass", "g")).toBe("–");
  });
  it("reads back what it wrote, in every unit", () => {
    for (const [quantity, units] of Object.entries(UNITS)) {
      for (const unit of units) {
        const q = quantity as keyof typeof UNITS;
        const seven = unit.si * 7 + (unit.zero ?? 0);
        const back = parse(withUnit(seven, q, unit.key), q, unit.key);
        if (q !== "force") expect(back.ok && back.si).toBeCloseTo(seven, 8);
      }
    }
  });
  it("knows the default of a system", () => {
    expect(defaultUnit("length", "imperial")).toBe("in");
    expect(defaultUnit("fraction", "imperial")).toBe("%");
  });
});

describe("temperatures", () => {
  it("have zeros of their own, both ways, and may be below them", () => {
    for (const [text, kelvin] of [
      ["25", 298.15],
      ["-5 °C", 268.15],
      ["77 F", 298.15],
      ["32°F", 273.15],
    ] as const) {
      const read = parse(text, "temperature", "°C");
      expect(read.ok && read.si).toBeCloseTo(kelvin);
    }
    expect(format(298.15, "temperature", "°C")).toBe("25");
    expect(format(298.15, "temperature", "°F")).toBe("77");
    expect(format(268.15, "temperature", "°C")).toBe("-5");
  });
});
