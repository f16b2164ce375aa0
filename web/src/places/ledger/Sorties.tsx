import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useTheModel } from "../../components/model-context";
import { Rail } from "../../components/Rail";
import { Loading, ProblemNote } from "../../components/ui/feedback";
import { when } from "../../domain/time";
import { useRetold } from "../../queries/diary";

type Retold = Schemas["Retold"];

/** Every landed sortie: its trims over the weeks with pack and air, and each one told in full. */
export function Sorties() {
  const model = useTheModel();
  const told = useRetold(model.id);
  return (
    <section className="mt-5" id="sorties" data-testid="sorties">
      <h2 className="mb-1 text-lg">Sorties and trims over the weeks</h2>
      {told.isPending ? <Loading words="Reading the sorties…" /> : null}
      {told.error && !told.data ? <ProblemNote error={told.error} onRetry={() => void told.refetch()} /> : null}
      {told.data?.length === 0 ? <p>Nothing flown yet.</p> : null}
      {told.data?.length ? <TrimTable told={told.data} /> : null}
      <ul>
        {[...(told.data ?? [])].reverse().map((t) => (
          <li key={t.sortie_id}>
            <Told told={t} />
          </li>
        ))}
      </ul>
      <NotFlown />
    </section>
  );
}

/** Sorties that were called off, or are under way. */
function NotFlown() {
  const model = useTheModel();
  const others = model.sorties.filter((s) => s.status !== "landed");
  if (others.length === 0) return null;
  return <p className="mt-1">{others.map((s) => `Sortie ${s.number}: ${s.status.replace("_", " ")}`).join(", ")}.</p>;
}

const day = (t: Retold) => (t.landed_at ? when(new Date(t.landed_at)) : "");
export const air = (t: Retold) =>
  [t.temperature_c === null || t.temperature_c === undefined ? "" : `${Math.round(t.temperature_c)} °C`, t.wind]
    .filter(Boolean)
    .join(", ");

function TrimTable({ told }: { told: Retold[] }) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls sideways is reached by keys
    <section className="mb-2 overflow-x-auto" tabIndex={0} aria-label="Trims over the weeks">
      <table className="table-sm table">
        <thead>
          <tr>
            {["Sortie", "Landed", "Pack", "Air and wind", "Where the surfaces rested", "Clicks", "Balance"].map((h) => (
              <th key={h} scope="col">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {told.map((t) => (
            <tr key={t.sortie_id}>
              <th scope="row">{t.number}</th>
              <td className="whitespace-nowrap">{day(t)}</td>
              <td>{t.pack || "not named"}</td>
              <td>{air(t) || "not read"}</td>
              <td>
                <ul>
                  {t.trims.map((words) => (
                    <li key={words}>{words}</li>
                  ))}
                </ul>
              </td>
              <td>{t.clicks}</td>
              <td>{t.balance}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** One sortie: the cards it flew, what it showed, what was done after it. */
function Told({ told }: { told: Retold }) {
  const model = useTheModel();
  return (
    <details className="border-b border-base-300">
      <summary className="min-h-11 cursor-pointer py-2">
        <span className="font-semibold">Sortie {told.number}</span>, configuration {told.configuration}, {day(told)}
        {told.simulated ? ", flown by the stand-in" : ""}
        {told.within === null || told.within === undefined
          ? ""
          : `, ${Math.round(told.within * 100)} % of its predictions within one sigma`}
      </summary>
      <div className="pb-3 pl-4">
        <p>
          <span className="font-semibold">Flown:</span> {told.cards.join(", ")}
        </p>
        {told.behaviours.map((t) => (
          <Rail key={t.key} name={t.name} marks={[{ tendency: t, kind: "measured" }]} />
        ))}
        <p className="font-semibold">Bench work after it</p>
        {told.work.length === 0 ? <p>None was ordered.</p> : null}
        <ol className="list-decimal pl-5">
          {told.work.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </ol>
        <Link className="btn mt-2" to={`/m/${model.id}/debrief?sortie=${told.sortie_id}`}>
          Its debrief
        </Link>
      </div>
    </details>
  );
}
