import { type ReactNode, useEffect, useRef, useState } from "react";
import { type Card, type CardRecord, ProblemError, type Reading } from "../../api/client";
import { useFlown } from "../../components/flown-context";
import { useSettings } from "../../components/settings-context";
import { CaptureInput } from "./CaptureInput";
import { Conditions, conditionsSaid } from "./card/Conditions";
import { asked, type Draft, forgetDraft, fromRecord, recordOf, useDraft } from "./card/draft";
import { Keeping } from "./card/Keeping";
import { useConsoleKeys } from "./card/keys";
import { saidOf } from "./card/said";
import {
  answered,
  CONDITIONS,
  FLYING,
  KEEP,
  movesOn,
  nextOf,
  orderOf,
  PARTS,
  PROOF,
  partsOf,
  startOf,
  before as stepBefore,
  stillToSay,
} from "./card/steps";
import { HeldBar } from "./HeldBar";
import { PartsLookedAt } from "./PartsLookedAt";
import { SpokenAnswer } from "./SpokenAnswer";
import { Telemetry } from "./Telemetry";

interface Props {
  sortieId: string;
  card: Card;
  before: CardRecord | null;
  /** Nothing can be said now. */
  busy?: boolean;
  onLog: (record: CardRecord) => Promise<unknown>;
  onLeave: (() => void) | null;
  /** What stood in the radio before this card, in words. */
  radio?: string | undefined;
  /** Whether something is in the air that can be aborted. */
  inTheAir: boolean;
  /** It is logged after the landing: what was broken off is said, not done. */
  fromMemory?: boolean;
  /** What of the model may have flown it: asked only where it is there, and not by a card that is about it. */
  flownWith?: FlownWith;
  /** It is not on the sortie's list: it is taken with a line of reason. */
  unplanned?: boolean;
  /** Marks the take-off, from which the minutes count; null where it is marked already, or not this card's. */
  onTakeOff?: (() => void) | null;
  /** Opens what is noted beside the card: a photo, a voice, a word. */
  onNote?: () => void;
  /** Whether a telemetry link tells what it does. */
  linked?: boolean;
  /** What is noted at this moment, instead of the card: the abort stays within reach. */
  sheet?: ((abort: ReactNode) => ReactNode) | null;
}

/** Whether a model has a motor, a stabiliser, flaps and a gear that folds. */
export interface FlownWith {
  motor: boolean;
  stabiliser: boolean;
  flaps: boolean;
  gear: boolean;
}

/** One card, one question on a screen: what to fly, what it did, then kept. A reload keeps every tap and the place. */
export function CardConsole(props: Props) {
  const { sortieId, card, before, busy = false, onLog, onLeave, radio, flownWith, unplanned = false } = props;
  const key = `jinba-draft-${sortieId}-${card.id}`;
  const start = (): Draft => {
    const said = fromRecord(before);
    return before ? { ...said, at: startOf(card, said) } : said;
  };
  const [draft, setDraft] = useDraft(key, start);
  const [refused, setRefused] = useState<string | null>(null);
  const ask = asked(card, flownWith);
  const still = stillToSay(card, draft, unplanned);
  const order = orderOf(card);
  const at =
    order.includes(draft.at) || card.captures.some((c) => c.key === draft.at) || draft.at === CONDITIONS
      ? draft.at
      : FLYING;
  const capture = card.captures.find((c) => c.key === at);
  const section = useRef<HTMLElement>(null);

  const goTo = (step: string) => setDraft((d) => ({ ...d, at: step }));
  const toConditions = () => setDraft((d) => (at === CONDITIONS ? d : { ...d, from: at, at: CONDITIONS }));
  const linkTold = useRef<readonly Reading[]>([]);
  // What was said by hand stays; the rest is filled in from the link, marked.
  const withLink = (d: Draft): Draft => ({
    ...d,
    readings: { ...Object.fromEntries(linkTold.current.map((r) => [r.key, r])), ...d.readings },
  });
  const onward = () =>
    setDraft((d) => {
      const said = at === FLYING ? withLink(d) : d;
      return { ...said, at: nextOf(card, said, at) };
    });
  const back = () => goTo(at === CONDITIONS ? draft.from : stepBefore(card, at));
  const put = (reading: Reading | null, which: string) =>
    setDraft((d) => {
      const readings = { ...d.readings };
      if (reading) readings[which] = reading;
      else delete readings[which];
      const said = { ...d, readings };
      const of = card.captures.find((c) => c.key === which);
      return of && of.kind !== "part" && movesOn(of, reading) ? { ...said, at: nextOf(card, said, which) } : said;
    });
  const undo = () => {
    const last = [...order]
      .reverse()
      .find((s) => (s === at ? s !== KEEP : order.indexOf(s) < order.indexOf(at)) && answered(card, draft, s));
    if (!last) return;
    setDraft((d) => {
      const { [last]: _, ...readings } = d.readings;
      return { ...d, readings, at: last, leftAlone: last === PROOF ? null : d.leftAlone };
    });
  };
  // A second tap while the first is being kept is the same one.
  const keeping = useRef(false);
  const send = async (outcome: CardRecord["outcome"]) => {
    if (keeping.current) return;
    keeping.current = true;
    try {
      await onLog(recordOf(card, outcome === "aborted" ? withLink(draft) : draft, outcome, ask));
      forgetDraft(key);
    } catch (e) {
      setRefused(e instanceof ProblemError ? e.problem.title : "Not kept; your entries are still here.");
    } finally {
      keeping.current = false;
    }
  };
  const keep = () => {
    if (still.length === 0 && !busy) void send("done");
  };
  const primary = at === KEEP ? keep : at === CONDITIONS ? back : onward;
  useConsoleKeys(section, { primary, back, undo });
  useTheTop(section, at);

  const shared = { card, draft, setDraft };
  const abort = <Abort {...props} onAbort={() => void send("aborted")} />;
  if (props.sheet) return props.sheet(abort);
  return (
    <section ref={section} aria-label={`${card.id} ${card.title}`} className="console" data-step={at}>
      <Head card={card} small={at !== FLYING}>
        <ol className="console-strip" aria-label="said so far">
          {at === FLYING ? null : <Strip {...shared} at={at} onGo={goTo} />}
          <li>
            <button type="button" className="console-conditions" onClick={toConditions} data-testid="conditions">
              {conditionsSaid(card, draft, ask)}
            </button>
          </li>
        </ol>
      </Head>
      <div className="console-body">
        {at === FLYING ? <WhatToFly card={card} radio={radio} unplanned={unplanned} /> : null}
        {at === FLYING && props.linked ? <Telemetry sortieId={sortieId} card={card} taken={linkTold} /> : null}
        {at === FLYING && props.onTakeOff ? (
          <button type="button" className="field-choice mt-3 w-full" data-testid="take-off" onClick={props.onTakeOff}>
            Taking off now: start the clock
          </button>
        ) : null}
        {at === PROOF ? <Proof {...shared} /> : null}
        {capture && capture.kind !== "part" ? (
          <CaptureInput
            key={capture.key}
            capture={capture}
            reading={draft.readings[capture.key] ?? null}
            onReading={(r) => put(r, capture.key)}
            onEntered={onward}
            drawn={!card.inverted}
            watch={`jinba-watch-${sortieId}-${card.id}-${capture.key}`}
          />
        ) : null}
        {capture && capture.kind !== "part" ? (
          <SpokenAnswer key={`say-${capture.key}`} capture={capture} onReading={(r) => put(r, capture.key)} />
        ) : null}
        {at === PARTS ? <PartsLookedAt captures={partsOf(card)} readings={draft.readings} onReading={put} /> : null}
        {at === CONDITIONS ? <Conditions {...shared} ask={ask} /> : null}
        {at === KEEP ? <Keeping {...shared} still={still} unplanned={unplanned} onGo={goTo} /> : null}
      </div>
      {refused ? (
        <p role="alert" className="mt-2 text-lg font-semibold text-error">
          {refused}
        </p>
      ) : null}
      <Bar
        {...props}
        at={at}
        ready={still.length === 0}
        answered={answered(card, draft, at)}
        needed={capture?.required ?? true}
      >
        {{
          leave: () => (onLeave ? onLeave() : void send("skipped")),
          back,
          onward: at === CONDITIONS ? back : onward,
          keep,
          abort,
        }}
      </Bar>
    </section>
  );
}

/** A new question is read from its top, by eye and by a reader of the screen. */
function useTheTop(section: React.RefObject<HTMLElement | null>, at: string): void {
  const first = useRef(true);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the step is what it waits for
  useEffect(() => {
    if (first.current) {
      first.current = false;
      return;
    }
    window.scrollTo({ top: 0 });
    section.current?.querySelector<HTMLElement>("[data-heading]")?.focus({ preventScroll: true });
  }, [at]);
}

function Head({ card, small, children }: { card: Card; small: boolean; children: ReactNode }) {
  return (
    <header className="console-head">
      <h1
        tabIndex={-1}
        {...(small ? {} : { "data-heading": true })}
        className={
          small ? "text-lg font-semibold text-secondary" : "console-title leading-tight font-bold outline-none"
        }
      >
        {card.id} {card.title}
      </h1>
      {children}
    </header>
  );
}

interface WhatProps {
  card: Card;
  radio: string | undefined;
  unplanned: boolean;
}

function WhatToFly({ card, radio, unplanned }: WhatProps) {
  return (
    <>
      {unplanned ? (
        <p className="text-lg font-semibold text-accent">
          It is not on this sortie's list: at its end you say why it was flown.
        </p>
      ) : null}
      <ol className="my-1 text-[1.375rem] leading-snug">
        {card.steps.map((s) => (
          <li key={s}>{s}</li>
        ))}
      </ol>
      {[...card.cautions, ...(card.abort_when ? [card.abort_when] : [])].map((c) => (
        <p key={c} className="text-lg font-semibold text-accent">
          {c}
        </p>
      ))}
      {radio ? (
        <p className="mt-2 border-l-4 border-l-base-content pl-2 text-xl font-semibold" data-testid="radio-stands">
          {radio}
        </p>
      ) : null}
    </>
  );
}

interface Shared {
  card: Card;
  draft: Draft;
  setDraft: (change: (d: Draft) => Draft) => void;
}

function Proof({ card, draft, setDraft }: Shared) {
  const say = (leftAlone: boolean) =>
    setDraft((d) => {
      const said = { ...d, leftAlone };
      return { ...said, at: nextOf(card, said, PROOF) };
    });
  return (
    <fieldset className="console-question">
      <legend tabIndex={-1} data-heading className="mb-2 text-2xl font-bold outline-none">
        Hands off and level just before?
      </legend>
      <div className="console-answers">
        {(
          [
            [true, "yes, some seconds"],
            [false, "could not be left alone"],
          ] as const
        ).map(([value, words]) => (
          <button
            key={words}
            type="button"
            className="field-choice"
            data-answer
            aria-pressed={draft.leftAlone === value}
            onClick={() => say(value)}
          >
            {words}
          </button>
        ))}
      </div>
    </fieldset>
  );
}

/** What was said so far, and what is still asked: each is one tap away. */
function Strip({ card, draft, at, onGo }: Shared & { at: string; onGo: (step: string) => void }) {
  const { directions } = useFlown();
  const { show } = useSettings();
  const words = (step: string) => {
    if (step === PROOF) return draft.leftAlone === null ? "" : draft.leftAlone ? "hands off" : "not left alone";
    if (step === PARTS) return answered(card, draft, PARTS) ? "parts looked at" : "";
    const capture = card.captures.find((c) => c.key === step);
    return capture ? saidOf(capture, draft.readings[step], directions, show) : "";
  };
  const named = (step: string) =>
    card.captures.find((c) => c.key === step)?.label ?? (step === PROOF ? "Hands off just before" : "Every part");
  const steps = orderOf(card).slice(1, -1);
  return steps.map((step, i) => {
    const said = words(step);
    return (
      <li key={step}>
        <button
          type="button"
          data-ask={step}
          aria-current={step === at ? "step" : undefined}
          aria-label={`${said || `${i + 1} of ${steps.length}`}: ${named(step)}`}
          onClick={() => onGo(step)}
        >
          {said || `${i + 1} of ${steps.length}`}
        </button>
      </li>
    );
  });
}

interface BarProps extends Props {
  at: string;
  ready: boolean;
  answered: boolean;
  needed: boolean;
  children: { leave: () => void; back: () => void; onward: () => void; keep: () => void; abort: ReactNode };
}

/** What the thumb reaches: back, on, and the abort that has to be held. */
function Bar({ card, at, busy = false, ready, answered, needed, onLeave, onNote, children: act }: BarProps) {
  const first = at === FLYING;
  return (
    <div className={`console-bar ${onNote ? "console-bar-noting" : ""}`} data-testid="thumb-bar">
      <button type="button" className="field-choice" disabled={busy} onClick={first ? act.leave : act.back}>
        {first && !onLeave ? "Skip" : "Back"}
      </button>
      {onNote ? (
        <button type="button" className="field-choice" disabled={busy} onClick={onNote} data-testid="note">
          Note
        </button>
      ) : null}
      {at === KEEP ? (
        <button
          type="button"
          className="field-choice bg-base-content text-base-100"
          disabled={!ready || busy}
          onClick={act.keep}
          data-onward
        >
          {busy ? "Keeping…" : "Keep, next card"}
        </button>
      ) : (
        <button
          type="button"
          className={`field-choice ${first || answered ? "bg-base-content text-base-100" : ""}`}
          disabled={busy}
          onClick={act.onward}
          data-onward
          {...(first ? { "data-start": true } : {})}
        >
          {first ? (card.phase === "flight" ? "Flown: log it" : "Done: log it") : onwardWords(at, answered, needed)}
        </button>
      )}
      {act.abort}
    </div>
  );
}

/** Held from anywhere while a card is flown: what was tapped so far is evidence and goes along. */
function Abort({ card, inTheAir, fromMemory = false, busy = false, onAbort }: Props & { onAbort: () => void }) {
  if (card.phase !== "flight" || !inTheAir) return null;
  return (
    <HeldBar
      words={fromMemory ? `Hold: ${card.id} was broken off` : `Hold to abort ${card.id}: fly the model first`}
      {...(fromMemory ? {} : { short: "Hold: abort" })}
      onHeld={onAbort}
      disabled={busy}
    />
  );
}

function onwardWords(at: string, answered: boolean, needed: boolean): string {
  if (at === CONDITIONS || at === PARTS || answered) return "Next";
  return needed ? "Later" : "Not seen";
}
