import { useState } from "react";
import { useNavigate } from "react-router";
import { QuantityField } from "../../components/quantity/QuantityField";
import { Heading, Loading, ProblemNote } from "../../components/ui/feedback";
import { commonScale, Silhouette } from "../../drawing/Silhouette";
import { useCreateModel, useSilhouettes } from "../../queries/models";

/** A new model starts from the silhouette that looks most like it; everything is then corrected by ruler. */
export default function NewModelPage() {
  const silhouettes = useSilhouettes();
  const create = useCreateModel();
  const navigate = useNavigate();
  const [name, setName] = useState("");
  const [chosen, setChosen] = useState<string | null>(null);
  const [span, setSpan] = useState<number | null>(1.5);
  const [rehearsal, setRehearsal] = useState(false);
  if (silhouettes.isPending) return <Loading words="Fetching the silhouettes…" />;
  if (silhouettes.error) return <ProblemNote error={silhouettes.error} onRetry={() => void silhouettes.refetch()} />;
  const scale = commonScale(silhouettes.data.map((s) => s.airframe));
  const ready = name.trim() !== "" && chosen !== null && span !== null;
  return (
    <form
      className="mx-auto max-w-3xl"
      onSubmit={(e) => {
        e.preventDefault();
        const refused = e.currentTarget.querySelector<HTMLInputElement>("[aria-invalid=true]");
        if (refused) return refused.focus();
        if (!ready || chosen === null || span === null) return;
        create.mutate(
          { name: name.trim(), silhouette: chosen, span_m: span, rehearsal },
          { onSuccess: (m) => void navigate(`/m/${m.id}/bench`) },
        );
      }}
    >
      <Heading title="New model" />
      <label className="mb-3 block">
        <span className="font-semibold">Name</span>
        <input
          className="input ml-3 w-72 text-base"
          value={name}
          maxLength={60}
          onChange={(e) => setName(e.target.value)}
          required
        />
      </label>
      <fieldset>
        <legend className="mb-1 font-semibold">Which looks most like it?</legend>
        <div className="grid grid-cols-2 gap-3 md:grid-cols-4">
          {silhouettes.data.map((s) => (
            <label
              key={s.key}
              className={`sheet cursor-pointer p-2 text-center has-focus-visible:outline-3 ${chosen === s.key ? "outline-3 outline-accent" : ""}`}
            >
              <input
                type="radio"
                name="silhouette"
                className="sr-only"
                value={s.key}
                checked={chosen === s.key}
                onChange={() => setChosen(s.key)}
              />
              <span className="flex justify-center">
                <Silhouette airframe={s.airframe} metres={scale} size={130} />
              </span>
              <span className="block font-semibold">{s.name}</span>
              <span className="text-sm">{s.words}</span>
            </label>
          ))}
        </div>
      </fieldset>
      <div className="my-3 max-w-sm">
        <QuantityField label="Span, tip to tip" quantity="length" value={span} onCommit={(v) => setSpan(v)} />
      </div>
      <label className="mb-3 flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          className="checkbox"
          checked={rehearsal}
          onChange={(e) => setRehearsal(e.target.checked)}
        />
        A rehearsal: a stand-in flies it, no flight of it is real
      </label>
      {create.error ? <ProblemNote error={create.error} /> : null}
      <button type="submit" className="btn btn-primary" disabled={!ready || create.isPending}>
        Put it on the bench
      </button>
      {!ready ? <p className="label-small mt-2">Give it a name and choose a silhouette.</p> : null}
    </form>
  );
}
