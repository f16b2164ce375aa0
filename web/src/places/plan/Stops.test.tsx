// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";
import { Stops } from "./Stops";

afterEach(cleanup);

const balance = {
  code: "balance",
  severity: "stop",
  words: "Balance: 28 mm behind the neutral point.",
  about: [],
} as const;

it("says what stops the sortie and asks why, with nothing filled in beforehand", () => {
  const onReason = vi.fn();
  render(<Stops stops={[{ ...balance, about: [] }]} firm={[]} reasons={{}} onReason={onReason} />);
  expect(screen.getByTestId("stops").textContent).toContain("28 mm behind the neutral point");
  const why = screen.getByLabelText(/Say why/) as HTMLInputElement;
  expect(why.value).toBe("");
  fireEvent.change(why, { target: { value: "read twice on the jig" } });
  expect(onReason).toHaveBeenCalledWith("balance", "read twice on the jig");
});

it("takes no reason for what no reason overrides", () => {
  render(<Stops stops={[{ ...balance, about: [] }]} firm={["balance"]} reasons={{}} onReason={() => undefined} />);
  expect(screen.queryByLabelText(/Say why/)).toBeNull();
  expect(screen.getByTestId("stops").textContent).toContain("No reason overrides this");
});

it("is not there when nothing stops it", () => {
  const { container } = render(<Stops stops={[]} firm={["motor_cut"]} reasons={{}} onReason={() => undefined} />);
  expect(container.textContent).toBe("");
});
