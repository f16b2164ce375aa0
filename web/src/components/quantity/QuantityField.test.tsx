// @vitest-environment happy-dom
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { ProblemError } from "../../api/client";
import { SettingsProvider } from "../settings-context";
import { QuantityField } from "./QuantityField";

const refusal = new ProblemError({
  type: "x",
  title: "chord must be between 0.01 and 6 m.",
  status: 422,
  code: "out-of-range",
  detail: "",
  instance: "",
  violations: [],
  context: {},
  trace_id: "",
});

function show(onCommit: (si: number) => unknown, value: number | null = 0.2) {
  render(
    <SettingsProvider>
      <QuantityField label="Chord" quantity="length" value={value} onCommit={onCommit} />
      <QuantityField label="Span" quantity="length" value={1} onCommit={() => undefined} />
    </SettingsProvider>,
  );
  return screen.getByLabelText("Chord") as HTMLInputElement;
}

beforeEach(() => localStorage.clear());
afterEach(cleanup);

describe("a quantity with its unit", () => {
  it("takes what is typed in either system, hands over SI and changes no unit; the switch does, for every length", async () => {
    const commit = vi.fn();
    const field = show(commit);
    expect(field.value).toBe("200");
    await userEvent.clear(field);
    await userEvent.type(field, "8 1/4 in{Enter}");
    expect(commit).toHaveBeenCalledTimes(1);
    expect(commit.mock.calls[0]?.[0]).toBeCloseTo(0.20955, 9);
    const span = screen.getByLabelText("Span") as HTMLInputElement;
    expect(span.value).toBe("1000");
    await userEvent.selectOptions(screen.getByLabelText("unit of Chord"), "in");
    expect(span.value).toBe("39.37");
  });

  it("keeps a refused entry with the reason at the field, and Escape takes it back", async () => {
    const field = show(() => Promise.reject(refusal));
    await userEvent.clear(field);
    await userEvent.type(field, "9999 m{Enter}");
    expect((await screen.findByRole("alert")).textContent).toContain("must be between");
    expect(field.value).toBe("9999 m");
    expect(field.getAttribute("aria-invalid")).toBe("true");
    await userEvent.type(field, "{Escape}");
    expect(field.value).toBe("200");
    expect(screen.queryByRole("alert")).toBeNull();
  });

  it("does not hand over what it cannot read, nor what was not changed", async () => {
    const commit = vi.fn();
    const field = show(commit);
    await userEvent.type(field, "{Enter}");
    await userEvent.clear(field);
    await userEvent.type(field, "about a hand{Enter}");
    expect(commit).not.toHaveBeenCalled();
    expect(screen.getByRole("alert").textContent).toContain("Cannot read");
  });

  it("moves on to the next field with Enter", async () => {
    const field = show(() => undefined);
    await userEvent.clear(field);
    await userEvent.type(field, "210{Enter}");
    await vi.waitFor(() => expect(document.activeElement).toBe(screen.getByLabelText("Span")));
  });

  it("leaves who has gone on by himself where he types, however late the saving ends", async () => {
    let saved: (() => void) | undefined;
    const field = show(() => new Promise<void>((done) => (saved = done)));
    await userEvent.clear(field);
    await userEvent.type(field, "210{Enter}");
    // A third field: neither the one that is being saved nor the one Enter would go to.
    const elsewhere = screen.getByLabelText("unit of Span");
    elsewhere.focus();
    saved?.();
    await new Promise((done) => setTimeout(done, 20));
    expect(document.activeElement).toBe(elsewhere);
  });
});
