import { useState } from "react";
import { Link } from "react-router";
import { isAway, type Rework } from "../../api/client";
import { BetterFirst } from "../../components/BetterFirst";
import { Contradictions } from "../../components/Contradictions";
import { LandedUnsent } from "../../components/LandedUnsent";
import { useTheModel } from "../../components/model-context";
import { Rail } from "../../components/Rail";
import { useSettings } from "../../components/settings-context";
import { Heading, Loading, ProblemNote } from "../../components/ui/feedback";
import { ChangeDrawing } from "../../drawing/ChangeDrawing";
import { COMPUTED, type ReworkChoices, useAcceptRework, useRework } from "../../queries/sorties";
import { WaysThere } from "./WaysThere";
import { WorkOrderSheet } from "./WorkOrderSheet";

/** What to change, by how much, in what hands can do; now against predicted; then the work order. */
export default function ReworkPage() {
  const model = useTheModel();
  const [choices, setChoices] = useState(COMPUTED);
  const rework = useRework(model.id, choices);
  const decided = rework.data?.decided ?? null;
  if (model.sorties.every((s) => s.status !== "landed"))
    return (
      <div className="mx-auto max-w-xl py-8 text-center">
        <h1 className="mb-4 text-2xl font-semibold">Nothing has been flown yet: there is nothing to correct.</h1>
        <Link className="btn btn-accent btn-lg" to={`/m/${model.id}/plan`}>
          Plan the maiden
        </Link>
      </div>
    );
  if (rework.isPending) return <Loading words="Composing the correction…" />;
  if (!rework.data) return <ProblemNote error={rework.error} onRetry={() => void rework.refetch()} />;
  if (decided) return <WorkOrderSheet order={decided} rework={rework.data} />;
  return (
    <Decide
      rework={rework.data}
      choices={choices}
      setChoices={setChoices}
      stale={rework.isPlaceholderData}
      error={rework.error}
    />
  );
}

type Kind = Rework["actions"][number]["kind"];

const AXES_OF: Partial<Record<Kind, ReworkChoices["leave"]>> = {
  elevator: ["pitch"],
  aileron: ["roll"],
  rudder: ["yaw"],
  elevon: ["pitch", "roll"],
  tail_surface: ["pitch", "yaw"],
};

/** The choices without an action of a kind; null for one that cannot be struck. */
function without(kind: Kind, choices: ReworkChoices): ReworkChoices | null {
  const axes = AXES_OF[kind];
  if (axes) return { ...choices, leave: [...new Set([...choices.leave, ...axes])] };
  if (kind === "move_battery") return { ...choices, battery_m: 0 };
  if (kind === "ballast") return { ...choices, use_ballast: false };
  if (kind === "tip_ballast") return { ...choices, use_tip_ballast: false };
  if (kind === "level") return { ...choices, use_level: false };
  if (kind === "rudder_rate") return { ...choices, use_rudder_rate: false };
  return kind === "thrust_line" ? { ...choices, use_thrust_line: false } : null;
}

/** What the pilot has struck, in words; empty while nothing is. */
function struck(choices: ReworkChoices): string {
  const trims = choices.leave.map((a) => ({ pitch: "elevator", roll: "ailerons", yaw: "rudder" })[a]);
  return [
    ...(choices.battery_m === 0 ? ["the pack's move"] : []),
    ...(choices.use_ballast ? [] : ["ballast"]),
    ...(choices.use_tip_ballast ? [] : ["ballast in a wing"]),
    ...(choices.use_thrust_line ? [] : ["washers"]),
    ...(choices.use_level ? [] : ["the level reference"]),
    ...(choices.use_rudder_rate ? [] : ["the rudder rate"]),
    ...trims.map((t) => `the trim of the ${t}`),
  ].join(", ");
}

interface DecideProps {
  rework: Rework;
  choices: ReworkChoices;
  setChoices: (c: ReworkChoices) => void;
  stale: boolean;
  error: unknown;
}

function Decide({ rework, choices, setChoices, stale, error }: DecideProps) {
  const model = useTheModel();
  const accept = useAcceptRework(model.id);
  return (
    <div>
      <Heading title="Rework">
        <Link className="btn" to={`/m/${model.id}/plan`}>
          Leave it as it landed
        </Link>
        <button
          type="button"
          className="btn btn-accent"
          disabled={accept.isPending || stale || model.read_only}
          onClick={() => accept.mutate(choices)}
        >
          {accept.isPending ? "Writing…" : "Write the work order"}
        </button>
      </Heading>
      {accept.error ? <ProblemNote error={accept.error} /> : null}
      {error && !isAway(error) ? <ProblemNote error={error} /> : null}
      <LandedUnsent />
      <Contradictions found={rework.contradictions} />
      <BetterFirst found={rework.first ?? []} title="Better done before anything is changed" />
      <p role="status" className="sr-only">
        {stale ? "Composing…" : `${rework.actions.length} things to do, ${rework.held_back.length} held back.`}
      </p>
      <div className="grid gap-4 lg:grid-cols-[1.1fr_1fr]">
        <section className={stale ? "opacity-70" : ""}>
          <ChangeDrawing before={rework.flown_setup} after={rework.setup} />
          <BatterySlider rework={rework} choices={choices} setChoices={setChoices} />
          <Switches choices={choices} setChoices={setChoices} />
          <h2 className="mt-3 text-lg">What to do</h2>
          {rework.actions.length === 0 ? <p>Nothing: leave it as it is and fly again to be sure.</p> : null}
          <ol className="list-decimal pl-6">
            {rework.actions.map((a) => (
              <li key={a.words} className="border-b border-base-300 py-1.5">
                <p className="font-semibold">{a.words}</p>
                {a.surface_words ? <p className="text-sm">Afterwards: {a.surface_words}.</p> : null}
                <p className="text-sm">{a.why}</p>
                {a.thumb ? <p className="label-small">{a.thumb}</p> : null}
                {without(a.kind, choices) ? (
                  <button
                    type="button"
                    className="btn no-print mt-1 min-h-11"
                    aria-label={`strike this: ${a.words}`}
                    onClick={() => setChoices(without(a.kind, choices) ?? choices)}
                  >
                    strike this
                  </button>
                ) : null}
              </li>
            ))}
          </ol>
          {struck(choices) ? (
            <p className="mt-1">
              Struck by you: {struck(choices)}.{" "}
              <button type="button" className="underline" onClick={() => setChoices(COMPUTED)}>
                Back to what is computed
              </button>
            </p>
          ) : null}
          {rework.held_back.map((h) => (
            <div key={h.words} className="sheet mt-2 border-l-4 border-l-info p-2">
              <p className="font-semibold">{h.words}</p>
              <p className="text-sm">{h.opens_with}</p>
              {h.reading ? (
                <Link className="btn btn-sm mt-1 no-print" to={`/m/${model.id}/bench?tool=weigh`}>
                  Type in another reading
                </Link>
              ) : null}
            </div>
          ))}
          <p className="mt-2 text-sm">This makes stale: {rework.stale.length ? rework.stale.join(", ") : "nothing"}.</p>
        </section>
        <section>
          <h2 className="text-lg">Now, solid; predicted for the next flight, dashed</h2>
          {rework.now.map((t) => {
            const predicted = rework.predicted.find((p) => p.key === t.key);
            return (
              <Rail
                key={t.key}
                name={t.name}
                words={{ predicted: "next", measured: "now" }}
                marks={[
                  { tendency: t, kind: "measured" },
                  ...(predicted ? [{ tendency: predicted, kind: "predicted" as const }] : []),
                ]}
              />
            );
          })}
          <p className="label-small mt-2">{rework.wanted_words}</p>
        </section>
      </div>
      <WaysThere choices={choices} />
    </div>
  );
}

function BatterySlider({ rework, choices, setChoices }: Pick<DecideProps, "rework" | "choices" | "setChoices">) {
  const { show } = useSettings();
  const find = (items: Rework["setup"]["items"]) => items.find((i) => i.key === rework.pack_key && i.bay_m);
  const before = find(rework.flown_setup.items);
  const after = find(rework.setup.items);
  if (!before?.bay_m || !after) return null;
  const low = Math.round(((before.bay_m[0] ?? 0) - before.x_m) * 1000);
  const high = Math.round(((before.bay_m[1] ?? 0) - before.x_m) * 1000);
  const mm =
    choices.battery_m === null ? Math.round((after.x_m - before.x_m) * 1000) : Math.round(choices.battery_m * 1000);
  return (
    <div className="mt-2">
      <label className="block">
        <span className="flex justify-between">
          <span className="font-semibold">{before.name}</span>
          <span aria-live="polite">
            {mm === 0 ? "stays" : `${show(Math.abs(mm) / 1000, "length")} ${mm > 0 ? "aft" : "forward"}`}
          </span>
        </span>
        <input
          type="range"
          className="range range-sm w-full"
          min={low}
          max={high}
          step={1}
          value={mm}
          aria-label={`${before.name}: move within its bay`}
          aria-valuetext={`${Math.abs(mm)} mm ${mm > 0 ? "aft" : "forward"}`}
          onChange={(e) => setChoices({ ...choices, battery_m: Number(e.target.value) / 1000 })}
        />
      </label>
      <div className="label-small flex justify-between">
        <span>forward end of the bay</span>
        {choices.battery_m !== null ? (
          <button type="button" className="underline" onClick={() => setChoices({ ...choices, battery_m: null })}>
            back to the computed move
          </button>
        ) : (
          <span>computed</span>
        )}
        <span>aft end</span>
      </div>
    </div>
  );
}

function Switches({ choices, setChoices }: Pick<DecideProps, "choices" | "setChoices">) {
  const rows = [
    ["use_ballast", "ballast at nose or tail, if the bay is not enough"],
    ["use_tip_ballast", "ballast in a wing tip, if the evidence separates it"],
    ["use_thrust_line", "washers behind the motor"],
  ] as const;
  return (
    <div className="mt-2 flex flex-wrap gap-x-5 gap-y-1 text-sm">
      {rows.map(([key, words]) => (
        <label key={key} className="flex items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={choices[key]}
            onChange={(e) => setChoices({ ...choices, [key]: e.target.checked })}
          />
          {words}
        </label>
      ))}
    </div>
  );
}
