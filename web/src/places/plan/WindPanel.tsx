import type { Configuration, WindVerdict } from "../../api/client";
import { QuantityField } from "../../components/quantity/QuantityField";
import { useSettings } from "../../components/settings-context";
import type { WindEntry } from "../../queries/sorties";

interface Props {
  wind: WindEntry | null;
  setWind: (wind: WindEntry | null) => void;
  verdict: WindVerdict | null;
  stall_mps: number;
  limits: Configuration["limits"];
}

const START: WindEntry = {
  speed_mps: 2,
  gust_mps: 3,
  from_rad: (4 * Math.PI) / 3,
  strip_heading_rad: (4 * Math.PI) / 3,
};

/** The strip from above with the wind on it, and go / caution / no-go in words. */
export function WindPanel({ wind, setWind, verdict, stall_mps, limits }: Props) {
  const { show } = useSettings();
  const w = wind ?? START;
  const put = (part: Partial<WindEntry>) => {
    const next = { ...w, ...part };
    if (part.speed_mps !== undefined && next.gust_mps < next.speed_mps) next.gust_mps = next.speed_mps;
    setWind(next);
  };
  return (
    <section data-fields>
      <h2 className="mb-1 text-lg">Wind on the strip</h2>
      <p
        className={`sheet mb-2 border-l-4 p-2 text-lg font-semibold ${verdict?.verdict === "no_go" ? "border-l-accent text-accent" : "border-l-base-content"}`}
        role="status"
      >
        {verdict ? verdict.headline : "Enter the wind to hear go or no-go."}
      </p>
      {verdict && verdict.reasons.length > 0 ? (
        <ul className="mb-2 list-disc pl-5 text-sm">
          {verdict.reasons.map((r) => (
            <li key={r}>{r}</li>
          ))}
        </ul>
      ) : null}
      <Strip wind={w} cross={verdict?.components.crosswind_mps ?? 0} limit={limits?.crosswind_mps ?? 4} />
      <QuantityField label="Mean wind" quantity="speed" value={w.speed_mps} onCommit={(v) => put({ speed_mps: v })} />
      <QuantityField label="Gusts" quantity="speed" value={w.gust_mps} onCommit={(v) => put({ gust_mps: v })} />
      <QuantityField
        label="Blows from"
        hint="compass, degrees"
        quantity="angle"
        value={w.from_rad}
        onCommit={(v) => put({ from_rad: v })}
      />
      <QuantityField
        label="Take-off heading"
        hint="compass, degrees"
        quantity="angle"
        value={w.strip_heading_rad}
        onCommit={(v) => put({ strip_heading_rad: v })}
      />
      <p className="label-small mt-1">
        Stall speed {show(stall_mps, "speed")}. Local law and the site's rules come first; the pilot in command decides.
      </p>
    </section>
  );
}

function Strip({ wind, cross, limit }: { wind: WindEntry; cross: number; limit: number }) {
  const angle = ((wind.from_rad - wind.strip_heading_rad) * 180) / Math.PI;
  const length = 26 + Math.min(wind.speed_mps, 12) * 4;
  const fan = 5 + Math.min(wind.gust_mps - wind.speed_mps, 8) * 3;
  const share = Math.min(Math.abs(cross) / limit, 1.3);
  return (
    <svg
      viewBox="0 0 300 200"
      className="mb-2 w-full max-w-sm"
      role="img"
      aria-label={`wind ${Math.abs(Math.round(angle))} degrees off the take-off heading; crosswind ${Math.abs(cross).toFixed(1)} of ${limit.toFixed(1)} m/s`}
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
        across the strip, from the {cross >= 0 ? "right" : "left"}
      </text>
    </svg>
  );
}
