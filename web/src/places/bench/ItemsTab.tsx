import { memo } from "react";
import type { BenchAnswer, Configuration, Item, Mission, ModelDetail } from "../../api/client";
import { marginWords, stationWords } from "../../components/quantity/station";
import { useSettings } from "../../components/settings-context";
import { ProblemNote } from "../../components/ui/feedback";
import { newId } from "../../domain/identity";
import { placesOf } from "../../drawing/DamageMarks";
import { useItemTable } from "../../queries/models";
import { type Change, Group, Measure, SmallButton, Tick, useEdit, useEditing } from "./editing";

const onItem =
  (key: string, change: (item: Item) => Item): Change =>
  (s) => ({ ...s, items: s.items.map((i) => (i.key === key ? change(i) : i)) });

interface Props {
  modelId: string;
  mission: Mission | null;
  /** What the model becomes while its fuel burns; null without a tank. */
  burnt: BenchAnswer["tank_empty"];
  incidents: ModelDetail["incidents"];
}

/** What is on board: mass and station of each item; the battery with its bay. */
export function ItemsTab({ modelId, mission, burnt, incidents }: Props) {
  const { setup, edit } = useEditing();
  const add = (kind: Item["kind"]) => {
    const pack = setup.items.find((i) => i.kind === "battery");
    const plain = {
      key: newId(),
      name: "New item",
      mass_kg: 0.02,
      x_m: 0,
      y_m: 0,
      z_m: 0,
      fitted: true,
      to_come: false,
    };
    const item: Item =
      kind === "battery" && pack
        ? { ...pack, key: newId(), name: "Other pack", fitted: false }
        : kind === "fuel"
          ? { ...plain, name: "Tank, full", mass_kg: 0.1, kind, bay_m: null }
          : { ...plain, kind: "part", bay_m: null };
    return edit((s) => ({ ...s, items: [...s.items, item] }), "item added");
  };
  return (
    <div>
      <Repairs incidents={incidents} />
      {setup.items.map((item) => (
        <ItemFields key={item.key} item={item} />
      ))}
      <div className="flex gap-2">
        <SmallButton words="Add an item" onClick={() => void add("part")} />
        <SmallButton words="Add another pack" onClick={() => void add("battery")} />
        <SmallButton words="Add a tank" onClick={() => void add("fuel")} />
      </div>
      {burnt ? <TankSheet burnt={burnt} /> : null}
      {mission ? <MissionSheet mission={mission} /> : null}
      <Table modelId={modelId} />
    </div>
  );
}

/** What the repair of each damaged part weighs, until it is gone over: an item at the part, to be moved like any other. */
function Repairs({ incidents }: { incidents: ModelDetail["incidents"] }) {
  const { setup } = useEditing();
  const rows = incidents
    .filter((i) => i.open.length > 0)
    .flatMap((i) =>
      i.damaged.map((part, k) => ({ part, name: i.damaged_names[k] ?? part, key: `repair-${i.record_id}-${part}` })),
    );
  if (rows.length === 0) return null;
  return (
    <Group title="Repaired: what did it add?">
      <p className="text-sm">
        Glue, patches and stronger parts. A part that was replaced, or came out lighter: change its own item.
      </p>
      {rows.map(({ part, name, key }) => (
        <Measure
          key={key}
          label={name}
          quantity="mass"
          value={setup.items.find((i) => i.key === key)?.mass_kg ?? null}
          words={`repair weighed: ${name.toLowerCase()}`}
          change={(s, v) => withRepair(s, key, name, part, v)}
        />
      ))}
    </Group>
  );
}

/** The setup with the mass of a repair; nothing of one that weighs nothing. */
function withRepair(s: Configuration, key: string, name: string, part: string, mass_kg: number): Configuration {
  const others = s.items.filter((i) => i.key !== key);
  if (mass_kg === 0) return { ...s, items: others };
  const known = s.items.find((i) => i.key === key);
  if (known) return { ...s, items: s.items.map((i) => (i.key === key ? { ...i, mass_kg } : i)) };
  const places = placesOf(part, s.airframe);
  // Both halves alike: in the middle. What is on one side only is moved there afterwards.
  const x_m = places[0]?.x ?? 0;
  const item: Item = {
    key,
    name: `Repair: ${name.toLowerCase()}`,
    mass_kg,
    x_m,
    y_m: places.length === 1 ? (places[0]?.y ?? 0) : 0,
    z_m: 0,
    kind: "part",
    bay_m: null,
    fitted: true,
    to_come: false,
  };
  return { ...s, items: [...others, item] };
}

/** What the model becomes while its fuel burns. */
function TankSheet({ burnt }: { burnt: NonNullable<BenchAnswer["tank_empty"]> }) {
  const { show } = useSettings();
  return (
    <section className="sheet mt-3 p-3" data-testid="tank-empty">
      <h2 className="font-bold">Tank empty: margin {marginWords(show, burnt.static_margin)}</h2>
      <p>{burnt.words}</p>
      <p className="text-sm">
        Balance then {stationWords(show, burnt.x_cg_m)}. The tank's mass is that of its fuel at take-off; read the
        balance with it as it was then.
      </p>
    </section>
  );
}

/** What the model becomes when the equipment still to come is aboard. */
function MissionSheet({ mission }: { mission: Mission }) {
  const { show } = useSettings();
  return (
    <section className="sheet mt-3 p-3">
      <h2 className="font-bold">
        Mission mass {show(mission.mass_kg, "mass")}, {show(mission.added_kg, "mass")} more than now
      </h2>
      <p>{mission.words}</p>
      <p className="text-sm">
        Balance {stationWords(show, mission.x_cg_m)}, margin {marginWords(show, mission.static_margin)}, stall{" "}
        {show(mission.stall_speed_mps, "speed")}. To be checked and flown again then: {mission.fly_again.join(", ")}.
      </p>
    </section>
  );
}

const ItemFields = memo(function ItemFields({ item }: { item: Item }) {
  const { edit } = useEdit();
  const words = `${item.name} changed`;
  const without: Change = (s) => ({ ...s, items: s.items.filter((i) => i.key !== item.key) });
  const airframe = item.kind === "airframe";
  return (
    <Group
      title={<ItemName item={item} />}
      action={
        airframe ? null : (
          <SmallButton words="take off" quiet onClick={() => void edit(without, `${item.name} taken off`)} />
        )
      }
    >
      <Measure
        label="Mass"
        quantity="mass"
        value={item.mass_kg}
        words={words}
        change={(s, v) => onItem(item.key, (i) => ({ ...i, mass_kg: v }))(s)}
      />
      <Measure
        label="Station of its centre"
        quantity="length"
        value={item.x_m}
        words={words}
        change={(s, v) => onItem(item.key, (i) => ({ ...i, x_m: v }))(s)}
      />
      {airframe ? null : (
        <Measure
          label="To the right of the centre line"
          hint="left is negative"
          quantity="length"
          value={item.y_m ?? 0}
          words={words}
          change={(s, v) => onItem(item.key, (i) => ({ ...i, y_m: v }))(s)}
        />
      )}
      <Measure
        label="Above the datum line"
        hint="below is negative"
        quantity="length"
        value={item.z_m ?? 0}
        words={words}
        change={(s, v) => onItem(item.key, (i) => ({ ...i, z_m: v }))(s)}
      />
      {airframe ? null : <Place item={item} />}
    </Group>
  );
});

/** The items as a table, out and in. */
function Table({ modelId }: { modelId: string }) {
  const { readOnly } = useEdit();
  const read = useItemTable(modelId);
  return (
    <div className="mt-3 border-t border-base-300 pt-2">
      <p className="flex flex-wrap items-center gap-3">
        <a className="btn btn-sm" href={`/api/v1/models/${modelId}/items.csv`} download>
          Items as a table (CSV)
        </a>
        {readOnly ? null : (
          <label className="btn btn-sm">
            Read a table
            <input
              type="file"
              accept=".csv,text/csv"
              className="sr-only"
              onChange={(e) => {
                const file = e.target.files?.[0];
                if (file) read.mutate(file);
                e.target.value = "";
              }}
            />
          </label>
        )}
      </p>
      {read.error ? <ProblemNote error={read.error} /> : null}
    </div>
  );
}

/** Whether it is aboard, and how far it can be moved. */
function Place({ item }: { item: Item }) {
  const { edit } = useEdit();
  const put = (part: Partial<Item>, words: string) =>
    void edit(
      onItem(item.key, (i) => ({ ...i, ...part })),
      words,
    );
  return (
    <>
      {item.kind === "battery" ? (
        <Tick
          label="Fitted now (else an alternative pack)"
          checked={item.fitted ?? true}
          onChange={(fitted) =>
            put({ fitted, to_come: false }, fitted ? `${item.name} fitted` : `${item.name} is an alternative`)
          }
        />
      ) : null}
      {item.kind !== "airframe" && item.kind !== "ballast" ? (
        <Tick
          label="Still to come (not in the test flights)"
          checked={item.to_come ?? false}
          onChange={(to_come) =>
            put({ to_come, fitted: !to_come }, to_come ? `${item.name} still to come` : `${item.name} on board`)
          }
        />
      ) : null}
      <Tick
        label="Can be moved"
        checked={Boolean(item.bay_m)}
        onChange={(can) =>
          put(
            { bay_m: can ? [item.x_m - 0.05, item.x_m + 0.05] : null },
            `${item.name} ${can ? "can move" : "is fixed"}`,
          )
        }
      />
      {item.bay_m ? <BayFields item={item} /> : null}
    </>
  );
}

function BayFields({ item }: { item: Item }) {
  const end = (which: 0 | 1, v: number): Change =>
    onItem(item.key, (i) => {
      const [front, rear] = i.bay_m ?? [v, v];
      return { ...i, bay_m: which === 0 ? [v, rear ?? v] : [front ?? v, v] };
    });
  return (
    <>
      {(["Bay, foremost station", "Bay, aftmost station"] as const).map((label, which) => (
        <Measure
          key={label}
          label={label}
          quantity="length"
          value={item.bay_m?.[which] ?? 0}
          words={`bay of ${item.name} changed`}
          change={(s, v) => end(which as 0 | 1, v)(s)}
        />
      ))}
    </>
  );
}

function ItemName({ item }: { item: Item }) {
  const { readOnly, edit } = useEdit();
  return (
    <input
      key={item.name}
      className="input input-sm flex-1 text-base font-bold"
      aria-label="name of the item"
      defaultValue={item.name}
      disabled={readOnly}
      maxLength={80}
      onBlur={(e) => {
        const name = e.target.value.trim();
        if (name === "") e.target.value = item.name;
        else if (name !== item.name)
          void edit(
            onItem(item.key, (i) => ({ ...i, name })),
            `${item.name} renamed ${name}`,
          );
      }}
    />
  );
}
