import type { Item } from "../../api/client";
import { QuantityField } from "../../components/quantity/QuantityField";
import { newId } from "../../domain/identity";
import type { TabProps } from "./BenchPage";

/** What is on board: mass and station of each item; the battery with its bay. */
export function ItemsTab({ setup, readOnly, save }: TabProps) {
  const put = (key: string, next: Partial<Item>) => {
    const name = setup.items.find((i) => i.key === key)?.name ?? "item";
    return save(
      { ...setup, items: setup.items.map((i) => (i.key === key ? { ...i, ...next } : i)) },
      `${name} changed`,
    );
  };
  const add = () =>
    save(
      {
        ...setup,
        items: [
          ...setup.items,
          { key: newId(), name: "New item", mass_kg: 0.02, x_m: 0, y_m: 0, z_m: 0, kind: "part", bay_m: null },
        ],
      },
      "item added",
    );
  return (
    <div>
      {setup.items.map((item) => (
        <fieldset key={item.key} className="mb-2 border-b border-base-300 pb-2">
          <legend className="flex w-full items-center gap-2 pt-1">
            <input
              key={item.name}
              className="input input-sm flex-1 text-base font-bold"
              aria-label="name of the item"
              defaultValue={item.name}
              disabled={readOnly}
              maxLength={80}
              onBlur={(e) =>
                e.target.value.trim() &&
                e.target.value !== item.name &&
                void put(item.key, { name: e.target.value.trim() })
              }
            />
            {!readOnly && item.kind !== "airframe" ? (
              <button
                type="button"
                className="btn btn-ghost btn-xs"
                onClick={() =>
                  void save(
                    { ...setup, items: setup.items.filter((i) => i.key !== item.key) },
                    `${item.name} taken off`,
                  )
                }
              >
                take off
              </button>
            ) : null}
          </legend>
          <QuantityField
            label="Mass"
            quantity="mass"
            value={item.mass_kg}
            disabled={readOnly}
            onCommit={(v) => put(item.key, { mass_kg: v })}
          />
          <QuantityField
            label="Station of its centre"
            quantity="length"
            value={item.x_m}
            disabled={readOnly}
            onCommit={(v) => put(item.key, { x_m: v })}
          />
          {item.kind !== "airframe" ? (
            <QuantityField
              label="To the right of the centre line"
              hint="left is negative"
              quantity="length"
              value={item.y_m ?? 0}
              disabled={readOnly}
              onCommit={(v) => put(item.key, { y_m: v })}
            />
          ) : null}
          {item.bay_m ? (
            <>
              <QuantityField
                label="Bay, foremost station"
                quantity="length"
                value={item.bay_m[0] ?? 0}
                disabled={readOnly}
                onCommit={(v) => put(item.key, { bay_m: [v, item.bay_m?.[1] ?? v] })}
              />
              <QuantityField
                label="Bay, aftmost station"
                quantity="length"
                value={item.bay_m[1] ?? 0}
                disabled={readOnly}
                onCommit={(v) => put(item.key, { bay_m: [item.bay_m?.[0] ?? v, v] })}
              />
            </>
          ) : null}
        </fieldset>
      ))}
      {!readOnly ? (
        <button type="button" className="btn btn-sm" onClick={() => void add()}>
          Add an item
        </button>
      ) : null}
    </div>
  );
}
