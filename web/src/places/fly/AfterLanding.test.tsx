// @vitest-environment happy-dom
import { act, cleanup, render, renderHook, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { ByTheClock, ClockContext, WaitFor } from "./AfterLanding";
import { minutesFlown, useFlightClock } from "./flight-clock";

beforeEach(() => {
  vi.useFakeTimers();
  vi.setSystemTime(new Date("2026-05-01T10:00:00"));
  localStorage.clear();
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

const later = (minutes: number) => act(() => vi.advanceTimersByTime(60_000 * minutes));

it("counts from take-off to touch-down, over a reload, and not from a mark that was taken back", () => {
  const first = renderHook(() => useFlightClock("s1"));
  act(() => first.result.current.takeOff());
  first.unmount();
  later(6.5);
  const { result } = renderHook(() => useFlightClock("s1"));
  act(() => result.current.land());
  later(0.01);
  expect(minutesFlown(result.current.clock)).toBe(6.5);
  act(() => result.current.notLanded());
  expect(minutesFlown(result.current.clock)).toBeNull();
  expect(renderHook(() => useFlightClock("s2")).result.current.clock.takeOff).toBeNull();
});

it("offers the minutes with one tap, and nothing where no clock ran", () => {
  const took = vi.fn();
  const clock = { takeOff: Date.now() - 390_000, landed: Date.now() };
  const { rerender } = render(
    <ClockContext value={clock}>
      <ByTheClock onTake={took} />
    </ClockContext>,
  );
  screen.getByRole("button", { name: "6.5 min, by the clock" }).click();
  expect(took).toHaveBeenCalledWith(6.5);
  rerender(
    <ClockContext value={{ ...clock, takeOff: null }}>
      <ByTheClock onTake={took} />
    </ClockContext>,
  );
  expect(screen.queryByRole("button")).toBeNull();
});

it("waits the same time after each touch-down before volts are read", () => {
  render(
    <ClockContext value={{ takeOff: null, landed: Date.now() - 60_000 }}>
      <WaitFor minutes={5} />
    </ClockContext>,
  );
  expect(screen.getByTestId("wait-for").textContent).toContain("Wait till 10:04: 4:00 left");
  later(4.1);
  expect(screen.getByTestId("wait-for").textContent).toBe("5 minutes are over: read them now.");
});
