import { useState } from "react";
import { useNavigate } from "react-router";
import type { WayThere } from "../../api/client";
import { useTheModel } from "../../components/model-context";
import { useSettings } from "../../components/settings-context";
import { ProblemNote } from "../../components/ui/feedback";
import { useEditSetup } from "../../queries/models";
import { type ReworkChoices, useWays } from "../../queries/sorties";

/** Two to four ways side by side: what each does, what it costs, what has to be flown again. Opened when asked for. */
export function WaysThere({ choices }: { choices: ReworkChoices }) {
  const model = useTheModel();
  const [open, setOpen] = useState(false);
  const ways = useWays(model.id, choices, open);
  return (
    <details
      className="mt-3"
      data-testid="ways"
      open={open}
      onToggle={(e) => setOpen((e.target as HTMLDetailsElement).open)}
    >
      <summary className="font-semibold">Other ways, side by side</summary>
      {ways.error ? <ProblemNote error={ways.error} /> : null}
      {ways.isPending && open ? <p role="status">Looking for other ways…</p> : null}
      <div className="mt-2 grid gap-2 sm:grid-cols-2 xl:grid-cols-4">
        {(ways.data ?? []).map((w) => (
          <Way key={w.key} way={w} />
        ))}
      </div>
    </details>
  );
}

function Way({ way }: { way: WayThere }) {
  const model = useTheModel();
  const navigate = useNavigate();
  const edit = useEditSetup(model.id);
  const { show } = useSettings();
  const inertia = Math.round((way.pitch_inertia_ratio - 1) * 100);
  const setup = way.setup;
  return (
    <section className="sheet p-2 text-sm" aria-label={way.name}>
      <h3 className="font-bold">{way.name}</h3>
      <ol className="list-decimal pl-5">
        {way.steps.map((s) => (
          <li key={s}>{s}</li>
        ))}
      </ol>
      <dl className="mt-1">
        {way.predicted.map((t) => (
          <div key={t.key}>
            <dt className="font-semibold">{t.name}</dt>
            <dd>{t.words}</dd>
          </div>
        ))}
        <div>
          <dt className="font-semibold">All behaviours in their bands then</dt>
          <dd>{Math.round(way.all_right * 100)} % likely</dd>
        </div>
        <div>
          <dt className="font-semibold">Mass</dt>
          <dd>
            {show(way.mass_kg, "mass")}
            {Math.abs(way.added_kg) > 1e-6
              ? `, ${show(Math.abs(way.added_kg), "mass")} ${way.added_kg > 0 ? "more" : "less"}`
              : ", nothing added"}
            {inertia === 0 ? "" : `; pitch inertia ${Math.abs(inertia)} % ${inertia > 0 ? "more" : "less"}`}
          </dd>
        </div>
        <div>
          <dt className="font-semibold">To do or fly again</dt>
          <dd>{way.stale.length ? way.stale.join(", ") : "nothing"}</dd>
        </div>
        {way.to_be_sure.length ? (
          <div>
            <dt className="font-semibold">To be sure, fly</dt>
            <dd>{way.to_be_sure.join(", ")}</dd>
          </div>
        ) : null}
      </dl>
      {way.caution ? <p className="font-semibold text-error">{way.caution}</p> : null}
      {edit.error ? <ProblemNote error={edit.error} /> : null}
      {setup ? (
        <button
          type="button"
          className="btn btn-sm mt-1"
          disabled={edit.isPending || model.read_only}
          onClick={() =>
            edit.mutate(
              { change: () => setup, words: way.steps.join(" ").slice(0, 290) },
              { onSuccess: () => void navigate(`/m/${model.id}/bench`) },
            )
          }
        >
          Do it this way on the bench
        </button>
      ) : null}
    </section>
  );
}
