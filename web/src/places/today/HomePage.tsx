import { useRef } from "react";
import { Link, Navigate, useNavigate, useSearchParams } from "react-router";
import { OnDevice } from "../../components/OnDevice";
import { useSettings } from "../../components/settings-context";
import { Loading, ProblemNote } from "../../components/ui/feedback";
import { commonScale, Silhouette } from "../../drawing/Silhouette";
import { useImport, useShelf } from "../../queries/models";
import { TidyShelf } from "./TidyShelf";

/** The shelf; without being asked for, the way to the model that was last worked on. */
export default function HomePage() {
  const shelf = useShelf();
  const [search] = useSearchParams();
  const { settings } = useSettings();
  if (shelf.isPending) return <Loading words="Looking at the shelf…" />;
  if (!shelf.data)
    return (
      <main className="mx-auto max-w-4xl p-4">
        <OnDevice />
        <ProblemNote error={shelf.error} onRetry={() => void shelf.refetch()} />
      </main>
    );
  const standing = shelf.data.filter((m) => !m.put_away);
  const last = standing.find((m) => m.id === settings.lastModel) ?? standing[0];
  if (last && !search.has("shelf")) return <Navigate to={`/m/${last.id}`} replace />;
  const scale = commonScale(shelf.data.map((m) => m.airframe));
  return (
    <main className="mx-auto max-w-4xl p-4">
      <OnDevice />
      <h1 className="mb-1 text-3xl">Jinba</h1>
      <p className="mb-4 text-secondary">
        What to change before the next flight, by how much, and what it will then do.
      </p>
      {standing.length === 0 ? (
        <p className="mb-4">No model yet. Start with a silhouette that looks like yours, then correct it by ruler.</p>
      ) : null}
      <ul className="grid gap-3 sm:grid-cols-2 lg:grid-cols-3">
        {standing.map((m) => (
          <li key={m.id}>
            <Link to={`/m/${m.id}`} className="sheet flex h-full items-center gap-3 p-3 hover:bg-base-200">
              <Silhouette airframe={m.airframe} metres={scale} size={110} />
              <span>
                <span className="block text-lg font-bold">{m.name}</span>
                {m.rehearsal ? <span className="mark-rehearsal mb-1 w-fit">Rehearsal</span> : null}
                <span className="block text-sm">{m.story}</span>
              </span>
            </Link>
          </li>
        ))}
      </ul>
      <div className="mt-4 flex flex-wrap gap-3">
        <Link to="/new" className="btn btn-primary">
          New model
        </Link>
        <ImportButton />
        <Link to="/packs" className="btn">
          Packs
        </Link>
        <Link to="/phones" className="btn">
          Phones and helpers
        </Link>
      </div>
      <TidyShelf models={shelf.data} />
    </main>
  );
}

function ImportButton() {
  const input = useRef<HTMLInputElement>(null);
  const bring = useImport();
  const navigate = useNavigate();
  return (
    <div>
      <button type="button" className="btn" onClick={() => input.current?.click()} disabled={bring.isPending}>
        {bring.isPending ? "Reading the project file…" : "Import a project file"}
      </button>
      <input
        ref={input}
        type="file"
        accept=".zip"
        className="hidden"
        aria-label="project file"
        onChange={(e) => {
          const file = e.target.files?.[0];
          if (file) bring.mutate(file, { onSuccess: (model) => void navigate(`/m/${model.id}`) });
          e.target.value = "";
        }}
      />
      {bring.error ? <ProblemNote error={bring.error} /> : null}
    </div>
  );
}
