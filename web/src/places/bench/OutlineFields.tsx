import { useState } from "react";
import type { Section, Surface } from "../../api/client";
import { ProblemNote } from "../../components/ui/feedback";
import { useEllipse, useOutlineTable, useSectionFile, useSectionLibrary } from "../../queries/measures";
import { type Change, Choice, SmallButton, useEdit } from "./editing";

const FAMILIES = [
  ["flat_plate", "flat plate"],
  ["symmetrical", "symmetrical"],
  ["semi_symmetrical", "semi-symmetrical"],
  ["flat_bottom", "flat-bottomed"],
  ["reflexed", "reflexed"],
] as const;

interface Props {
  surface: Surface;
  put: (change: (surface: Surface) => Surface) => Change;
}

/** The section of a surface: its family, one of the library by name, or a coordinate file. */
export function SectionChoice({ surface, put }: Props) {
  const { edit, readOnly } = useEdit();
  const library = useSectionLibrary();
  const file = useSectionFile();
  const family = surface.camber ?? "symmetrical";
  const named = library.data?.filter((s) => s.family === family) ?? [];
  const foil = surface.foil ?? null;
  const own = foil && !named.some((s) => s.foil.name === foil.name) ? [[foil.name, foil.name] as const] : [];
  const use = (next: NonNullable<Surface["foil"]> | null, words: string) =>
    edit(
      put((f) => ({ ...f, foil: next })),
      words,
    );
  return (
    <div>
      <Choice
        label="Section"
        value={family}
        options={FAMILIES}
        onChoose={(camber) =>
          void edit(
            put((f) => ({ ...f, camber, foil: null })),
            `${surface.key} section chosen`,
          )
        }
      />
      <Choice
        label="By name, if known"
        value={foil?.name ?? ""}
        options={[["", "only the family"], ...own, ...named.map((s) => [s.foil.name, s.foil.name] as const)]}
        onChoose={(name) =>
          void use(
            named.find((s) => s.foil.name === name)?.foil ?? null,
            `${surface.key} section ${name || "by its family"}`,
          )
        }
      />
      {readOnly ? null : (
        <label className="btn btn-sm my-1">
          Read coordinates (.dat)
          <input
            type="file"
            accept=".dat,.txt,text/plain"
            className="sr-only"
            onChange={(e) => {
              const chosen = e.target.files?.[0];
              if (chosen)
                file.mutate(chosen, { onSuccess: (found) => void use(found, `${surface.key} section ${found.name}`) });
              e.target.value = "";
            }}
          />
        </label>
      )}
      {file.error ? <ProblemNote error={file.error} /> : null}
      {foil ? (
        <p className="label-small">
          {foil.name}: {(foil.thickness * 100).toFixed(1)} % thick, {(foil.camber * 100).toFixed(1)} % camber.{" "}
          {foil.source}.
        </p>
      ) : null}
    </div>
  );
}

const STRAIGHT = [
  ["0", "the leading edge"],
  ["0.25", "the quarter chord"],
  ["0.5", "the middle"],
  ["1", "the trailing edge"],
] as const;

/** Outlines other than straight panels: an ellipse from span and root, or a table of stations. */
export function OutlineTools({ surface, put }: Props) {
  const { edit, readOnly, plan } = useEdit();
  const [straight, setStraight] = useState<(typeof STRAIGHT)[number][0]>("0.25");
  const [table, setTable] = useState("");
  const ellipse = useEllipse();
  const outline = useOutlineTable();
  const root = surface.sections[0];
  const tip = surface.sections.at(-1);
  if (readOnly || !root || !tip) return null;
  const use = (sections: Section[], words: string) =>
    edit(
      put((f) => ({ ...f, sections })),
      `${surface.key} ${words}`,
    );
  return (
    <details className="my-1">
      <summary className="min-h-9 font-semibold">Curved outline, or many chords at once</summary>
      <Choice label="Ellipse, straight along" value={straight} options={STRAIGHT} onChoose={setStraight} />
      <SmallButton
        words="Make it an ellipse"
        onClick={() =>
          ellipse.mutate(
            {
              half_span_m: tip.y_m,
              root_chord_m: root.chord_m,
              straight_at: Number(straight),
              tip_rise_m: tip.z_offset_m ?? 0,
            },
            { onSuccess: (sections) => void use(sections, "made an ellipse of its span and root chord") },
          )
        }
      />
      {ellipse.error ? <ProblemNote error={ellipse.error} /> : null}
      <label className="mt-2 block">
        Table of chords, root to tip
        <span className="label-small block">
          millimetres a row: from the centre line, leading edge behind the root's, chord; then rise and wash-out in
          degrees if measured
        </span>
        <textarea
          className="textarea mt-1 w-full font-mono text-sm"
          rows={5}
          value={table}
          placeholder={"0 0 260\n300 8 250\n600 40 180\n750 95 60"}
          onChange={(e) => setTable(e.target.value)}
        />
      </label>
      <SmallButton
        words="Use this table"
        onClick={() =>
          outline.mutate(
            { table, millimetres_per_unit: plan },
            { onSuccess: (sections) => void use(sections, "outline read from a table") },
          )
        }
      />
      {outline.error ? <ProblemNote error={outline.error} /> : null}
    </details>
  );
}
