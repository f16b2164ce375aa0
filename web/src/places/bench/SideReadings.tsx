import { useState } from "react";
import type { BenchAnswer, Configuration } from "../../api/client";
import { QuantityField } from "../../components/quantity/QuantityField";
import { useSettings } from "../../components/settings-context";
import { ProblemNote } from "../../components/ui/feedback";
import { useHeight, useLateral, useSwing } from "../../queries/measures";
import { Choice, SmallButton, useEditing } from "./editing";

const massOf = (answer: BenchAnswer) => answer.numbers.find((n) => n.key === "mass")?.value ?? 0;

/** Balance across, in height, and inertia: each by a simple trial, each kept with its error. */
export function SideReadings({ answer }: { answer: BenchAnswer }) {
  return (
    <>
      <details className="mt-2">
        <summary className="min-h-9 font-semibold">Left and right: a mass on a tip</summary>
        <Across answer={answer} />
      </details>
      <details>
        <summary className="min-h-9 font-semibold">Height: hung by the tail</summary>
        <Height answer={answer} />
      </details>
      <details>
        <summary className="min-h-9 font-semibold">Inertia: swung on two strings</summary>
        <Swing answer={answer} />
      </details>
    </>
  );
}

const TIPS = [
  ["left", "left tip"],
  ["right", "right tip"],
] as const;

function Across({ answer }: { answer: BenchAnswer }) {
  const { setup, edit, readOnly } = useEditing();
  const [tip, setTip] = useState<"left" | "right">("left");
  const [mass, setMass] = useState<number | null>(null);
  const found = useLateral();
  const half = setup.airframe.surfaces.find((s) => s.role === "wing")?.sections.at(-1)?.y_m ?? 0.5;
  return (
    <div className="border-l-2 border-base-300 pl-2">
      <p className="text-sm">
        Rest it on two points of its centre line, wings level. Lay mass on the tip that rises until it stays level.
      </p>
      <Choice label="The mass lies on the" value={tip} options={TIPS} onChoose={setTip} />
      <QuantityField
        label="Mass that levels it"
        quantity="mass"
        extraDigits={1}
        value={mass}
        disabled={readOnly}
        onCommit={setMass}
      />
      <SmallButton
        words="What does that mean?"
        onClick={() => found.mutate({ tip_mass_kg: mass ?? 0, tip, half_span_m: half, mass_kg: massOf(answer) })}
      />
      {found.error ? <ProblemNote error={found.error} /> : null}
      {found.data ? (
        <div className="sheet mt-1 p-2">
          <p className="font-semibold">{found.data.words}</p>
          <SmallButton
            words="Keep this reading"
            onClick={() =>
              void edit((s) => withAcross(s, found.data, answer), "balance across read with a mass on a tip")
            }
          />
        </div>
      ) : null}
      {setup.across ? (
        <SmallButton
          words="Take the reading across back"
          quiet
          onClick={() => void edit((s) => ({ ...s, across: null }), "reading across taken back")}
        />
      ) : null}
    </div>
  );
}

type Estimate = { value_m: number; sigma_m: number; words: string };

/** The reading and what the items sum to now, so that later moves carry it along. */
function withAcross(s: Configuration, found: Estimate, answer: BenchAnswer): Configuration {
  return {
    ...s,
    across: { value_m: found.value_m, sigma_m: found.sigma_m, items_m: answer.items_y_cg_m, how: "mass on a tip" },
  };
}

function Height({ answer }: { answer: BenchAnswer }) {
  const { setup, edit, readOnly } = useEditing();
  const { show } = useSettings();
  const body = setup.airframe.body;
  const [x, setX] = useState<number>(body.nose_x_m + 0.95 * body.length_m);
  const [z, setZ] = useState<number>(0);
  const [lean, setLean] = useState<number | null>(null);
  const found = useHeight();
  const keep = (e: Estimate) =>
    edit(
      (s) => ({
        ...s,
        height: { value_m: e.value_m, sigma_m: e.sigma_m, items_m: answer.items_z_cg_m, how: "hung by the tail" },
      }),
      "height of the balance point read",
    );
  return (
    <div className="border-l-2 border-base-300 pl-2">
      <p className="text-sm">
        Hang it nose down from one point of its tail, over something soft. A plumb line from the hook shows how the body
        leans.
      </p>
      <QuantityField label="Hook, from the datum" quantity="length" value={x} disabled={readOnly} onCommit={setX} />
      <QuantityField
        label="Hook above the datum line"
        hint="below is negative"
        quantity="length"
        value={z}
        disabled={readOnly}
        onCommit={setZ}
      />
      <QuantityField
        label="Nose leans to the canopy side by"
        hint="to the belly side is negative"
        quantity="angle"
        value={lean}
        disabled={readOnly}
        onCommit={setLean}
      />
      {lean !== null ? (
        <SmallButton
          words="What does that mean?"
          onClick={() => found.mutate({ x_cg_m: answer.x_cg_m, x_hang_m: x, z_hang_m: z, lean_to_canopy_rad: lean })}
        />
      ) : null}
      {found.error ? <ProblemNote error={found.error} /> : null}
      {found.data ? (
        <div className="sheet mt-1 p-2">
          <p className="font-semibold">{found.data.words}</p>
          <SmallButton words="Keep this reading" onClick={() => void keep(found.data)} />
        </div>
      ) : null}
      {setup.height ? (
        <p className="text-sm">
          Kept: {show(Math.abs(setup.height.value_m), "length")} {setup.height.value_m < 0 ? "below" : "above"} the
          datum line.{" "}
          <SmallButton
            words="Take it back"
            quiet
            onClick={() => void edit((s) => ({ ...s, height: null }), "reading of the height taken back")}
          />
        </p>
      ) : null}
    </div>
  );
}

const AXES = [
  ["pitch", "nose up and down"],
  ["roll", "wing up and down"],
] as const;

function Swing({ answer }: { answer: BenchAnswer }) {
  const { setup, edit, readOnly } = useEditing();
  const [axis, setAxis] = useState<"pitch" | "roll">("pitch");
  const [spacing, setSpacing] = useState<number | null>(null);
  const [length, setLength] = useState<number | null>(null);
  const [period, setPeriod] = useState<number | null>(null);
  const found = useSwing();
  const ready = spacing !== null && length !== null && period !== null;
  const keep = (inertia: number) =>
    edit(
      (s) => ({ ...s, swung: { roll_kg_m2: null, pitch_kg_m2: null, ...s.swung, [`${axis}_kg_m2`]: inertia } }),
      `${axis} inertia found by swinging`,
    );
  const kept = setup.swung?.[`${axis}_kg_m2`];
  return (
    <div className="border-l-2 border-base-300 pl-2">
      <p className="text-sm">
        Two strings of one length, as far apart either side of the balance point, the axis upright. Turn it a little,
        time ten swings, enter a tenth.
      </p>
      <Choice label="Turning" value={axis} options={AXES} onChoose={setAxis} />
      <QuantityField
        label="Between the strings"
        quantity="length"
        value={spacing}
        disabled={readOnly}
        onCommit={setSpacing}
      />
      <QuantityField
        label="Length of the strings"
        quantity="length"
        value={length}
        disabled={readOnly}
        onCommit={setLength}
      />
      <QuantityField
        label="One swing, there and back"
        quantity="time"
        extraDigits={1}
        value={period}
        disabled={readOnly}
        onCommit={setPeriod}
      />
      {ready ? (
        <SmallButton
          words="What does that mean?"
          onClick={() =>
            found.mutate({
              mass_kg: massOf(answer),
              period_s: period,
              spacing_m: spacing,
              length_m: length,
              arm_m: null,
            })
          }
        />
      ) : null}
      {found.error ? <ProblemNote error={found.error} /> : null}
      {found.data ? (
        <div className="sheet mt-1 p-2">
          <p className="font-semibold">{found.data.inertia_kg_m2.toPrecision(3)} kg m²</p>
          <SmallButton words="Keep this" onClick={() => void keep(found.data.inertia_kg_m2)} />
        </div>
      ) : null}
      {kept ? <p className="text-sm">Kept: {kept.toPrecision(3)} kg m². It sets how fast the model answers.</p> : null}
    </div>
  );
}
