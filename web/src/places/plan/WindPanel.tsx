import { useState } from "react";
import type { Configuration, Plan } from "../../api/client";
import { QuantityField } from "../../components/quantity/QuantityField";
import { useSettings } from "../../components/settings-context";
import { ProblemNote } from "../../components/ui/feedback";
import type { WindEntry } from "../../queries/sorties";
import { WindHelp } from "./WindHelp";

interface Props {
  read: Plan["wind_read"];
  verdict: Plan["wind"];
  busy: boolean;
  error: unknown;
  onRead: (wind: WindEntry) => void;
  stall_mps: number;
  limits: Configuration["limits"];
  elevation_m: number;
  /** Heading of the site's strip; the pilot's own entry goes before it. */
  strip_rad: number | null;
}

const ROWS = [
  ["speed_mps", "Mean wind", "speed", undefined],
  ["gust_mps", "Gusts", "speed", undefined],
  ["from_rad", "Blows from", "angle", "compass, degrees"],
  ["strip_heading_rad", "Take-off heading", "angle", "compass, degrees"],
] as const;

/** A wind of which every part was entered, as it was entered. Null while something is missing. */
export function whole(wind: Partial<WindEntry>): WindEntry | null {
  const { speed_mps, gust_mps, from_rad, strip_heading_rad } = wind;
  if (speed_mps === undefined || gust_mps === undefined || from_rad === undefined || strip_heading_rad === undefined)
    return null;
  return { speed_mps, gust_mps, from_rad, strip_heading_rad };
}

/** How long ago something was read, in words. */
export function ago(at: string, now: number): string {
  const minutes = Math.max(0, Math.round((now - Date.parse(at)) / 60000));
  if (minutes < 1) return "just now";
  if (minutes < 90) return `${minutes} minute${minutes === 1 ? "" : "s"} ago`;
  return minutes < 2880 ? `${Math.round(minutes / 60)} hours ago` : `${Math.round(minutes / 1440)} days ago`;
}

/** The strip from above with the wind on it, and go / caution / no-go in words. Nothing is filled in before it was read. */
export function WindPanel({ read, verdict, busy, error, onRead, stall_mps, limits, elevation_m, strip_rad }: Props) {
  const { show } = useSettings();
  // Of an old reading only the strip still holds.
  const known: Partial<WindEntry> = verdict && read ? read.wind : {};
  const [draft, setDraft] = useState<Partial<WindEntry>>(
    read ? { strip_heading_rad: read.wind.strip_heading_rad } : {},
  );
  const ofTheSite: Partial<WindEntry> = strip_rad === null ? {} : { strip_heading_rad: strip_rad };
  const wind = { ...ofTheSite, ...known, ...draft };
  const entered = whole(wind);
  // What was said of the reading before does not hold for one that was refused.
  const said = error ? null : verdict;
  const put = (part: Partial<WindEntry>) => {
    const next = { ...wind, ...part };
    setDraft(next);
    const complete = whole(next);
    if (complete) onRead(complete);
  };
  return (
    <section data-fields>
      <h2 className="mb-1 text-lg">
        Wind on the strip {read ? <span className="text-base font-normal">read {ago(read.at, Date.now())}</span> : null}
      </h2>
      <p
        className={`sheet mb-2 border-l-4 p-2 text-lg font-semibold ${said?.verdict === "no_go" ? "border-l-accent text-accent" : "border-l-base-content"}`}
        role="status"
      >
        {headline(busy, Boolean(error), said, read)}
      </p>
      {error ? <ProblemNote error={error} /> : null}
      <ul className="mb-2 list-disc pl-5 text-sm">
        {(said?.reasons ?? [])
          .filter((r) => !said?.headline.includes(r))
          .map((r) => (
            <li key={r}>{r}</li>
          ))}
      </ul>
      {entered && said ? (
        <Strip wind={entered} cross={said.components.crosswind_mps} limit={limits?.crosswind_mps ?? 4} />
      ) : null}
      {ROWS.map(([key, label, quantity, hint]) => (
        <QuantityField
          key={key}
          label={label}
          hint={hint}
          quantity={quantity}
          value={wind[key] ?? null}
          onCommit={(v) => put({ [key]: v })}
        />
      ))}
      <WindHelp onTake={put} elevation_m={elevation_m} />
      {entered && said ? (
        <button type="button" className="btn btn-sm mt-1" disabled={busy} onClick={() => onRead(entered)}>
          It still blows like this
        </button>
      ) : null}
      <p className="label-small mt-1">
        Stall speed {show(stall_mps, "speed")}. Local law and the site's rules come first; the pilot in command decides.
      </p>
    </section>
  );
}

function headline(busy: boolean, refused: boolean, verdict: Plan["wind"], read: Plan["wind_read"]): string {
  if (busy) return "Judging the wind…";
  if (refused) return "Not judged: put right what is said below.";
  if (verdict) return verdict.headline;
  return read ? "That is too long ago: read the wind again." : "Enter all four to hear go or no-go.";
}

function Strip({ wind, cross, limit }: { wind: WindEntry; cross: number; limit: number }) {
  const { show } = useSettings();
  const angle = ((wind.from_rad - wind.strip_heading_rad) * 180) / Math.PI;
  const length = 26 + Math.min(wind.speed_mps, 12) * 4;
  const fan = 5 + Math.min(wind.gust_mps - wind.speed_mps, 8) * 3;
  const share = Math.min(Math.abs(cross) / limit, 1.3);
  return (
    <svg
      viewBox="0 0 300 200"
      className="mb-2 w-full max-w-sm"
      role="img"
      aria-label={`wind ${Math.abs(Math.round(angle))} degrees off the take-off heading; crosswind ${show(Math.abs(cross), "speed")} of ${show(limit, "speed")}`}
    >
      <rect x={128} y={22} width={44} height={132} fill="var(--color-base-300)" stroke="currentColor" />
      <path d="M150 146V40M142 54l8-14 8 14" stroke="currentColor" fill="none" strokeWidth={1.5} />
      <text x={150} y={15} fontSize={13} textAnchor="middle" fill="currentColor">
        take-off
      </text>
      <g transform={`rotate(${angle} 150 92)`}>
        <path
          d={`M150 ${88 - length}L${150 - fan} 20M150 ${88 - length}L${150 + fan} 20`}
          stroke="var(--color-info)"
          strokeWidth={1}
          strokeDasharray="3 3"
        />
        <path d={`M150 ${84 - length}V84M143 72l7 12 7-12`} stroke="var(--color-info)" strokeWidth={3} fill="none" />
      </g>
      <rect x={30} y={180} width={240} height={10} fill="none" stroke="currentColor" />
      <rect
        x={30}
        y={180}
        width={Math.min(240, (240 / 1.3) * share)}
        height={10}
        fill={share > 1 ? "var(--color-accent)" : "var(--color-info)"}
      />
      <path d={`M${30 + 240 / 1.3} 176v18`} stroke="currentColor" strokeWidth={2} />
      <text x={30} y={174} fontSize={12} fill="currentColor">
        {Math.abs(cross) < 0.05
          ? "nothing across the strip"
          : `across the strip, from the ${cross > 0 ? "right" : "left"}`}
      </text>
    </svg>
  );
}
