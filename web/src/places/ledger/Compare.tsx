import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useTheModel } from "../../components/model-context";
import { Loading, ProblemNote } from "../../components/ui/feedback";
import { useComparison, useRetold } from "../../queries/diary";
import { useShelf } from "../../queries/models";
import { air } from "./Sorties";

type Retold = Schemas["Retold"];

/** Two flights side by side: of this model, or of this and another one, a sister for example. */
export function Compare() {
  const model = useTheModel();
  const shelf = useShelf();
  const [otherModel, setOtherModel] = useState(model.id);
  const own = useRetold(model.id);
  const others = useRetold(otherModel);
  const [one, setOne] = useState("");
  const [other, setOther] = useState("");
  // The one before the last beside the last: what is new in the other.
  const first = one || (own.data?.at(-2) ?? own.data?.at(-1))?.sortie_id || "";
  const rest = (others.data ?? []).filter((t) => t.sortie_id !== first);
  const second = rest.some((t) => t.sortie_id === other) ? other : (rest.at(-1)?.sortie_id ?? "");
  const found = useComparison(first, second);
  if (!own.data?.length) return null;
  return (
    <section className="mt-5" id="compare" data-testid="compare">
      <h2 className="mb-1 text-lg">Two flights side by side</h2>
      <div className="mb-2 flex flex-wrap gap-3">
        <Pick label="One" value={first} told={own.data} onPick={setOne} />
        <label className="flex items-center gap-2 whitespace-nowrap">
          beside a flight of
          <select
            className="select min-h-11 text-base"
            value={otherModel}
            onChange={(e) => setOtherModel(e.target.value)}
          >
            {(shelf.data ?? []).map((m) => (
              <option key={m.id} value={m.id}>
                {m.id === model.id ? `${m.name}, this model` : m.name}
              </option>
            ))}
          </select>
        </label>
        {rest.length ? <Pick label="The other" value={second} told={rest} onPick={setOther} /> : null}
      </div>
      {others.data && rest.length === 0 ? (
        <p>{otherModel === model.id ? "It has flown only once so far." : "That model has not flown yet."}</p>
      ) : null}
      {second && found.isPending ? <Loading words="Laying them side by side…" /> : null}
      {found.error ? <ProblemNote error={found.error} onRetry={() => void found.refetch()} /> : null}
      {found.data ? <SideBySide found={found.data} /> : null}
    </section>
  );
}

function Pick(p: { label: string; value: string; told: Retold[]; onPick: (id: string) => void }) {
  return (
    <label className="flex items-center gap-2 whitespace-nowrap">
      {p.label}
      <select className="select min-h-11 text-base" value={p.value} onChange={(e) => p.onPick(e.target.value)}>
        {p.told.map((t) => (
          <option key={t.sortie_id} value={t.sortie_id}>
            Sortie {t.number}, configuration {t.configuration}
          </option>
        ))}
      </select>
    </label>
  );
}

const head = (t: Retold) => `${t.model}, sortie ${t.number}`;

function SideBySide({ found }: { found: Schemas["Comparison"] }) {
  const { one, other, set_otherwise, behaviours } = found;
  const rows: [string, string, string][] = [
    ["Pack", one.pack || "not named", other.pack || "not named"],
    ["Air and wind", air(one) || "not read", air(other) || "not read"],
    ["Balance point and mass", one.balance, other.balance],
    ["Surfaces rested", one.trims.join("; "), other.trims.join("; ")],
    ["Clicks", one.clicks, other.clicks],
  ];
  return (
    <>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls sideways is reached by keys */}
      <section className="overflow-x-auto" tabIndex={0} aria-label="Two flights side by side">
        <table className="table-sm table">
          <thead>
            <tr>
              <td />
              <th scope="col">{head(one)}</th>
              <th scope="col">{head(other)}</th>
              <th scope="col">Between them</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(([name, a, b]) => (
              <tr key={name}>
                <th scope="row">{name}</th>
                <td>{a}</td>
                <td>{b}</td>
                <td>{a === b ? "the same" : ""}</td>
              </tr>
            ))}
            {behaviours.map((b) => (
              <tr key={b.key}>
                <th scope="row">{b.name}</th>
                <td>{b.one}</td>
                <td>{b.other}</td>
                <td className={b.differs ? "font-semibold text-accent" : ""}>{b.words}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <p className="mt-2 font-semibold">Set otherwise in the other</p>
      {set_otherwise.length === 0 ? <p>Nothing: both were flown as they were set.</p> : null}
      <ul className="list-disc pl-5">
        {set_otherwise.map((words) => (
          <li key={words}>{words}</li>
        ))}
      </ul>
    </>
  );
}
