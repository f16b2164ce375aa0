import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useSettings } from "../../components/settings-context";
import { ProblemNote } from "../../components/ui/feedback";
import type { WindEntry } from "../../queries/sorties";
import { useMetar, useWindForces } from "../../queries/weather";

interface Props {
  onTake: (part: Partial<WindEntry>) => void;
  elevation_m: number;
}

/** Two ways to a wind without a meter: by what it moves, and from an aerodrome nearby. */
export function WindHelp(props: Props) {
  return (
    <div className="mt-2">
      <ByWhatItMoves {...props} />
      <FromReport {...props} />
    </div>
  );
}

function ByWhatItMoves({ onTake }: Props) {
  const forces = useWindForces();
  const { show } = useSettings();
  const row = (
    label: string,
    take: (f: Schemas["WindForce"]) => Partial<WindEntry>,
    says: (f: Schemas["WindForce"]) => number,
  ) => (
    <label className="mt-1 block">
      {label}
      <select
        className="select w-full"
        defaultValue=""
        onChange={(e) => {
          const force = forces.data?.find((f) => String(f.number) === e.target.value);
          if (force) onTake(take(force));
        }}
      >
        <option value="" disabled>
          what it moves
        </option>
        {forces.data?.map((f) => (
          <option key={f.number} value={f.number}>
            {f.number}: {f.words} ({show(says(f), "speed")})
          </option>
        ))}
      </select>
    </label>
  );
  return (
    <details data-testid="by-what-it-moves">
      <summary className="font-semibold">No meter: by what it moves</summary>
      {row(
        "Mostly",
        (f) => ({ speed_mps: f.usual_mps }),
        (f) => f.usual_mps,
      )}
      {row(
        "At its strongest",
        (f) => ({ gust_mps: f.most_mps }),
        (f) => f.most_mps,
      )}
      <p className="label-small mt-1">
        Beaufort, over land: the middle of a step for the mean, its upper end for gusts.
      </p>
    </details>
  );
}

function FromReport({ onTake, elevation_m }: Props) {
  const metar = useMetar();
  const [text, setText] = useState("");
  return (
    <details data-testid="from-report">
      <summary className="font-semibold">From an aerodrome's report (METAR)</summary>
      <textarea
        className="textarea w-full"
        rows={2}
        aria-label="report"
        placeholder="paste it whole"
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <button
        type="button"
        className="btn"
        disabled={text.trim() === "" || metar.isPending}
        onClick={() => metar.mutate({ text, elevation_m })}
      >
        Read it
      </button>
      {metar.error ? <ProblemNote error={metar.error} /> : null}
      {metar.data ? <Read answer={metar.data} onTake={onTake} /> : null}
    </details>
  );
}

function Read({ answer, onTake }: { answer: Schemas["MetarAnswer"]; onTake: Props["onTake"] }) {
  const { show } = useSettings();
  const { report: r, air } = answer;
  const clock = `${String(r.hour).padStart(2, "0")}:${String(r.minute).padStart(2, "0")}`;
  const from = r.from_rad === null ? "from no one direction" : `from ${show(r.from_rad, "angle")}`;
  const part = {
    speed_mps: r.wind_mps,
    ...(r.gust_mps === null ? {} : { gust_mps: r.gust_mps }),
    ...(r.from_rad === null ? {} : { from_rad: r.from_rad }),
  };
  return (
    <div className="mt-1" data-testid="report">
      <p>
        {r.station} at {clock} UTC: {show(r.wind_mps, "speed")} {from},{" "}
        {r.gust_mps === null
          ? `no gusts reported (they are from ${show(5, "speed")} above the mean on: say what you see)`
          : `gusts ${show(r.gust_mps, "speed")}`}
        .
      </p>
      {air ? (
        <p>
          Density altitude {show(air.density_altitude_m, "distance")}: stall, take-off and trim are{" "}
          {(100 * air.faster).toFixed(1)} % {air.faster < 0 ? "slower" : "faster"} than at sea level.
        </p>
      ) : null}
      <button type="button" className="btn mt-1" onClick={() => onTake(part)}>
        Take its wind
      </button>
      <p className="label-small mt-1">It blows there, not here: look at the strip before you fly.</p>
    </div>
  );
}
