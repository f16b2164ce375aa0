// @vitest-environment happy-dom
import { cleanup, render, screen } from "@testing-library/react";
import { lazy, Suspense } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { Guard } from "./Guard";

beforeEach(() => void vi.spyOn(console, "error").mockImplementation(() => undefined));
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

const Broken = () => {
  throw new TypeError("x is undefined");
};
const Missing = lazy(() =>
  Promise.reject(new TypeError("Failed to fetch dynamically imported module: /assets/FlyPage-1.js")),
);

it.each([
  ["a thrown error", Broken, "This page could not be shown."],
  ["a part that could not be fetched", Missing, "A part of the program could not be fetched."],
])("after %s it says what to do and that nothing logged is lost", async (_, Page, words) => {
  render(
    <Guard>
      <Suspense fallback={null}>
        <Page />
      </Suspense>
    </Guard>,
  );
  expect(await screen.findByText(words)).toBeTruthy();
  expect(screen.getByRole("alert").textContent).toContain("What you logged is kept");
  expect(screen.getByRole("button", { name: "Load the page again" })).toBeTruthy();
});
