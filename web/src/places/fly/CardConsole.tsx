import { useEffect, useState } from "react";
import { type Card, type CardRecord, ProblemError, type Reading } from "../../api/client";
import { aRecord } from "../../api/records";
import { SpeakButton } from "../../components/SpeakButton";
import { CaptureInput } from "./CaptureInput";
import { HeldBar } from "./HeldBar";
import { PartsLookedAt } from "./PartsLookedAt";

interface Props {
  sortieId: string;
  card: Card;
  before: CardRecord | null;
  busy: boolean;
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
}

/** Whether a model has a motor, a stabiliser, flaps and a gear that folds. */
export interface FlownWith {
  motor: boolean;
  stabiliser: boolean;
  flaps: boolean;
  gear: boolean;
}

/** As short as a reason may be; the program asks for the same. */
const SHORTEST_REASON = 8;

interface Draft {
  mode: "pass_through" | "rate" | "self_level";
  flap: number;
  /** Where a gear that folds was; null: where the card wants it. */
  gear: "up" | "down" | null;
  /** Where the lever was, 0 to 1 of full; null: where the card wants it. */
  throttle: number | null;
  readings: Record<string, Reading>;
  leftAlone: boolean | null;
  confidence: "sure" | "fair" | "doubtful";
  note: string;
}

const EMPTY: Draft = {
  mode: "pass_through",
  flap: 0,
  gear: null,
  throttle: null,
  readings: {},
  leftAlone: null,
  confidence: "fair",
  note: "",
};

/** One card: title and what to do on top, what to capture in the middle, next at the thumb. A reload keeps every tap. */
export function CardConsole({
  sortieId,
  card,
  before,
  busy,
  onLog,
  onLeave,
  radio,
  inTheAir,
  fromMemory = false,
  flownWith,
  unplanned = false,
}: Props) {
  const [draft, setDraft] = useDraft(`jinba-draft-${sortieId}-${card.id}`, before);
  const [refused, setRefused] = useState<string | null>(null);
  const put = (reading: Reading | null, key: string) =>
    setDraft((d) => {
      const readings = { ...d.readings };
      if (reading) readings[key] = reading;
      else delete readings[key];
      return { ...d, readings };
    });
  const parts = card.captures.filter((c) => c.kind === "part");
  const couldNot = draft.leftAlone === false;
  // What was held and not yet which way is half a reading: it is asked for, whether the card needs it or not.
  const wayless = card.captures.filter((c) => isHalf(c, draft.readings[c.key]));
  const missing = [
    ...card.captures.filter((c) => c.required && !draft.readings[c.key]).map((c) => c.label),
    ...wayless.map((c) => `which way, ${c.label.toLowerCase()}`),
  ];
  const unsaid = unplanned && draft.note.trim().length < SHORTEST_REASON;
  const ready =
    !unsaid &&
    wayless.length === 0 &&
    (couldNot || missing.length === 0) &&
    (!card.proof_of_trim || draft.leftAlone !== null);
  const asksMode = card.phase === "flight" && flownWith?.stabiliser === true && card.requires !== "stabiliser";
  const asksThrottle = flownWith?.motor === true && card.throttle !== "";
  const asksFlap = card.phase === "flight" && flownWith?.flaps === true && card.requires !== "flap";
  const asksGear = card.phase === "flight" && flownWith?.gear === true;
  const wanted = card.gear_down ? "down" : "up";
  const record = (outcome: CardRecord["outcome"]): CardRecord =>
    aRecord({
      card_id: card.id,
      outcome,
      readings:
        outcome === "skipped"
          ? []
          : card.captures.flatMap((c) => {
              const said = draft.readings[c.key];
              return said && !isHalf(c, said) ? [said] : [];
            }),
      left_alone: card.proof_of_trim ? draft.leftAlone : null,
      confidence: draft.confidence,
      // Broken off in the middle of a tap: the half that was said goes along in words.
      note: [
        ...(draft.note ? [draft.note] : []),
        ...wayless.map(
          (c) => `${c.label}: ${Math.round((draft.readings[c.key]?.number ?? 0) * 100)} %, which way not said`,
        ),
      ].join("; "),
      conditions: {
        pack: "",
        ...(asksMode ? { mode: draft.mode } : {}),
        ...(asksFlap ? { flap: draft.flap } : {}),
        ...(asksGear ? { gear: draft.gear ?? wanted } : {}),
        ...(asksThrottle && draft.throttle !== null ? { throttle: draft.throttle } : {}),
      },
    });
  const send = (outcome: CardRecord["outcome"]) =>
    onLog(record(outcome)).then(
      () => forget(`jinba-draft-${sortieId}-${card.id}`),
      (e: unknown) =>
        setRefused(e instanceof ProblemError ? e.problem.title : "Not kept; your entries are still here."),
    );
  return (
    <section aria-label={`${card.id} ${card.title}`}>
      <h1 className="mt-1 text-[2.15rem] leading-tight font-bold">
        {card.id} {card.title}
      </h1>
      {card.condition ? <p className="text-xl font-semibold">{card.condition}</p> : null}
      <ol className="my-2 text-[1.375rem] leading-snug">
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
      {card.proof_of_trim ? (
        <fieldset className="mt-3">
          <legend className="mb-1 text-xl font-semibold">Hands off and level just before?</legend>
          <div className="grid grid-cols-2 gap-2">
            <button
              type="button"
              className="field-choice"
              aria-pressed={draft.leftAlone === true}
              onClick={() => setDraft((d) => ({ ...d, leftAlone: true }))}
            >
              yes, some seconds
            </button>
            <button
              type="button"
              className="field-choice"
              aria-pressed={couldNot}
              onClick={() => setDraft((d) => ({ ...d, leftAlone: false }))}
            >
              could not be left alone
            </button>
          </div>
        </fieldset>
      ) : null}
      {card.captures
        .filter((c) => c.kind !== "part")
        .map((c) => (
          <CaptureInput
            key={c.key}
            capture={c}
            reading={draft.readings[c.key] ?? null}
            onReading={(r) => put(r, c.key)}
          />
        ))}
      {parts.length > 0 ? <PartsLookedAt captures={parts} readings={draft.readings} onReading={put} /> : null}
      {asksThrottle ? (
        <Conditions
          legend="Throttle"
          options={[[null, card.throttle] as const, ...LEVERS.filter(([, words]) => words !== card.throttle)]}
          chosen={draft.throttle}
          onChoose={(throttle) => setDraft((d) => ({ ...d, throttle }))}
          warning={draft.throttle === null ? null : "Predicted for what was really used."}
        />
      ) : null}
      {asksMode ? (
        <Conditions
          legend="Stabiliser"
          options={MODES}
          chosen={draft.mode}
          onChoose={(mode) => setDraft((d) => ({ ...d, mode }))}
          warning={
            draft.mode === "pass_through" ? null : "Flown by the stabiliser: it says nothing of balance and trim."
          }
        />
      ) : null}
      {asksFlap ? (
        <Conditions
          legend="Flap"
          options={FLAPS}
          chosen={draft.flap}
          onChoose={(flap) => setDraft((d) => ({ ...d, flap }))}
          warning={
            draft.flap === 0 ? null : `Flown with flap: ${card.with_flap || "it says nothing of the clean model"}.`
          }
        />
      ) : null}
      {asksGear ? (
        <Conditions
          legend="Landing gear"
          options={GEAR}
          chosen={draft.gear ?? wanted}
          onChoose={(gear) => setDraft((d) => ({ ...d, gear }))}
          warning={
            (draft.gear ?? wanted) === wanted
              ? null
              : `Flown with the gear ${draft.gear}: what the nose does is believed half as much.`
          }
        />
      ) : null}
      <fieldset className="mt-4">
        <legend className="mb-1 text-lg font-semibold">How sure?</legend>
        <div className="grid grid-cols-3 gap-2">
          {(["sure", "fair", "doubtful"] as const).map((k) => (
            <button
              key={k}
              type="button"
              className="field-choice"
              aria-pressed={draft.confidence === k}
              onClick={() => setDraft((d) => ({ ...d, confidence: k }))}
            >
              {k}
            </button>
          ))}
        </div>
      </fieldset>
      <label className={`mt-3 block text-lg ${unplanned ? "font-semibold text-accent" : ""}`}>
        {unplanned ? "It was not planned: say in a few words why it was flown" : "Note"}
        <textarea
          className="textarea mt-1 w-full text-lg"
          rows={2}
          maxLength={2000}
          value={draft.note}
          onChange={(e) => setDraft((d) => ({ ...d, note: e.target.value }))}
        />
      </label>
      <SpeakButton
        what="note"
        onText={(text) =>
          setDraft((d) => ({
            ...d,
            note: [d.note, text]
              .filter((s) => s !== "")
              .join(" ")
              .slice(0, 2000),
          }))
        }
      />
      {refused ? (
        <p role="alert" className="mt-2 text-lg font-semibold text-error">
          {refused}
        </p>
      ) : null}
      {!ready ? (
        <p className="mt-2 text-lg">
          Still to say:{" "}
          {[
            ...(card.proof_of_trim && draft.leftAlone === null ? ["hands off just before"] : []),
            ...(couldNot ? wayless.map((c) => `which way, ${c.label.toLowerCase()}`) : missing),
            ...(unsaid ? ["why it was flown"] : []),
          ].join("; ")}
        </p>
      ) : null}
      <div
        className="sticky bottom-0 mt-2 grid grid-cols-[1fr_2fr] gap-2 border-t border-base-content bg-base-100 py-2"
        data-testid="thumb-bar"
      >
        <button
          type="button"
          className="field-choice"
          disabled={busy}
          onClick={() => (onLeave ? onLeave() : void send("skipped"))}
        >
          {onLeave ? "Back" : "Skip"}
        </button>
        <button
          type="button"
          className="field-choice bg-base-content text-base-100"
          disabled={!ready || busy}
          onClick={() => void send("done")}
        >
          {busy ? "Keeping…" : "Keep, next card"}
        </button>
        {card.phase === "flight" && inTheAir ? (
          <div className="col-span-2">
            <HeldBar
              words={fromMemory ? `Hold: ${card.id} was broken off` : `Hold to abort ${card.id}: fly the model first`}
              // What was tapped so far is evidence: it goes along.
              onHeld={() => void send("aborted")}
              disabled={busy}
            />
          </div>
        ) : null}
      </div>
    </section>
  );
}

function isHalf(capture: Card["captures"][number], reading: Reading | undefined): boolean {
  return (capture.directions ?? []).length > 0 && Boolean(reading?.number) && !reading?.direction;
}

const MODES = [
  ["pass_through", "off"],
  ["rate", "rates only"],
  ["self_level", "levelling"],
] as const;
const LEVERS = [
  [0, "idle"],
  [0.5, "half"],
  [1, "full"],
] as const;
const GEAR = [
  ["up", "up"],
  ["down", "down"],
] as const;
const FLAPS = [
  [0, "up"],
  [0.5, "part"],
  [1, "landing"],
] as const;

/** What it was flown in: as the card has it, one tap to differ. */
function Conditions<T extends string | number | null>({
  legend,
  options,
  chosen,
  onChoose,
  warning,
}: {
  legend: string;
  options: readonly (readonly [T, string])[];
  chosen: T;
  onChoose: (value: T) => void;
  warning: string | null;
}) {
  return (
    <fieldset className="mt-4">
      <legend className="mb-1 text-lg font-semibold">{legend}</legend>
      <div className={`grid gap-2 ${options.length > 3 ? "grid-cols-4" : "grid-cols-3"}`}>
        {options.map(([value, words]) => (
          <button
            key={words}
            type="button"
            className="field-choice"
            aria-label={`${legend}: ${words}`}
            aria-pressed={chosen === value}
            onClick={() => onChoose(value)}
          >
            {words}
          </button>
        ))}
      </div>
      {warning ? <p className="mt-1 text-lg font-semibold text-accent">{warning}</p> : null}
    </fieldset>
  );
}

function useDraft(key: string, before: CardRecord | null) {
  const [draft, setDraft] = useState<Draft>(() => read(key) ?? fromRecord(before));
  useEffect(() => {
    try {
      if (draft !== EMPTY) localStorage.setItem(key, JSON.stringify(draft));
    } catch {
      // Storage refused: the draft then lives as long as the page.
    }
  }, [key, draft]);
  return [draft, setDraft] as const;
}

function read(key: string): Draft | null {
  try {
    const kept = JSON.parse(localStorage.getItem(key) ?? "null") as Partial<Draft> | null;
    // A draft of an earlier version lacks what was not asked then.
    return kept && { ...EMPTY, ...kept };
  } catch {
    return null;
  }
}

function forget(key: string): void {
  try {
    localStorage.removeItem(key);
  } catch {
    // Nothing to forget.
  }
}

function fromRecord(record: CardRecord | null): Draft {
  if (!record) return EMPTY;
  const { mode, flap, gear, throttle } = record.conditions ?? {};
  return {
    mode: mode === "rate" || mode === "self_level" ? mode : "pass_through",
    flap: flap ?? 0,
    gear: gear ?? null,
    throttle: throttle ?? null,
    readings: Object.fromEntries(record.readings.map((r) => [r.key, r])),
    leftAlone: record.left_alone ?? null,
    confidence: record.confidence ?? "fair",
    note: record.note ?? "",
  };
}
