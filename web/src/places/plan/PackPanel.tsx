import { Link } from "react-router";
import type { Plan } from "../../api/client";
import { QuantityField } from "../../components/quantity/QuantityField";
import { ProblemNote } from "../../components/ui/feedback";
import { onTheClock } from "../../domain/time";
import { PackGauge } from "../../drawing/PackGauge";
import { useFitPack, usePacks } from "../../queries/packs";

interface Props {
  modelId: string;
  plan: Pick<Plan, "endurance" | "fitted" | "full_throttle_a">;
  busy: boolean;
}

/** Which pack flies, how full it is, and the minutes that come of it. Nothing is filled in before it was read. */
export function PackPanel({ modelId, plan, busy }: Props) {
  const packs = usePacks();
  const fit = useFitPack(modelId);
  const { endurance, fitted } = plan;
  const ready = (packs.data ?? []).filter((p) => p.pack && !p.put_away);
  const chosen = ready.find((p) => p.id === fitted?.pack.key);
  const cells = fitted?.pack.cells ?? 1;
  const cellVolts = fitted?.cell_v ?? null;
  const waits = busy || fit.isPending;

  return (
    <section className="mb-4" data-fields data-testid="pack-panel">
      <h2 className="mb-1 text-lg">Pack and minutes</h2>
      <p className="sheet mb-2 border-l-4 border-l-base-content p-2 text-lg font-semibold" role="status">
        {headline(endurance, fit.isPending)}
      </p>
      {endurance.pack ? (
        <PackGauge
          charge={endurance.charge ?? null}
          sigma={endurance.charge_sigma ?? null}
          read={endurance.read ?? false}
          keptBack={endurance.kept_back ?? 0}
          safe={`${endurance.safe_minutes.toFixed(1)} min safe`}
        />
      ) : null}
      {endurance.minutes !== null && endurance.minutes !== undefined ? (
        <p className="mb-1 text-sm">
          As it usually draws, {endurance.minutes.toFixed(1)} ± {(endurance.sigma ?? 0).toFixed(1)} minutes down to what
          is kept back.
        </p>
      ) : null}
      {endurance.motor_timer_minutes ? (
        <p className="mb-1 font-semibold">
          A timer that runs with the motor: set it to {onTheClock(endurance.motor_timer_minutes)}.
        </p>
      ) : null}
      {fit.error ? <ProblemNote error={fit.error} /> : null}
      <ul className="mb-1">
        {(endurance.findings ?? [])
          .filter((f) => f.severity !== "stop")
          .map((f) => (
            <li key={f.code} className="border-l-4 border-l-accent pl-2 font-semibold">
              {f.words}
            </li>
          ))}
      </ul>
      {packs.error ? <ProblemNote error={packs.error} onRetry={() => void packs.refetch()} /> : null}
      {ready.length > 0 ? (
        <label className="flex items-center gap-2 py-1">
          <span className="flex-1">Pack that flies next</span>
          <select
            className="select min-h-11 w-44 text-base"
            value={chosen?.id ?? ""}
            disabled={waits}
            onChange={(e) => e.target.value && fit.mutate({ pack_id: e.target.value })}
          >
            <option value="">not named</option>
            {ready.map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
          </select>
        </label>
      ) : null}
      {chosen ? (
        <>
          <QuantityField
            label="Volts at rest"
            hint={`full is ${(chosen.full_v ?? 0).toFixed(1)} V; those of one cell do, too`}
            quantity="volts"
            value={cellVolts === null ? null : cellVolts * cells}
            disabled={waits}
            onCommit={(v) => fit.mutateAsync({ pack_id: chosen.id, volts: v })}
          />
          <QuantityField
            label="Current at full throttle"
            hint="if measured: model held, on the ground"
            quantity="current"
            value={plan.full_throttle_a}
            disabled={waits}
            onCommit={(a) => fit.mutateAsync({ pack_id: chosen.id, volts: cellVolts, full_throttle_a: a })}
          />
        </>
      ) : null}
      <details className="mt-1">
        <summary className="min-h-11 content-center">What the minutes rest on</summary>
        <ul className="list-disc pl-5 text-sm">
          {endurance.rests_on.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </ul>
      </details>
      <Link className="btn mt-1 min-h-11" to="/packs">
        {ready.length > 0 ? "Packs" : "Describe a pack"}
      </Link>
    </section>
  );
}

function headline(endurance: Plan["endurance"], busy: boolean): string {
  if (busy) return "Counting the minutes…";
  if (endurance.safe_minutes <= 0) return `No minutes on ${endurance.pack}.`;
  const whose = endurance.pack ? `on ${endurance.pack}` : "by a guess";
  return `${endurance.safe_minutes.toFixed(1)} safe minutes ${whose}. Set the timer to ${onTheClock(endurance.timer_minutes)}.`;
}
