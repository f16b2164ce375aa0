import { useState } from "react";
import { QuantityField } from "../../components/quantity/QuantityField";
import { ProblemNote } from "../../components/ui/feedback";
import { useWingMount } from "../../queries/measures";
import { SmallButton, useEdit } from "./editing";

type Key = "bare_mass_kg" | "bare_x_m" | "wing_mass_kg" | "wing_x_m";
const FIELDS: { key: Key; label: string; hint?: string; quantity: "mass" | "length" }[] = [
  { key: "bare_mass_kg", label: "Mass without the wing", hint: "ready to fly otherwise", quantity: "mass" },
  { key: "bare_x_m", label: "It balances, from the datum", quantity: "length" },
  { key: "wing_mass_kg", label: "Mass of the wing", hint: "with its servos", quantity: "mass" },
  { key: "wing_x_m", label: "The wing balances, behind its root leading edge", quantity: "length" },
];

/** A bare fuselage and a loose wing: where the wing goes, its own mass counted. */
export function WingMount({ modelId }: { modelId: string }) {
  const { edit, readOnly } = useEdit();
  const [read, setRead] = useState<Partial<Record<Key, number>>>({});
  const mount = useWingMount(modelId);
  const { bare_mass_kg, bare_x_m, wing_mass_kg, wing_x_m } = read;
  const ready =
    bare_mass_kg !== undefined && bare_x_m !== undefined && wing_mass_kg !== undefined && wing_x_m !== undefined;
  const move = (shift: number) =>
    edit(
      (s) => ({
        ...s,
        airframe: {
          ...s.airframe,
          surfaces: s.airframe.surfaces.map((f) =>
            f.role === "wing" ? { ...f, x_m: Math.round((f.x_m + shift) * 1000) / 1000 } : f,
          ),
        },
      }),
      "wing mounted where the whole balances",
    );
  return (
    <details className="mt-2">
      <summary className="min-h-9 font-semibold">Bare fuselage, loose wing: where to mount it</summary>
      <div className="border-l-2 border-base-300 pl-2">
        {FIELDS.map(({ key, ...field }) => (
          <QuantityField
            key={key}
            {...field}
            value={read[key] ?? null}
            disabled={readOnly}
            onCommit={(v) => setRead((r) => ({ ...r, [key]: v }))}
          />
        ))}
        {ready ? (
          <SmallButton
            words="Where does the wing go?"
            onClick={() => mount.mutate({ bare_mass_kg, bare_x_m, wing_mass_kg, wing_x_m })}
          />
        ) : (
          <p className="label-small">Enter all four.</p>
        )}
        {mount.error ? <ProblemNote error={mount.error} /> : null}
        {mount.data ? (
          <div className="sheet mt-1 p-2">
            <p className="font-semibold">{mount.data.words}</p>
            <SmallButton
              words="Draw it there"
              onClick={() => void move(mount.data.shift_m).then(() => mount.reset())}
            />
          </div>
        ) : null}
      </div>
    </details>
  );
}
