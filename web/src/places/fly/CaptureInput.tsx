import { type ReactNode, useState } from "react";
import type { Capture, Reading } from "../../api/client";
import { aReading } from "../../api/records";
import { useFlown } from "../../components/flown-context";
import { parse } from "../../domain/units";
import { RearView } from "../../drawing/RearView";
import { ByTheClock, WaitFor } from "./AfterLanding";
import { drawnAnswer } from "./Answer";
import { plainOf } from "./card/quantities";
import { Stopwatch } from "./Stopwatch";

interface Props {
  capture: Capture;
  reading: Reading | null;
  onReading: (reading: Reading | null) => void;
  /** Enter after an entry: on to the next. */
  onEntered?: (() => void) | undefined;
  /** Answers are drawn; upside down they are not: left and right would be read the other way round. */
  drawn?: boolean;
  /** Where a running watch is kept, so that it survives a reload. */
  watch?: string | undefined;
}

/** One measure as large worded choices, laid out in the direction they mean, drawn where a drawing says more. */
export function CaptureInput(props: Props) {
  const { capture } = props;
  return (
    <fieldset className="console-question" data-capture={capture.key}>
      <legend tabIndex={-1} data-heading className="mb-2 text-2xl leading-tight font-bold outline-none">
        {capture.label}
        {capture.required ? "" : <span className="font-normal text-secondary"> ({ifKnown(capture)})</span>}
      </legend>
      <Body {...props} />
    </fieldset>
  );
}

/** What is optional is said where it is known: read by an instrument, or seen. */
export function ifKnown(capture: Capture): string {
  return capture.kind === "reading" || capture.kind === "surface" ? "if you read it" : "if you saw it";
}

function Body({ capture, reading, onReading, onEntered, watch, drawn = true }: Props) {
  const choose = (choice: string) =>
    onReading(reading?.choice === choice ? null : aReading({ key: capture.key, choice }));
  switch (capture.kind) {
    case "rating":
      return capture.upright ? (
        <UprightRating {...{ capture, reading, choose, drawn }} />
      ) : (
        <SidewaysRating {...{ capture, reading, choose, drawn }} />
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
      return (
        <Stopwatch capture={capture} reading={reading} onReading={onReading} onEntered={onEntered} watch={watch} />
      );
    case "count":
      return <Clicks capture={capture} reading={reading} onReading={onReading} />;
    case "stick":
      return <Stick capture={capture} reading={reading} onReading={onReading} />;
    default:
      return <NumberEntry capture={capture} reading={reading} onReading={onReading} onEntered={onEntered} />;
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

/** A large worded choice, with what it means drawn beside or above it. */
function Word({ option, reading, choose, wide = false, children }: WordProps) {
  return (
    <button
      type="button"
      data-answer
      className={`field-choice ${wide ? "col-span-2" : ""} ${children ? "console-with-drawing" : ""}`}
      aria-pressed={reading?.choice === option.key}
      onClick={() => choose(option.key)}
    >
      {children}
      <span>{option.words}</span>
    </button>
  );
}

/** Longer than this no word fits beside two others on a phone. */
const LONG_WORDS = 26;

function Choices({ capture, reading, choose }: RatingProps) {
  const long = capture.options.some((o) => o.words.length > LONG_WORDS);
  const columns = long ? 1 : Math.min(capture.options.length, 3);
  return (
    <div className="console-answers" style={{ gridTemplateColumns: `repeat(${columns}, 1fr)` }}>
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
    <>
      <div className="console-answers grid-cols-3">
        {capture.options.map((o) => (
          <Word key={o.key} option={o} reading={reading} choose={choose}>
            <RearView airframe={airframe} bankDeg={BANK[o.key] ?? 0} />
          </Word>
        ))}
      </div>
      <p className="label-small">Drawn from behind, as you sit in it.</p>
    </>
  );
}

/** Up is above, down is below. Where the screen is low the two ups stand side by side, and the two downs. */
function UprightRating({ capture, reading, choose, drawn }: RatingProps & { drawn: boolean }) {
  const { airframe } = useFlown();
  const keys = capture.options.map((o) => o.key);
  return (
    <div className="console-answers console-upright">
      {[...capture.options].reverse().map((o) => (
        <Word key={o.key} option={o} reading={reading} choose={choose}>
          {drawn ? drawnAnswer(keys, o.key, airframe) : null}
        </Word>
      ))}
    </div>
  );
}

/** Left on the left, right on the right, the strong word outside; the middle below both. */
function SidewaysRating({ capture, reading, choose, drawn }: RatingProps & { drawn: boolean }) {
  const { airframe } = useFlown();
  const keys = capture.options.map((o) => o.key);
  const [farLeft, left, middle, right, farRight] = capture.options;
  const button = (o: Capture["options"][number] | undefined, wide = false) =>
    o ? (
      <Word key={o.key} option={o} reading={reading} choose={choose} wide={wide}>
        {drawn ? drawnAnswer(keys, o.key, airframe) : null}
      </Word>
    ) : null;
  return (
    <div className="console-answers console-sideways grid-cols-2">
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
    <div className="flex flex-1 flex-col">
      <p className="mb-1 text-2xl font-bold" aria-live="polite">
        {now}
      </p>
      <div className="console-answers grid-cols-2">
        {[a, b].map((r, i) => (
          <button
            key={r}
            type="button"
            data-answer
            className="field-choice"
            onClick={() => put(signed + (i === 0 ? 1 : -1))}
          >
            a click {words(r)?.model}
            <span className="block text-lg font-normal">{words(r)?.trim_lever}</span>
          </button>
        ))}
      </div>
      <button type="button" data-answer className="field-choice mt-2 w-full" onClick={() => put(0)}>
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
    <div className="flex flex-1 flex-col">
      <div className="console-answers mb-2 grid-cols-2">
        {capture.directions.map((r) => (
          <button
            key={r}
            type="button"
            data-answer
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
      <div className="console-answers grid-cols-4">
        {FRACTIONS.map((f) => (
          <button
            key={f}
            type="button"
            data-answer
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

function NumberEntry({ capture, reading, onReading, onEntered }: Props) {
  const unit = capture.unit || "";
  const plain = plainOf(unit);
  const [text, setText] = useState(
    reading?.number !== null && reading?.number !== undefined ? String(reading.number) : "",
  );
  const [error, setError] = useState<string | null>(null);
  /** Keep what is typed as it is typed, so that no way off the question loses it; returns why it cannot be kept. */
  const take = (entry: string): string | null => {
    setText(entry);
    if (entry.trim() === "") {
      onReading(null);
      return null;
    }
    const parsed = parse(entry, plain.quantity, plain.typed);
    if (!parsed.ok || parsed.si < 0) {
      onReading(null);
      return parsed.ok ? "Enter it without a minus sign." : parsed.reason;
    }
    const number = Math.round((parsed.si / plain.si) * 1000) / 1000;
    onReading(aReading({ key: capture.key, number, entered: entry.trim().slice(0, 40) }));
    return null;
  };
  const settle = (entry: string): boolean => {
    // Looked at and left as the link gave it, it stays the link's.
    if (reading?.telemetry && entry === String(reading.number)) return true;
    const wrong = take(entry);
    setError(wrong);
    return wrong === null;
  };
  return (
    <div>
      <WaitFor minutes={capture.wait_minutes ?? 0} />
      {capture.by_clock ? <ByTheClock onTake={(m) => settle(m.toFixed(1)) && onEntered?.()} /> : null}
      <label className="flex items-center gap-2 text-xl">
        <input
          className="input h-14 w-40 text-2xl"
          inputMode="decimal"
          aria-label={capture.label}
          value={text}
          aria-invalid={error !== null}
          onChange={(e) => void take(e.target.value)}
          onBlur={(e) => settle(e.target.value)}
          onKeyDown={(e) => e.key === "Enter" && settle(text) && onEntered?.()}
        />
        {unit}
        {reading?.telemetry ? <span className="text-lg text-secondary">from telemetry</span> : null}
      </label>
      {error ? (
        <p role="alert" className="text-lg font-semibold text-error">
          {error}
        </p>
      ) : null}
    </div>
  );
}
