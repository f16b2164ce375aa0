import { type ReactNode, useState } from "react";
import type { Capture, Reading } from "../../api/client";
import { aReading } from "../../api/records";
import { useFlown } from "../../components/flown-context";
import { parse, type Quantity } from "../../domain/units";
import { RearView } from "../../drawing/RearView";
import { Stopwatch } from "./Stopwatch";

interface Props {
  capture: Capture;
  reading: Reading | null;
  onReading: (reading: Reading | null) => void;
}

/** One measure as large worded choices, laid out in the direction they mean. */
export function CaptureInput({ capture, reading, onReading }: Props) {
  return (
    <fieldset className="mt-4" data-capture={capture.key}>
      <legend className="mb-1 text-xl font-semibold">
        {capture.label}
        {capture.required ? "" : <span className="font-normal text-secondary"> (if you saw it)</span>}
      </legend>
      <Body capture={capture} reading={reading} onReading={onReading} />
    </fieldset>
  );
}

function Body({ capture, reading, onReading }: Props) {
  const choose = (choice: string) =>
    onReading(reading?.choice === choice ? null : aReading({ key: capture.key, choice }));
  switch (capture.kind) {
    case "rating":
      return capture.upright ? (
        <UprightRating {...{ capture, reading, choose }} />
      ) : (
        <SidewaysRating {...{ capture, reading, choose }} />
      );
    case "choice":
      return capture.as_seated ? (
        <WingChoice {...{ capture, reading, choose }} />
      ) : (
        <Choices {...{ capture, reading, choose }} />
      );
    case "yes_no":
      return <Choices {...{ capture, reading, choose }} />;
    case "timed":
      return <Stopwatch capture={capture} reading={reading} onReading={onReading} />;
    case "count":
      return <Clicks capture={capture} reading={reading} onReading={onReading} />;
    case "stick":
      return <Stick capture={capture} reading={reading} onReading={onReading} />;
    default:
      return <NumberEntry capture={capture} reading={reading} onReading={onReading} />;
  }
}

interface RatingProps {
  capture: Capture;
  reading: Reading | null;
  choose: (choice: string) => void;
}

interface WordProps extends Omit<RatingProps, "capture"> {
  option: Capture["options"][number];
  wide?: boolean;
  children?: ReactNode;
}

/** A large worded choice. */
function Word({ option, reading, choose, wide = false, children }: WordProps) {
  return (
    <button
      type="button"
      className={`field-choice ${wide ? "col-span-2" : ""} ${children ? "flex flex-col items-center px-1" : ""}`}
      aria-pressed={reading?.choice === option.key}
      onClick={() => choose(option.key)}
    >
      {children}
      {option.words}
    </button>
  );
}

/** Longer than this no word fits beside two others on a phone. */
const LONG_WORDS = 26;

function Choices({ capture, reading, choose }: RatingProps) {
  const long = capture.options.some((o) => o.words.length > LONG_WORDS);
  const columns = long ? 1 : Math.min(capture.options.length, 3);
  return (
    <div className="grid gap-2" style={{ gridTemplateColumns: `repeat(${columns}, 1fr)` }}>
      {capture.options.map((o) => (
        <Word key={o.key} option={o} reading={reading} choose={choose} />
      ))}
    </div>
  );
}

const BANK: Record<string, number> = { left: -24, right: 24 };

/** Which wing, as seated in the cockpit, with the model drawn from behind in that attitude. */
function WingChoice({ capture, reading, choose }: RatingProps) {
  const { airframe } = useFlown();
  return (
    <div className="grid grid-cols-3 gap-2">
      {capture.options.map((o) => (
        <Word key={o.key} option={o} reading={reading} choose={choose}>
          <RearView airframe={airframe} bankDeg={BANK[o.key] ?? 0} />
        </Word>
      ))}
      <p className="label-small col-span-3">Drawn from behind, as you sit in it.</p>
    </div>
  );
}

function UprightRating({ capture, reading, choose }: RatingProps) {
  return (
    <div className="grid gap-1.5">
      {[...capture.options].reverse().map((o) => (
        <Word key={o.key} option={o} reading={reading} choose={choose} />
      ))}
    </div>
  );
}

/** Left on the left, right on the right, the strong word outside; the middle below both. */
function SidewaysRating({ capture, reading, choose }: RatingProps) {
  const [farLeft, left, middle, right, farRight] = capture.options;
  const button = (o: Capture["options"][number] | undefined, wide = false) =>
    o ? <Word key={o.key} option={o} reading={reading} choose={choose} wide={wide} /> : null;
  return (
    <div className="grid grid-cols-2 gap-1.5">
      {button(farLeft)}
      {button(farRight)}
      {button(left)}
      {button(right)}
      {button(middle, true)}
    </div>
  );
}

function Clicks({ capture, reading, onReading }: Props) {
  const { directions } = useFlown();
  const [a, b] = capture.directions;
  const signed = reading?.number ? (reading.direction === a ? 1 : -1) * reading.number : 0;
  const put = (value: number) => {
    const direction = value > 0 ? a : b;
    onReading(
      value === 0 || !direction
        ? aReading({ key: capture.key, number: 0, none: true })
        : aReading({ key: capture.key, number: Math.abs(value), direction }),
    );
  };
  const words = (r: string | undefined) => (r ? directions?.responses[r] : undefined);
  const now =
    signed === 0 ? (reading ? "none" : "not counted") : `${Math.abs(signed)} ${words(signed > 0 ? a : b)?.model ?? ""}`;
  return (
    <div>
      <p className="mb-1 text-2xl font-bold" aria-live="polite">
        {now}
      </p>
      <div className="grid grid-cols-2 gap-2">
        {[a, b].map((r, i) => (
          <button key={r} type="button" className="field-choice" onClick={() => put(signed + (i === 0 ? 1 : -1))}>
            a click {words(r)?.model}
            <span className="block text-lg font-normal">{words(r)?.trim_lever}</span>
          </button>
        ))}
      </div>
      <button type="button" className="mt-1 min-h-11 text-lg underline" onClick={() => put(0)}>
        none needed
      </button>
    </div>
  );
}

const FRACTIONS = [0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.75, 1];

function Stick({ capture, reading, onReading }: Props) {
  const { directions } = useFlown();
  // Nothing stands there beforehand: a way that nobody chose would be logged as if it had been held.
  const [direction, setDirection] = useState(reading?.direction ?? null);
  const [amount, setAmount] = useState(reading ? (reading.number ?? 0) : null);
  const words = (r: string) => directions?.responses[r]?.stick ?? r;
  const put = (number: number | null, way: typeof direction) => {
    setAmount(number);
    setDirection(way);
    if (number === 0) onReading(aReading({ key: capture.key, number: 0, none: true }));
    else onReading(number ? aReading({ key: capture.key, number, direction: way }) : null);
  };
  return (
    <div>
      <div className="mb-2 grid grid-cols-2 gap-2">
        {capture.directions.map((r) => (
          <button
            key={r}
            type="button"
            className="field-choice"
            aria-pressed={direction === r}
            onClick={() => put(amount, r)}
          >
            {words(r)}
          </button>
        ))}
      </div>
      {amount && !direction ? (
        <p role="status" className="mb-2 text-lg font-semibold text-accent">
          Which way was it held?
        </p>
      ) : null}
      <div className="grid grid-cols-4 gap-2">
        {FRACTIONS.map((f) => (
          <button
            key={f}
            type="button"
            className="field-choice px-1"
            aria-pressed={amount === f}
            onClick={() => put(f, direction)}
          >
            {f === 0 ? "none" : f === 1 ? "full" : `${Math.round(f * 100)} %`}
          </button>
        ))}
      </div>
    </div>
  );
}

const QUANTITY: Record<string, Quantity> = { m: "length", "m/s": "speed", V: "volts", min: "minutes", mm: "length" };
const SHOWN: Record<string, string> = { m: "m", "m/s": "m/s", V: "V", min: "min", mm: "mm" };

function NumberEntry({ capture, reading, onReading }: Props) {
  const unit = capture.unit || "";
  const perUnit = unit === "mm" ? 0.001 : 1;
  const [text, setText] = useState(
    reading?.number !== null && reading?.number !== undefined ? String(reading.number) : "",
  );
  const [error, setError] = useState<string | null>(null);
  const commit = () => {
    if (text.trim() === "") {
      setError(null);
      return onReading(null);
    }
    const parsed = parse(text, QUANTITY[unit] ?? "time", SHOWN[unit] ?? "s");
    if (!parsed.ok) return setError(parsed.reason);
    if (parsed.si < 0) return setError("Enter it without a minus sign.");
    setError(null);
    const number = Math.round((parsed.si / perUnit) * 1000) / 1000;
    onReading(aReading({ key: capture.key, number, entered: text.trim().slice(0, 40) }));
  };
  return (
    <div>
      <label className="flex items-center gap-2 text-xl">
        <input
          className="input h-14 w-40 text-2xl"
          inputMode="decimal"
          aria-label={capture.label}
          value={text}
          aria-invalid={error !== null}
          onChange={(e) => setText(e.target.value)}
          onBlur={commit}
          onKeyDown={(e) => e.key === "Enter" && commit()}
        />
        {unit}
      </label>
      {error ? (
        <p role="alert" className="text-lg font-semibold text-error">
          {error}
        </p>
      ) : null}
    </div>
  );
}
