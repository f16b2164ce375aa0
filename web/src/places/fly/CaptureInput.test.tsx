// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { createMemoryRouter, Outlet, RouterProvider } from "react-router";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Capture, Reading } from "../../api/client";
import { CaptureInput } from "./CaptureInput";

const AIRFRAME = {
  surfaces: [{ key: "wing", role: "wing", x_m: 0, z_m: 0, sections: [{ y_m: 0 }, { y_m: 0.8, z_offset_m: 0.05 }] }],
  body: { nose_x_m: -0.3, length_m: 1, width_m: 0.1, height_m: 0.1 },
  fin: null,
  motor: null,
};
const DIRECTIONS = {
  responses: {
    nose_up: { model: "nose up", stick: "stick back", surface: "elevator up", trim_lever: "lever towards you" },
    nose_down: { model: "nose down", stick: "stick forward", surface: "elevator down", trim_lever: "lever away" },
  },
};

const capture = (part: Partial<Capture>): Capture => ({
  key: "k",
  kind: "rating",
  label: "Hands off now, the nose",
  required: true,
  options: [],
  upright: false,
  as_seated: false,
  directions: [],
  unit: "",
  highest: 60,
  wait_minutes: 0,
  by_clock: false,
  on_wish: false,
  ...part,
});

function show(kind: Capture, reading: Reading | null = null) {
  const onReading = vi.fn<(r: Reading | null) => void>();
  const cache = new QueryClient();
  cache.setQueryData(["directions", "tail"], DIRECTIONS);
  const router = createMemoryRouter([
    {
      path: "/",
      element: <Outlet context={{ pitch_control: "tail", setup: { airframe: AIRFRAME } }} />,
      children: [{ index: true, element: <CaptureInput capture={kind} reading={reading} onReading={onReading} /> }],
    },
  ]);
  render(
    <QueryClientProvider client={cache}>
      <RouterProvider router={router} />
    </QueryClientProvider>,
  );
  return onReading;
}

const options = (...words: string[]) => words.map((w) => ({ key: w, words: w }));
const labels = () => screen.getAllByRole("button").map((b) => b.textContent ?? "");

afterEach(cleanup);

describe("captures lie in the direction they mean", () => {
  it("puts rears on top and drops below", () => {
    show(capture({ options: options("drops", "sinks", "holds", "rises", "rears"), upright: true }));
    expect(labels()).toEqual(["rears", "rises", "holds", "sinks", "drops"]);
  });

  it("puts left on the left, the strong word first, the middle last", () => {
    show(capture({ options: options("left fast", "left", "level", "right", "right fast") }));
    expect(labels()).toEqual(["left fast", "right fast", "left", "right", "level"]);
  });

  it("draws each wing as seated: the left wing down is the model rolled to its left", () => {
    show(capture({ kind: "choice", as_seated: true, options: options("left", "none", "right") }));
    const turns = screen.getAllByRole("button").map((b) => b.querySelector("g")?.getAttribute("transform"));
    // Seen from behind with y down on the screen, a roll to the left turns against the clock: negative.
    expect(turns).toEqual(["rotate(-24)", "rotate(0)", "rotate(24)"]);
  });
});

describe("counting and timing", () => {
  it("counts clicks with a direction and never a sign", async () => {
    const onReading = show(capture({ kind: "count", directions: ["nose_up", "nose_down"] }), {
      key: "k",
      number: 1,
      direction: "nose_up",
      none: false,
      entered: "",
      telemetry: false,
    });
    expect(screen.getByText("1 nose up")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: /a click nose down/ }));
    expect(onReading).toHaveBeenLastCalledWith({ key: "k", number: 0, none: true, entered: "", telemetry: false });
    await userEvent.click(screen.getByRole("button", { name: /a click nose up/ }));
    expect(onReading).toHaveBeenLastCalledWith({
      key: "k",
      number: 2,
      direction: "nose_up",
      none: false,
      entered: "",
      telemetry: false,
    });
  });

  it("has no way of a stick chosen beforehand, and asks for it where only the amount was tapped", async () => {
    const onReading = show(capture({ kind: "stick", directions: ["nose_up", "nose_down"] }));
    const pressed = () => screen.getAllByRole("button").filter((b) => b.getAttribute("aria-pressed") === "true");
    expect(pressed()).toEqual([]);
    await userEvent.click(screen.getByRole("button", { name: "40 %" }));
    expect(screen.getByRole("status").textContent).toBe("Which way was it held?");
    expect(onReading.mock.lastCall?.[0]?.direction ?? null).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: "stick forward" }));
    expect(screen.queryByRole("status")).toBeNull();
    expect(onReading.mock.lastCall?.[0]).toMatchObject({ number: 0.4, direction: "nose_down" });
    await userEvent.click(screen.getByRole("button", { name: "none" }));
    expect(onReading.mock.lastCall?.[0]).toMatchObject({ number: 0, none: true });
  });

  it("refuses a typed time it cannot read and says why", async () => {
    const onReading = show(capture({ kind: "timed", label: "Seconds to 30°", highest: 20 }));
    const field = screen.getByLabelText("Seconds to 30°, typed");
    for (const [entry, reason] of [
      ["soon", "Cannot read"],
      ["45", "From 0 to 20"],
      ["-2", "From 0 to 20"],
    ] as const) {
      await userEvent.clear(field);
      await userEvent.type(field, `${entry}{Tab}`);
      expect(screen.getByRole("alert").textContent).toContain(reason);
      expect(onReading, "half of it is not taken either").toHaveBeenLastCalledWith(null);
    }
    await userEvent.clear(field);
    await userEvent.type(field, "3,4{Tab}");
    expect(onReading).toHaveBeenLastCalledWith({
      key: "k",
      number: 3.4,
      none: false,
      entered: "3,4",
      telemetry: false,
    });
    expect(screen.queryByRole("alert")).toBeNull();
  });

  it("refuses a height below zero and takes a good one", async () => {
    const onReading = show(capture({ kind: "level", label: "Height lost", unit: "m" }));
    const field = screen.getByLabelText("Height lost");
    await userEvent.type(field, "-4{Enter}");
    expect(screen.getByRole("alert").textContent).toContain("without a minus");
    await userEvent.clear(field);
    await userEvent.type(field, "20 ft{Enter}");
    expect(onReading).toHaveBeenLastCalledWith({
      key: "k",
      number: 6.096,
      none: false,
      entered: "20 ft",
      telemetry: false,
    });
  });
});
