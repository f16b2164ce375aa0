import type { Card } from "../../../api/client";
import { type Asked, type Draft, gearWanted } from "./draft";

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

const wordsOf = <T,>(options: readonly (readonly [T, string])[], value: T) => options.find(([v]) => v === value)?.[1];

/** What a card is flown in, in a line: as the card has it, and what was otherwise. */
export function conditionsSaid(card: Card, draft: Draft, ask: Asked): string {
  const otherwise = [
    ask.throttle && draft.throttle !== null
      ? `throttle ${wordsOf(LEVERS, draft.throttle) ?? `${draft.throttle * 100} %`}`
      : "",
    ask.mode && draft.mode !== "pass_through" ? `stabiliser ${wordsOf(MODES, draft.mode)}` : "",
    ask.flap && draft.flap !== 0 ? `flap ${wordsOf(FLAPS, draft.flap) ?? `${draft.flap * 100} %`}` : "",
    ask.gear && draft.gear !== null && draft.gear !== gearWanted(card) ? `gear ${draft.gear}` : "",
  ].filter((s) => s !== "");
  const planned = card.condition || "as it is";
  return otherwise.length > 0 ? `${planned} – flown with ${otherwise.join(", ")}` : planned;
}

interface Props {
  card: Card;
  draft: Draft;
  setDraft: (change: (d: Draft) => Draft) => void;
  ask: Asked;
}

/** What it was flown in: as the card has it, one tap to differ. */
export function Conditions({ card, draft, setDraft, ask }: Props) {
  const wanted = gearWanted(card);
  const gear = draft.gear ?? wanted;
  return (
    <div>
      <h2 tabIndex={-1} data-heading className="text-2xl font-bold outline-none">
        Flown in what?
      </h2>
      {Object.values(ask).some(Boolean) ? null : (
        <p className="text-lg">{card.condition || "Nothing is asked of this model."}</p>
      )}
      {ask.throttle ? (
        <Row
          legend="Throttle"
          options={[[null, card.throttle] as const, ...LEVERS.filter(([, words]) => words !== card.throttle)]}
          chosen={draft.throttle}
          onChoose={(throttle) => setDraft((d) => ({ ...d, throttle }))}
          warning={draft.throttle === null ? null : "Predicted for what was really used."}
        />
      ) : null}
      {ask.mode ? (
        <Row
          legend="Stabiliser"
          options={MODES}
          chosen={draft.mode}
          onChoose={(mode) => setDraft((d) => ({ ...d, mode }))}
          warning={
            draft.mode === "pass_through" ? null : "Flown by the stabiliser: it says nothing of balance and trim."
          }
        />
      ) : null}
      {ask.flap ? (
        <Row
          legend="Flap"
          options={FLAPS}
          chosen={draft.flap}
          onChoose={(flap) => setDraft((d) => ({ ...d, flap }))}
          warning={
            draft.flap === 0 ? null : `Flown with flap: ${card.with_flap || "it says nothing of the clean model"}.`
          }
        />
      ) : null}
      {ask.gear ? (
        <Row
          legend="Landing gear"
          options={GEAR}
          chosen={gear}
          onChoose={(up) => setDraft((d) => ({ ...d, gear: up }))}
          warning={gear === wanted ? null : `Flown with the gear ${gear}: what the nose does is believed half as much.`}
        />
      ) : null}
    </div>
  );
}

function Row<T extends string | number | null>({
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
    <fieldset className="mt-3">
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
