// @vitest-environment happy-dom
import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, it } from "vitest";
import type { BenchAnswer } from "../../api/client";
import { SettingsProvider } from "../../components/settings-context";
import { SpokenNumbers } from "./SpokenNumbers";

const answer = (margin: number) =>
  ({
    numbers: [
      {
        key: "static_margin",
        label: "Static margin",
        quantity: "fraction",
        value: margin,
        below_zero: "behind the neutral point",
      },
      { key: "wing_loading", label: "Wing loading", quantity: "wing_loading", value: 4 },
    ],
  }) as unknown as BenchAnswer;

const spoken = (margin: number, done = "") => (
  <SettingsProvider>
    <SpokenNumbers answer={answer(margin)} done={done} />
  </SettingsProvider>
);

beforeEach(() => localStorage.clear());
afterEach(cleanup);

it("says what a change has come to once it has settled, its sign in words, and what was done", async () => {
  const page = render(spoken(0.09));
  expect(screen.getByRole("status").textContent, "nothing has changed yet").toBe("");
  page.rerender(spoken(0.05));
  page.rerender(spoken(-0.02, "Undone"));
  await expect
    .poll(() => screen.getByRole("status").textContent, { timeout: 4000 })
    .toBe("Undone. Static margin 2.0 % behind the neutral point.");
});
