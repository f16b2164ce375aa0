import { useState } from "react";
import type { Card, Plan } from "../../api/client";

type Programme = Plan["programme"];

interface Props {
  programme: Programme;
  cards: Record<string, Card>;
  order: string[];
  setOrder: (order: string[]) => void;
  refused: readonly string[];
}

const PX_PER_MINUTE = 34;

/** The sortie as a column of cards whose height is minutes, the pack's safe minutes as a line across. */
export function SortieColumn({ programme, cards, order, setOrder, refused }: Props) {
  const [note, setNote] = useState("");
  const minutes = order.reduce((sum, id) => sum + (cards[id]?.minutes ?? 0), 0);
  const others = programme.cards.filter((c) => cards[c.card_id]?.phase === "flight" && !order.includes(c.card_id));
  const over = minutes > programme.safe_minutes;

  function move(index: number, by: number) {
    const to = index + by;
    const a = order[index];
    const b = order[to];
    if (a === undefined || b === undefined) return;
    if (to === 0 || index === 0) return setNote("Take-off stays first.");
    if (to === order.length - 1 || index === order.length - 1) return setNote("Landing stays last.");
    const first = by < 0 ? a : b;
    const second = by < 0 ? b : a;
    if (cards[first]?.needs?.includes(second)) return setNote(`${first} needs ${second} before it.`);
    const next = [...order];
    next[index] = b;
    next[to] = a;
    setNote("");
    setOrder(next);
  }

  function take(id: string) {
    const card = cards[id];
    const missing = (card?.needs ?? []).filter(
      (n) =>
        cards[n]?.phase === "flight" &&
        !order.includes(n) &&
        programme.cards.find((c) => c.card_id === n)?.state === "open",
    );
    if (missing.length > 0) return setNote(`${id} needs ${missing.join(", ")} first.`);
    setNote("");
    setOrder([...order.slice(0, -1), id, ...order.slice(-1)]);
  }

  return (
    <section>
      <h2 className="mb-1 text-lg">
        Cards, from safe to bold{" "}
        <span className={`text-base font-normal ${over ? "font-semibold text-accent" : ""}`}>
          {minutes.toFixed(1)} of {programme.safe_minutes.toFixed(1)} safe minutes
        </span>
      </h2>
      <div className="relative" style={{ minHeight: Math.max(programme.safe_minutes, 1) * 4 }}>
        <ol>
          {order.map((id, i) => {
            const card = cards[id];
            if (!card) return null;
            const blocked = refused.includes(id);
            return (
              <li
                key={id}
                className="mb-1 flex items-center gap-2 border border-base-content/60 bg-base-100 pl-2"
                style={{
                  minHeight: Math.max(card.minutes ?? 0.5, 1) * PX_PER_MINUTE,
                  borderLeftWidth: 3 + 4 * card.risk,
                }}
              >
                <span className="w-8 font-semibold">{id}</span>
                <span className="flex-1 leading-tight">
                  {card.title}
                  {blocked ? (
                    <span className="block text-sm font-semibold text-accent">gusts too strong for this card</span>
                  ) : null}
                </span>
                <span className="flex shrink-0">
                  <button
                    type="button"
                    className="btn btn-ghost btn-xs px-1"
                    aria-label={`${id} earlier`}
                    onClick={() => move(i, -1)}
                  >
                    ▲
                  </button>
                  <button
                    type="button"
                    className="btn btn-ghost btn-xs px-1"
                    aria-label={`${id} later`}
                    onClick={() => move(i, 1)}
                  >
                    ▼
                  </button>
                  {id !== "F1" && id !== "F29" ? (
                    <button
                      type="button"
                      className="btn btn-ghost btn-xs px-1"
                      aria-label={`take ${id} out`}
                      onClick={() => setOrder(order.filter((o) => o !== id))}
                    >
                      out
                    </button>
                  ) : null}
                </span>
              </li>
            );
          })}
        </ol>
      </div>
      <p className="label-small">Left edge: the wider, the bolder. Height: minutes.</p>
      {note ? (
        <p role="status" className="mt-1 font-semibold text-accent">
          {note}
        </p>
      ) : null}
      <h3 className="mt-2 font-semibold">Not in this sortie</h3>
      <ul className="text-sm">
        {others.map((c) => (
          <li key={c.card_id} className="flex items-baseline gap-2 py-0.5">
            <span className="w-8 font-semibold">{c.card_id}</span>
            <span className="flex-1">
              {cards[c.card_id]?.title} <span className="text-secondary">({c.reason})</span>
            </span>
            {c.state !== "later" && c.state !== "not_for_this_model" ? (
              <button type="button" className="btn btn-ghost btn-xs" onClick={() => take(c.card_id)}>
                take in
              </button>
            ) : null}
          </li>
        ))}
      </ul>
    </section>
  );
}
