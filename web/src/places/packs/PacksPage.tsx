import { useState } from "react";
import { Heading, Loading, ProblemNote } from "../../components/ui/feedback";
import { newId } from "../../domain/identity";
import { type PackView, usePacks } from "../../queries/packs";
import { PackForm } from "./PackForm";
import { PackSheet } from "./PackSheet";

/** The packs: what is written on each, what flights took from it, and what that says. */
export default function PacksPage() {
  const packs = usePacks();
  if (packs.isPending) return <Loading words="Looking at the packs…" />;
  if (!packs.data) return <ProblemNote error={packs.error} onRetry={() => void packs.refetch()} />;
  const here = packs.data.filter((p) => !p.put_away);
  const away = packs.data.filter((p) => p.put_away);
  return (
    <div className="mx-auto max-w-4xl">
      <Heading title="Packs" />
      <p className="mb-3">
        Write a name on every pack. Read its volts before and after each flight, always after the same wait, and what
        the charger put back: then the minutes are computed.
      </p>
      {here.length === 0 ? <p className="mb-3 font-semibold">No pack is described yet.</p> : null}
      <Sheets packs={here} />
      <NewPack open={here.length === 0} />
      {away.length > 0 ? (
        <details className="mt-4">
          <summary className="min-h-11 content-center font-semibold">Put away ({away.length})</summary>
          <Sheets packs={away} />
        </details>
      ) : null}
      <p className="label-small mt-4">
        Charge watched, in a fireproof place, never a damaged or puffed pack; store at storage charge.
      </p>
    </div>
  );
}

function Sheets({ packs }: { packs: readonly PackView[] }) {
  return (
    <ul className="grid grid-cols-1 gap-3">
      {packs.map((p) => (
        <li key={p.id}>
          <PackSheet view={p} />
        </li>
      ))}
    </ul>
  );
}

function NewPack({ open }: { open: boolean }) {
  const [id, setId] = useState(newId);
  const [shown, setShown] = useState(open);
  if (!shown)
    return (
      <button type="button" className="btn btn-primary mt-3 min-h-11" onClick={() => setShown(true)}>
        Another pack
      </button>
    );
  return (
    <section className="sheet mt-3 p-3">
      <h2 className="text-xl font-semibold">A pack</h2>
      <PackForm
        key={id}
        id={id}
        view={null}
        onKept={() => {
          setId(newId());
          setShown(false);
        }}
      />
    </section>
  );
}
