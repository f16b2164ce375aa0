import type { Arrangements, Configuration } from "../../api/client";
import { Group, Measure, SmallButton, useEdit } from "./editing";

type Stock = Arrangements["stock"];

/** Ballast at hand: sizes of the pieces and the places for it; common ones until the pilot says otherwise. */
export function StockFields({ stock }: { stock: Stock }) {
  const { edit } = useEdit();
  const change = (next: (stock: Stock) => Stock) => (s: Configuration) => ({ ...s, ballast: next(s.ballast ?? stock) });
  const put = (next: (stock: Stock) => Stock, words: string) => void edit(change(next), words);
  return (
    <details className="mt-2">
      <summary className="min-h-9 font-semibold">Ballast at hand</summary>
      <Group
        title="Pieces"
        action={
          stock.pieces_kg.length < 8 ? (
            <SmallButton
              words="add a size"
              quiet
              onClick={() => put((b) => ({ ...b, pieces_kg: [...b.pieces_kg, 0.015] }), "a size of ballast added")}
            />
          ) : null
        }
      >
        {stock.pieces_kg.map((piece, i) => (
          <Measure
            // biome-ignore lint/suspicious/noArrayIndexKey: a size has no other identity than its place
            key={i}
            label={`Size ${i + 1}`}
            quantity="mass"
            extraDigits={1}
            value={piece}
            words="sizes of ballast entered"
            change={(s, v) => change((b) => ({ ...b, pieces_kg: b.pieces_kg.map((p, k) => (k === i ? v : p)) }))(s)}
          />
        ))}
      </Group>
      {stock.stations.map((station, i) => (
        <Group
          // biome-ignore lint/suspicious/noArrayIndexKey: places are kept in their order
          key={i}
          title={`Place: ${station.name}`}
          action={
            stock.stations.length > 1 ? (
              <SmallButton
                words="remove"
                quiet
                onClick={() =>
                  put(
                    (b) => ({ ...b, stations: b.stations.filter((_, k) => k !== i) }),
                    `no ballast at the ${station.name}`,
                  )
                }
              />
            ) : null
          }
        >
          {PLACE.map(({ key, ...row }) => (
            <Measure
              key={key}
              {...row}
              label={`${row.label}, ${station.name}`}
              value={station[key]}
              words={`place for ballast, ${station.name}`}
              change={(s, v) =>
                change((b) => ({ ...b, stations: b.stations.map((p, k) => (k === i ? { ...p, [key]: v } : p)) }))(s)
              }
            />
          ))}
        </Group>
      ))}
      {stock.stations.length < 8 ? (
        <SmallButton
          words="Add a place"
          onClick={() =>
            put(
              (b) => ({
                ...b,
                stations: [...b.stations, { name: `place ${b.stations.length + 1}`, x_m: 0, y_m: 0, most_kg: 0.2 }],
              }),
              "a place for ballast added",
            )
          }
        />
      ) : null}
    </details>
  );
}

const PLACE = [
  { key: "x_m", label: "Station", quantity: "length" },
  { key: "y_m", label: "Right of the centre line", hint: "left is negative", quantity: "length" },
  { key: "most_kg", label: "Takes at most", quantity: "mass" },
] as const;
