import { type RefObject, useEffect, useState } from "react";
import type { Card, Reading } from "../../api/client";
import { useFlown } from "../../components/flown-context";
import { useSettings } from "../../components/settings-context";
import { RearView } from "../../drawing/RearView";
import { type Told, useTelemetry } from "../../queries/telemetry";
import { Nose } from "./Answer";
import { saidOf } from "./card/said";
import { keepSince, keptSince } from "./kept-since";

interface Props {
  sortieId: string;
  card: Card;
  /** Where the measures go that the link gives: taken when the card is said to be flown. */
  taken: RefObject<readonly Reading[]>;
}

const degrees = (rad: number | null | undefined) => Math.round(((rad ?? 0) * 180) / Math.PI);

/** What a link tells while a card is flown. In a rehearsal a simulated model flies it, in its own time. */
export function Telemetry({ sortieId, card, taken }: Props) {
  const key = `jinba-link-${sortieId}-${card.id}`;
  const [begun, setBegun] = useState<number | null>(() => keptSince(key));
  const { data, error, refetch } = useTelemetry(sortieId, card.id, begun);
  useEffect(() => {
    taken.current = data?.taken ?? [];
  }, [data, taken]);
  const begin = () => {
    const now = Date.now();
    keepSince(key, now);
    setBegun(now);
  };
  const inTheAir = card.phase === "flight";
  const failed = error ? (
    <div className="mt-2 flex flex-wrap items-center justify-between gap-2 border-l-4 border-l-accent pl-2 text-lg">
      <p role="status" className="font-semibold">
        The link is lost. Go on by eye and watch.
      </p>
      <button type="button" className="btn min-h-14 text-lg" onClick={() => void refetch()}>
        Ask again
      </button>
    </div>
  ) : null;
  if (begun === null)
    return (
      <button type="button" className="field-choice mt-3 w-full" data-testid="link" onClick={begin}>
        {inTheAir ? "Telemetry: watch the stand-in fly it" : "Telemetry: read what the flight took"}
      </button>
    );
  // While it flies the link is looked at: it stands above the steps, which have been read.
  return (
    <section
      className={`border-2 border-base-content p-2 ${inTheAir ? "order-first mb-3" : "mt-3"}`}
      aria-label="Telemetry"
      data-testid="telemetry"
    >
      <h2 className="flex items-baseline justify-between gap-2 text-lg">
        <span className="font-semibold">Telemetry, simulated</span>
        {data && inTheAir ? (
          <span className="tabular-nums">{data.ended ? "flown" : `${data.seconds.toFixed(0)} s`}</span>
        ) : null}
      </h2>
      {failed}
      {data && inTheAir ? <Now told={data} /> : null}
      {data?.ended ? (
        <Given card={card} told={data} onAgain={inTheAir ? begin : null} />
      ) : data || error ? null : (
        <p>The link is made…</p>
      )}
    </section>
  );
}

/** The newest line: where it is and how it lies, in numbers and drawn as the pilot sees it. */
function Now({ told }: { told: Told }) {
  const { show } = useSettings();
  const { airframe } = useFlown();
  const { now } = told;
  if (!now) return <p>Nothing told yet.</p>;
  const bank = degrees(now.bank_rad);
  const nose = degrees(now.pitch_rad);
  const figures = [
    ["speed", show(now.airspeed_mps, "speed")],
    ["height", show(now.height_m, "distance")],
    ...(now.volts === null || now.volts === undefined ? [] : [["pack", show(now.volts, "volts")]]),
    ...(now.current_a === null || now.current_a === undefined ? [] : [["current", show(now.current_a, "current")]]),
    ...(now.wind_mps === null || now.wind_mps === undefined ? [] : [["wind", show(now.wind_mps, "speed")]]),
  ];
  return (
    <>
      <dl className="grid grid-cols-2 gap-x-3 sm:grid-cols-5">
        {figures.map(([name, value]) => (
          <div key={name} className="flex items-baseline justify-between gap-2 sm:block">
            <dt className="text-base">{name}</dt>
            <dd className="text-2xl font-bold whitespace-nowrap tabular-nums sm:text-xl">{value}</dd>
          </div>
        ))}
      </dl>
      <div className="mt-4 grid grid-cols-2 items-end gap-3 text-base">
        <p className="[&>svg]:overflow-visible">
          <Nose airframe={airframe} up={nose} />
          <span className="mt-4 block">
            {nose === 0 ? "nose level" : `nose ${Math.abs(nose)}° ${nose > 0 ? "up" : "down"}`}
          </span>
        </p>
        <p className="[&>svg]:ml-0 [&>svg]:overflow-visible">
          <RearView airframe={airframe} bankDeg={bank} heights={1} size={84} />
          <span className="mt-4 block">
            {bank === 0 ? "wings level" : `${bank > 0 ? "right" : "left"} wing ${Math.abs(bank)}° down`}
          </span>
        </p>
      </div>
    </>
  );
}

/** What the link has given of the card's measures; the rest is the pilot's to say. */
function Given({ card, told, onAgain }: { card: Card; told: Told; onAgain: (() => void) | null }) {
  const { directions } = useFlown();
  const { show } = useSettings();
  const given = card.captures.flatMap((c) => {
    const reading = told.taken.find((r) => r.key === c.key);
    return reading ? [{ label: c.label, said: saidOf(c, reading, directions, show) }] : [];
  });
  return (
    <div role="status">
      {given.length > 0 ? (
        <ul className="mt-1" aria-label="filled in from telemetry">
          {given.map((g) => (
            <li key={g.label} className="flex flex-wrap justify-between gap-x-3 border-t border-base-300 py-1 text-lg">
              <span>{g.label}</span>
              <strong>{g.said}</strong>
            </li>
          ))}
        </ul>
      ) : (
        <p className="mt-1 text-lg">Nothing of this card can be filled in from it.</p>
      )}
      {onAgain ? (
        <button type="button" className="btn mt-1 min-h-14 text-lg" onClick={onAgain}>
          Watch it again
        </button>
      ) : null}
    </div>
  );
}
