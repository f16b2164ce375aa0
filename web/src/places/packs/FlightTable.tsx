import { useState } from "react";
import { QuantityField } from "../../components/quantity/QuantityField";
import { useSettings } from "../../components/settings-context";
import { ProblemNote } from "../../components/ui/feedback";
import { type PackView, type Taken, useKeepFlight, usePutBack, useRemoveFlight } from "../../queries/packs";

/** What flights took from a pack. What was put back after a sortie is entered here; the rest is corrected in its log. */
export function FlightTable({ view }: { view: PackView }) {
  const remove = useRemoveFlight(view.id);
  const restore = useKeepFlight(view.id);
  const [out, setOut] = useState<Taken | null>(null);
  return (
    <>
      {/* It stays while it is empty: what was taken out last can be brought back. */}
      <ol className={view.flights.length > 0 ? "mt-2 divide-y divide-base-300" : "hidden"}>
        {view.flights.map((f) => (
          <li key={f.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
            <Line flight={f} />
            {f.model_id ? (
              <PutBack flight={f} disabled={!view.pack} />
            ) : (
              <button
                type="button"
                className="btn btn-ghost min-h-11 px-2"
                disabled={remove.isPending}
                onClick={() => remove.mutate(f.id, { onSuccess: () => setOut(f) })}
              >
                Take out
              </button>
            )}
          </li>
        ))}
      </ol>
      {remove.error ? <ProblemNote error={remove.error} /> : null}
      {restore.error ? <ProblemNote error={restore.error} /> : null}
      {out ? (
        <p role="status" className="flex flex-wrap items-center gap-3">
          The flight was taken out.
          <button
            type="button"
            className="btn min-h-11"
            disabled={restore.isPending}
            onClick={() => restore.mutate({ id: out.id, flight: typed(out) }, { onSuccess: () => setOut(null) })}
          >
            Undo
          </button>
        </p>
      ) : null}
    </>
  );
}

function typed(f: Taken) {
  const { flown_on, before_v, after_v, put_back_c } = f;
  return { minutes: f.minutes ?? 0, flown_on, before_v, after_v, put_back_c };
}

function Line({ flight }: { flight: Taken }) {
  const { show } = useSettings();
  const volts = (v: number | null | undefined) => (v ? show(v, "volts") : "not read");
  return (
    <div className="min-w-48 flex-1">
      <p className="font-semibold">
        {flight.model_id ? `${flight.model}, sortie ${flight.sortie}` : "Not logged here"}
        {flight.rehearsal ? <span className="mark-rehearsal ml-2">Rehearsal</span> : null}
        {flight.flown_on ? <span className="font-normal"> · {flight.flown_on}</span> : null}
      </p>
      <p>
        {flight.minutes ? `${show(flight.minutes, "minutes")} in the air` : "minutes not logged"} · a cell before{" "}
        {volts(flight.before_v)}, after {volts(flight.after_v)}
        {flight.model_id || !flight.put_back_c ? "" : ` · ${show(flight.put_back_c, "charge")} put back`}
      </p>
      {flight.motor_minutes || flight.full_a || flight.cruise_a ? (
        <p>
          {[
            flight.motor_minutes ? `motor ran ${show(flight.motor_minutes, "minutes")}` : null,
            flight.full_a ? `${show(flight.full_a, "current")} at full throttle` : null,
            flight.cruise_a ? `${show(flight.cruise_a, "current")} in cruise` : null,
          ]
            .filter((w) => w !== null)
            .join(" · ")}
        </p>
      ) : null}
      {flight.disagrees ? (
        <p className="font-semibold text-accent">
          Volts and charge put back contradict each other: it is not used. Look for a slipped digit or another pack.
        </p>
      ) : null}
      {flight.odd_volts ? (
        <p className="font-semibold text-accent">
          {show(flight.odd_volts, "volts")} was logged after it: no pack like this shows that. Correct it in the
          debrief.
        </p>
      ) : null}
    </div>
  );
}

function PutBack({ flight, disabled }: { flight: Taken; disabled: boolean }) {
  const put = usePutBack();
  return (
    <div className="w-72 max-w-full min-w-0" data-fields>
      <QuantityField
        label="Put back"
        hint="once charged"
        quantity="charge"
        value={flight.put_back_c ?? null}
        disabled={disabled || put.isPending}
        onCommit={(c) => put.mutateAsync({ sortieId: flight.id, charge_c: c > 0 ? c : null })}
      />
    </div>
  );
}
