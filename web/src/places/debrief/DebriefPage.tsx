import { Link, useNavigate, useSearchParams } from "react-router";
import type { Cause, Debrief } from "../../api/client";
import { Contradictions } from "../../components/Contradictions";
import { LandedUnsent } from "../../components/LandedUnsent";
import { useTheModel } from "../../components/model-context";
import { Notes } from "../../components/Notes";
import { UNSTABLE } from "../../components/quantity/station";
import { Rail } from "../../components/Rail";
import { Heading, Loading, ProblemNote } from "../../components/ui/feedback";
import { isOpen, useDebrief, useReopen } from "../../queries/sorties";
import { HandOver } from "./HandOver";
import { LogList } from "./LogList";

/** What the sortie means: every behaviour before and after, causes with the evidence for and against. */
export default function DebriefPage() {
  const model = useTheModel();
  // What has landed on this device only is computed when the program has it.
  const landed = model.sorties.filter((s) => s.status === "landed" && s.landed_at !== null);
  // In the address, so that back, reload and a link lead to the same sortie.
  const [address, setAddress] = useSearchParams();
  const chosen = landed.find((s) => s.id === address.get("sortie"))?.id;
  const id = chosen ?? landed.at(-1)?.id ?? "";
  const debrief = useDebrief(id);
  if (id === "")
    return (
      <div className="mx-auto max-w-xl py-8 text-center">
        <LandedUnsent />
        <h1 className="mb-4 text-2xl font-semibold">Nothing has landed yet.</h1>
        <Link className="btn btn-accent btn-lg" to={`/m/${model.id}/plan`}>
          Plan a sortie
        </Link>
      </div>
    );
  if (debrief.isPending) return <Loading words="Reading the measures…" />;
  if (!debrief.data) return <ProblemNote error={debrief.error} onRetry={() => void debrief.refetch()} />;
  return (
    <div>
      <Heading title={`Debrief of sortie ${debrief.data.sortie_number}`}>
        {landed.length > 1 ? (
          <select
            className="select w-auto text-base"
            aria-label="which sortie"
            value={id}
            onChange={(e) => setAddress({ sortie: e.target.value })}
          >
            {landed.map((s) => (
              <option key={s.id} value={s.id}>
                sortie {s.number}, configuration {s.configuration}
              </option>
            ))}
          </select>
        ) : null}
        <Link className="btn btn-accent" to={`/m/${model.id}/rework`}>
          Decide the rework
        </Link>
      </Heading>
      <LandedUnsent />
      <p className="mb-1 text-xl font-semibold">{debrief.data.headline}</p>
      <p className="mb-3">
        <Link className="underline" to={`/m/${model.id}/happened`}>
          Something broke, or it came down hard: say what happened
        </Link>
      </p>
      <Notes sortieId={id} />
      <Contradictions found={debrief.data.contradictions} />
      <div className="grid gap-5 lg:grid-cols-[1.2fr_1fr]">
        <Behaviours debrief={debrief.data} />
        <Causes causes={debrief.data.causes} pilot={debrief.data.pilot ?? ""} />
      </div>
      {id === landed.at(-1)?.id ? <HandOver /> : null}
      {id === landed.at(-1)?.id && !model.sorties.some(isOpen) ? <NotLanded sortieId={id} /> : null}
      <LogList sortieId={id} />
    </div>
  );
}

/** Whoever said too early that it had landed: the sortie goes on, with what was logged. */
function NotLanded({ sortieId }: { sortieId: string }) {
  const model = useTheModel();
  const navigate = useNavigate();
  const reopen = useReopen(sortieId, model.id);
  if (model.read_only) return null;
  return (
    <div className="mt-3">
      {reopen.error ? <ProblemNote error={reopen.error} /> : null}
      <button
        type="button"
        className="btn min-h-11"
        disabled={reopen.isPending}
        onClick={() => reopen.mutate(undefined, { onSuccess: () => void navigate(`/m/${model.id}/fly`) })}
      >
        It had not landed: go on with this sortie
      </button>
    </div>
  );
}

function Behaviours({ debrief }: { debrief: Debrief }) {
  return (
    <section>
      <h2 className="text-lg">Behaviours: before, dashed; as it landed, solid</h2>
      {debrief.after.map((t) => {
        const before = debrief.before.find((b) => b.key === t.key);
        return (
          <Rail
            key={t.key}
            name={t.name}
            words={{ predicted: "before", measured: "as it landed" }}
            marks={[
              ...(before ? [{ tendency: before, kind: "predicted" as const }] : []),
              { tendency: t, kind: "measured" as const },
            ]}
          />
        );
      })}
      <p className="label-small mt-2">
        {debrief.data_count} measures of this sortie were used, with all earlier ones. Method {debrief.method}.
        {debrief.earlier.map((e) => (
          <span key={e.computed_at} className="block">
            Computed before on {new Date(e.computed_at).toLocaleString()} by {e.method}
            {e.static_margin === null || e.static_margin === undefined
              ? "."
              : `: static margin ${e.static_margin < 0 ? `${(-e.static_margin).toFixed(1)} % MAC ${UNSTABLE}` : `${e.static_margin.toFixed(1)} % MAC`}.`}
          </span>
        ))}
      </p>
      <h2 className="mt-4 text-lg">Prediction against outcome</h2>
      <table className="w-full text-sm">
        <thead>
          <tr className="text-left">
            <th className="font-semibold">Behaviour</th>
            <th className="font-semibold">off by</th>
            <th className="font-semibold">verdict</th>
          </tr>
        </thead>
        <tbody>
          {debrief.score.map((s) => (
            <tr key={s.key} className="border-t border-base-300">
              <td>{s.name}</td>
              <td>{Math.abs(s.sigmas).toFixed(1)} sigma</td>
              <td className={s.within_one_sigma ? "" : "font-semibold"}>{s.words}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Causes({ causes, pilot }: { causes: Cause[]; pilot: string }) {
  const said = causes.map((c) => c.chance ?? null);
  // What an earlier version computed had no chances: nothing is made up for it.
  const left = said.includes(null) ? null : Math.round(100 * (1 - said.reduce((sum: number, p) => sum + (p ?? 0), 0)));
  return (
    <section>
      <h2 className="text-lg">Causes, most likely first</h2>
      <p className="label-small">
        A ranked list, never one verdict. Bars: how far from what the bench expected.
        {left === null ? "" : ` ${left} % likely: none of these, nothing is out by more than a bench leaves.`}
      </p>
      <ol>
        {causes.slice(0, 8).map((c) => (
          <li key={c.key} className="border-b border-base-300 py-2">
            <details open={c.strength > 0.9}>
              <summary>
                <span className="font-semibold">{c.strength < 0.25 ? `${c.name}: as expected` : c.verdict}</span>
                <span className="float-right text-sm">
                  {c.words}
                  {c.chance !== null && c.chance !== undefined
                    ? `; the largest fault, ${Math.round(c.chance * 100)} % likely`
                    : ""}
                </span>
                <span aria-hidden="true" className="clear-both mt-1 block h-2 bg-base-300">
                  <span
                    className="block h-2 bg-base-content"
                    style={{ width: `${Math.min(c.strength / 2.5, 1) * 100}%` }}
                  />
                </span>
              </summary>
              <ul className="mt-1 text-sm">
                {c.evidence.map((e) => (
                  <li key={e.card_id + e.words + e.pull} className="flex gap-2">
                    <span className="w-14 shrink-0 font-semibold">{e.pull > 0 ? "for" : "against"}</span>
                    <span>
                      {e.card_id}, {e.words}
                    </span>
                  </li>
                ))}
                {c.evidence.length === 0 ? <li>Nothing flown so far speaks about it.</li> : null}
              </ul>
              {c.twin ? (
                <p className="mt-1 text-sm">
                  Not told apart so far from: {causes.find((o) => o.key === c.twin)?.name ?? c.twin}.
                </p>
              ) : null}
              {!c.separated ? <p className="mt-1 text-sm font-semibold text-info">To tell: {c.tell_apart}</p> : null}
            </details>
          </li>
        ))}
      </ol>
      {pilot ? <p className="mt-2 text-sm">{pilot}</p> : null}
    </section>
  );
}
