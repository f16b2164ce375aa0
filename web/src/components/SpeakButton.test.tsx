// @vitest-environment happy-dom
import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";
import { SpeakButton } from "./SpeakButton";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

/** A browser whose speech is recognised where `state` says; the recogniser that was made last. */
function hears(state: string) {
  const made: Fake[] = [];
  class Fake {
    static available = async (asked: { processLocally: boolean }) => (asked.processLocally ? state : "available");
    lang = "";
    processLocally = false;
    onresult: ((e: unknown) => void) | null = null;
    onerror: ((e: unknown) => void) | null = null;
    onend: (() => void) | null = null;
    start = vi.fn();
    stop = vi.fn();
    abort = vi.fn();
    constructor() {
      made.push(this);
    }
  }
  vi.stubGlobal("SpeechRecognition", Fake);
  return made;
}

/** As a browser hands it over: attributes stand on the prototype, and are enumerable there. */
function understood(words: string): object {
  const attributes = Object.defineProperties(
    {},
    { confidence: { enumerable: true, get: () => 0.9 }, words: { enumerable: true, get: () => words } },
  );
  return Object.create(attributes) as object;
}

const stage = async (onText = vi.fn()) => {
  render(<SpeakButton what="reason" onText={onText} />);
  await act(async () => Promise.resolve());
  return onText;
};

it("gives what the device understood, on the device alone", async () => {
  const made = hears("available");
  const onText = await stage();
  fireEvent.click(screen.getByRole("button", { name: "Say it: reason" }));
  const r = made[0];
  expect(r?.processLocally).toBe(true);
  expect(screen.getByRole("button", { name: "Listening: reason" })).toBeTruthy();
  act(() => r?.onresult?.({ results: [[understood("read twice ")], [understood("on the jig")]] }));
  act(() => r?.onend?.());
  expect(onText).toHaveBeenCalledWith("read twice on the jig");
  expect(screen.getByRole("button", { name: "Say it: reason" })).toBeTruthy();
});

it.each(["unavailable", "downloadable"])("is not there where speech would be sent away: %s", async (state) => {
  hears(state);
  await stage();
  expect(screen.queryByRole("button")).toBeNull();
});

it("is not there in a browser without speech", async () => {
  await stage();
  expect(screen.queryByRole("button")).toBeNull();
});

it("says what to do when the microphone is not allowed, and types nothing", async () => {
  const made = hears("available");
  const onText = await stage();
  fireEvent.click(screen.getByRole("button"));
  act(() => made[0]?.onerror?.({ error: "not-allowed" }));
  act(() => made[0]?.onend?.());
  expect(screen.getByRole("alert").textContent).toContain("type it, or allow it");
  expect(onText).not.toHaveBeenCalled();
});
