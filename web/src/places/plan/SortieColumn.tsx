import { useState } from "react";
import type { Card, Plan } from "../../api/client";
import { NO_WISHES, usePlanCost, type Wishes } from "../../queries/sorties";

type Programme = Plan["programme"];

interface Props {
  modelId: string;
  programme: Programme;
  cards: Record<string, Card>;
  order: string[];
  setOrder: (order: string[]) => void;
  refused: readonly string[];
  wishes: Wishes;
  onWishes: (wishes: Wishes) => void;
}

const PX_PER_MINUTE = 34;

/** The sortie as a column of cards whose height is minutes, the pack's safe minutes as a line across. */
export function SortieColumn({ modelId, programme, cards, order, setOrder, refused, wishes, onWishes }: Props) {
  const [note, setNote] = useState("");
  const changed = order.join() !== programme.flight.join();
  const cost = usePlanCost(modelId, order, changed);
  const minutes = changed ? (cost.data?.minutes ?? null) : programme.minutes;
  const planned = Object.fromEntries(programme.cards.map((c) => [c.card_id, c]));
  const others = programme.cards.filter((c) => cards[c.card_id]?.phase === "flight" && !order.includes(c.card_id));
  const over = minutes !== null && minutes > programme.safe_minutes + 1e-9;
  const wished = wishes.pin.length + wishes.drop.length > 0;

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

  /** The rest around what was taken in by hand, and without what was taken out. */
  function packAnew() {
    const pin = [...new Set([...wishes.pin, ...order.filter((id) => !programme.flight.includes(id))])];
    const drop = [...new Set([...wishes.drop, ...programme.flight.filter((id) => !order.includes(id))])];
    onWishes({
      pin: pin.filter((id) => order.includes(id)),
      drop: drop.filter((id) => !order.includes(id)),
    });
  }

  function take(id: string) {
    const card = cards[id];
    const missing = (card?.needs ?? []).filter(
      (n) => cards[n]?.phase === "flight" && !order.includes(n) && planned[n]?.looked_at === false,
    );
    if (missing.length > 0) return setNote(`${id} needs ${missing.join(", ")} first.`);
    setNote("");
    // What is flown at height comes before the approach.
    const at = order.includes("F28") ? order.indexOf("F28") : order.length - 1;
    setOrder([...order.slice(0, at), id, ...order.slice(at)]);
  }

  return (
    <section>
      <h2 className="mb-1 text-lg">
        Cards, from safe to bold{" "}
        <span className={`text-base font-normal ${over ? "font-semibold text-accent" : ""}`}>
          {minutes === null ? "…" : minutes.toFixed(1)} of {programme.safe_minutes.toFixed(1)} safe minutes
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
                  minHeight: Math.max(planned[id]?.minutes ?? card.minutes ?? 0.5, 1) * PX_PER_MINUTE,
                  borderLeftWidth: 3 + 4 * card.risk,
                }}
              >
                <span className="w-8 font-semibold">{id}</span>
                <span className="flex-1 leading-tight">
                  {card.title}
                  {planned[id]?.proof ? <span className="text-secondary"> · proof, half a minute</span> : null}
                  {planned[id]?.why && !planned[id]?.proof ? (
                    <span className="block text-sm text-secondary">{planned[id]?.why}</span>
                  ) : null}
                  {blocked ? (
                    <span className="block text-sm font-semibold text-accent">gusts too strong for this card</span>
                  ) : null}
                </span>
                <span className="flex shrink-0">
                  <button
                    type="button"
                    className="btn btn-ghost min-h-11 min-w-11 px-1"
                    aria-label={`${id} earlier`}
                    onClick={() => move(i, -1)}
                  >
                    ▲
                  </button>
                  <button
                    type="button"
                    className="btn btn-ghost min-h-11 min-w-11 px-1"
                    aria-label={`${id} later`}
                    onClick={() => move(i, 1)}
                  >
                    ▼
                  </button>
                  {id !== "F1" && id !== "F29" ? (
                    <button
                      type="button"
                      className="btn btn-ghost min-h-11 min-w-11 px-1"
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
      {changed && cost.data && (cost.data.costs.length > 0 || cost.data.refused) ? (
        <section className="sheet mt-1 p-2" data-testid="plan-cost">
          <p className="font-semibold">Your order against the proposal</p>
          {cost.data.refused ? <p className="font-semibold text-accent">{cost.data.refused}</p> : null}
          <ul className="list-disc pl-5 text-sm">
            {cost.data.costs.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        </section>
      ) : null}
      {changed ? (
        <button type="button" className="btn btn-sm mt-1 mr-2" onClick={packAnew}>
          Pack the rest anew
        </button>
      ) : null}
      {changed || wished ? (
        <button
          type="button"
          className="btn btn-sm mt-1"
          onClick={() => {
            setNote("");
            setOrder(programme.flight);
            onWishes(NO_WISHES);
          }}
        >
          Back to the proposal
        </button>
      ) : null}
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
