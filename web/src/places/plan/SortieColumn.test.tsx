// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";
import type { Card, Plan } from "../../api/client";
import { keys } from "../../queries/models";
import { NO_WISHES } from "../../queries/sorties";
import { SortieColumn } from "./SortieColumn";

afterEach(cleanup);

const card = (id: string, needs: string[] = []) =>
  ({ id, title: `Card ${id}`, phase: "flight", risk: 1, minutes: 1, needs }) as unknown as Card;
const CARDS = Object.fromEntries(
  [card("F1"), card("F2"), card("F7"), card("F8", ["F7"]), card("F29")].map((c) => [c.id, c]),
);
const planned = (card_id: string, more: object = {}) => ({
  card_id,
  state: "open",
  reason: "not done yet",
  proposed: true,
  why: `Why ${card_id}.`,
  proof: false,
  minutes: 1,
  looked_at: false,
  ...more,
});
const PROGRAMME = {
  flight: ["F1", "F2", "F29"],
  minutes: 2.5,
  safe_minutes: 6,
  cards: [
    planned("F1"),
    planned("F2", { proof: true, minutes: 0.5, why: "As a proof." }),
    planned("F7"),
    planned("F8"),
    planned("F29"),
  ],
} as unknown as Plan["programme"];

function column(order: string[], cost?: object) {
  const cache = new QueryClient({ defaultOptions: { queries: { staleTime: Number.POSITIVE_INFINITY } } });
  if (cost) cache.setQueryData([...keys.plan("m"), "cost", order], cost);
  const setOrder = vi.fn();
  const onWishes = vi.fn();
  render(
    <QueryClientProvider client={cache}>
      <SortieColumn
        modelId="m"
        programme={PROGRAMME}
        cards={CARDS}
        order={order}
        setOrder={setOrder}
        refused={[]}
        wishes={NO_WISHES}
        onWishes={onWishes}
      />
    </QueryClientProvider>,
  );
  return { setOrder, onWishes };
}

it("says why each card is flown, marks a proof, and takes the minutes from the program, not from a sum", () => {
  column(["F1", "F2", "F29"]);
  expect(screen.getByText("Why F1.")).toBeTruthy();
  expect(screen.getByText(/proof, half a minute/)).toBeTruthy();
  expect(screen.getByText("2.5 of 6.0 safe minutes")).toBeTruthy();
  expect(screen.queryByText("Pack the rest anew")).toBeNull();
});

it("says what the pilot's own order costs, packs the rest around it, and goes back", () => {
  const order = ["F1", "F7", "F29"];
  const { setOrder, onWishes } = column(order, {
    minutes: 3.2,
    safe_minutes: 6,
    costs: ["Balance, right after the next rework: 60 % likely, as proposed 70 %."],
    refused: "F7 needs F2, which was never flown: fly it first.",
  });
  expect(screen.getByTestId("plan-cost").textContent).toContain("as proposed 70 %");
  expect(screen.getByTestId("plan-cost").textContent).toContain("F7 needs F2");
  expect(screen.getByText("3.2 of 6.0 safe minutes")).toBeTruthy();
  fireEvent.click(screen.getByText("Pack the rest anew"));
  expect(onWishes).toHaveBeenCalledWith({ pin: ["F7"], drop: ["F2"] });
  fireEvent.click(screen.getByText("Back to the proposal"));
  expect(setOrder).toHaveBeenCalledWith(PROGRAMME.flight);
  expect(onWishes).toHaveBeenLastCalledWith(NO_WISHES);
});

it("refuses a card whose forerunner nobody has looked at", () => {
  const { setOrder } = column(["F1", "F2", "F29"]);
  const takes = screen.getAllByText("take in");
  fireEvent.click(takes[1] as HTMLElement);
  expect(screen.getByRole("status").textContent).toBe("F8 needs F7 first.");
  expect(setOrder).not.toHaveBeenCalled();
});
