// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, fireEvent, render, renderHook, screen } from "@testing-library/react";
import type { ReactNode } from "react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Capture, Card, CardRecord } from "../../api/client";
import { FlownContext } from "../../components/flown-context";
import { SettingsProvider } from "../../components/settings-context";
import { FLOWN } from "../../testing/flown";
import { CardConsole } from "./CardConsole";
import { HeldBar } from "./HeldBar";
import { SpokenAnswer } from "./SpokenAnswer";
import { spoken, usePrompter } from "./speech";

const said: string[] = [];

beforeEach(() => {
  vi.useFakeTimers();
  said.length = 0;
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
  vi.stubGlobal(
    "SpeechSynthesisUtterance",
    class {
      readonly text: string;
      constructor(text: string) {
        this.text = text;
      }
    },
  );
  vi.stubGlobal("speechSynthesis", { cancel: () => undefined, speak: (u: { text: string }) => said.push(u.text) });
  Object.defineProperty(window, "speechSynthesis", { value: globalThis.speechSynthesis, configurable: true });
});

afterEach(() => {
  cleanup();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const card = (id: string, minutes: number) => ({ id, title: `Card ${id}`, steps: [`Do ${id}.`], minutes });

describe("prompts in flight for a pilot alone", () => {
  it("speaks each card and the next one after the minutes it takes, then falls silent", () => {
    const { result } = renderHook(() => usePrompter(CARDS));
    act(() => result.current.start());
    expect(said).toEqual(["Card F1 Do F1."]);
    act(() => vi.advanceTimersByTime(59_000));
    expect(said).toHaveLength(1);
    act(() => vi.advanceTimersByTime(1_000));
    expect(said.at(-1)).toBe("Card F2 Do F2.");
    act(() => vi.advanceTimersByTime(90_000));
    expect(result.current.card).toBeUndefined();
    expect(said).toHaveLength(2);
  });

  it("goes on when told and stops when told", () => {
    const { result } = renderHook(() => usePrompter(CARDS));
    act(() => result.current.start());
    act(() => result.current.next());
    expect(result.current.card?.id).toBe("F2");
    act(() => result.current.stop());
    act(() => vi.advanceTimersByTime(600_000));
    expect(said).toHaveLength(2);
  });

  it("says when to break off", () => {
    expect(spoken({ title: "Dive", steps: ["Push."], abort_when: "It steepens: pull." })).toBe(
      "Dive Push. It steepens: pull.",
    );
  });
});

function OfASortie({ children }: { children: ReactNode }) {
  return (
    <QueryClientProvider client={new QueryClient()}>
      <SettingsProvider>
        <FlownContext value={FLOWN}>
          <MemoryRouter>{children}</MemoryRouter>
        </FlownContext>
      </SettingsProvider>
    </QueryClientProvider>
  );
}

const CARDS = [card("F1", 1), card("F2", 1.5)];

describe("the abort bar", () => {
  it("needs to be held; a brush, a slip off the bar or a disabled bar abort nothing", () => {
    const onHeld = vi.fn();
    const { rerender } = render(<HeldBar words="Hold to abort" onHeld={onHeld} disabled={false} />);
    const bar = screen.getByRole("button");
    fireEvent.pointerDown(bar);
    act(() => vi.advanceTimersByTime(300));
    fireEvent.pointerUp(bar);
    act(() => vi.advanceTimersByTime(5_000));
    fireEvent.pointerDown(bar);
    fireEvent.pointerLeave(bar);
    act(() => vi.advanceTimersByTime(5_000));
    expect(onHeld).not.toHaveBeenCalled();
    fireEvent.keyDown(bar, { key: "Enter" });
    act(() => vi.advanceTimersByTime(5_000));
    expect(onHeld).toHaveBeenCalledTimes(1);
    rerender(<HeldBar words="Hold to abort" onHeld={onHeld} disabled />);
    fireEvent.pointerDown(bar);
    act(() => vi.advanceTimersByTime(5_000));
    expect(onHeld).toHaveBeenCalledTimes(1);
  });
});

describe("a card that is aborted", () => {
  it("keeps every tap that was already made", async () => {
    const onLog = vi.fn(async (_: CardRecord) => undefined);
    const rating = {
      key: "lift_off",
      kind: "rating",
      label: "At lift-off the nose",
      required: true,
      options: ["holds", "rears"].map((k) => ({ key: k, words: k })),
    };
    const inFlight = { ...card("F1", 1), phase: "flight", captures: [rating], cautions: [] } as unknown as Card;
    render(
      <OfASortie>
        <CardConsole sortieId="s" card={inFlight} before={null} busy={false} onLog={onLog} onLeave={null} inTheAir />
      </OfASortie>,
    );
    fireEvent.click(screen.getByRole("button", { name: "Flown: log it" }));
    fireEvent.click(screen.getByRole("button", { name: "rears" }));
    fireEvent.pointerDown(screen.getByRole("button", { name: /Hold to abort F1/ }));
    await act(async () => vi.advanceTimersByTime(2_000));
    expect(onLog).toHaveBeenCalledTimes(1);
    expect(onLog.mock.calls[0]?.[0]).toMatchObject({
      outcome: "aborted",
      readings: [{ key: "lift_off", choice: "rears" }],
    });
  });
});

describe("half a reading", () => {
  it("is asked for before the card is kept, and an abort leaves it out", async () => {
    const onLog = vi.fn(async (_: CardRecord) => undefined);
    const stick = {
      key: "stick_held",
      kind: "stick",
      label: "Stick held",
      required: false,
      directions: ["nose_up", "nose_down"],
    };
    const climb = { ...card("F1", 1), phase: "flight", captures: [stick], cautions: [], throttle: "" };
    render(
      <OfASortie>
        <CardConsole
          sortieId="half"
          card={climb as unknown as Card}
          before={null}
          busy={false}
          onLog={onLog}
          onLeave={null}
          inTheAir
        />
      </OfASortie>,
    );
    fireEvent.click(screen.getByRole("button", { name: "Flown: log it" }));
    fireEvent.click(screen.getByText("Stick held"));
    fireEvent.click(screen.getByRole("button", { name: "50 %" }));
    expect(screen.getByText("Which way was it held?")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Not seen" }));
    expect(screen.getByText(/Still to say: which way, stick held/)).toBeTruthy();
    expect((screen.getByRole("button", { name: "Keep, next card" }) as HTMLButtonElement).disabled).toBe(true);
    fireEvent.pointerDown(screen.getByRole("button", { name: /Hold to abort F1/ }));
    await act(async () => vi.advanceTimersByTime(2_000));
    expect(onLog.mock.calls[0]?.[0]).toMatchObject({
      outcome: "aborted",
      readings: [],
      note: "Stick held: 50 %, which way not said",
    });
  });
});

describe("what a card was flown with", () => {
  const steady = { ...card("F2", 1), phase: "flight", captures: [], cautions: [], requires: "" };
  const flown = { motor: true, stabiliser: false, flaps: true, gear: false };
  const shown = (over: object, with_: object = flown) => {
    const onLog = vi.fn(async (_: CardRecord) => undefined);
    const one = { ...steady, throttle: "cruise", with_flap: "", ...over } as unknown as Card;
    render(
      <OfASortie>
        <CardConsole
          sortieId={crypto.randomUUID()}
          card={one}
          before={null}
          busy={false}
          onLog={onLog}
          onLeave={null}
          inTheAir
          flownWith={{ ...flown, ...with_ }}
        />
      </OfASortie>,
    );
    return onLog;
  };
  const conditions = () => fireEvent.click(screen.getByTestId("conditions"));
  const keep = async () => {
    for (const name of ["Next", "Flown: log it"])
      for (const button of screen.queryAllByRole("button", { name })) fireEvent.click(button);
    fireEvent.click(screen.getByRole("button", { name: "Keep, next card" }));
    await act(async () => vi.advanceTimersByTime(10));
  };

  it("stands where the card wants it, and one tap says otherwise", async () => {
    const onLog = shown({});
    conditions();
    expect(screen.getByRole("button", { name: "Throttle: cruise" }).getAttribute("aria-pressed")).toBe("true");
    fireEvent.click(screen.getByRole("button", { name: "Throttle: full" }));
    expect(screen.getByText("Predicted for what was really used.")).toBeTruthy();
    await keep();
    expect(onLog.mock.calls[0]?.[0].conditions).toMatchObject({ throttle: 1, flap: 0 });
  });

  it("says nothing of the lever where it stood as the card has it", async () => {
    const onLog = shown({ throttle: "idle" });
    conditions();
    expect(screen.getAllByRole("button", { name: /^Throttle:/ })).toHaveLength(3);
    await keep();
    expect(onLog.mock.calls[0]?.[0].conditions).not.toHaveProperty("throttle");
  });

  it.each([
    ["a glider", {}, { motor: false }],
    ["a card that moves it itself", { throttle: "" }, {}],
  ])("is not asked of %s", (_, over, with_) => {
    shown(over, with_);
    conditions();
    expect(screen.queryByRole("group", { name: "Throttle" })).toBeNull();
  });

  it.each([
    ["up", false, "Landing gear: down", "down"],
    ["down", true, "Landing gear: up", "up"],
  ])("stands with the gear %s where the card wants it so", async (wanted, gear_down, other, says) => {
    const onLog = shown({ gear_down }, { gear: true });
    conditions();
    expect(screen.getByRole("button", { name: `Landing gear: ${wanted}` }).getAttribute("aria-pressed")).toBe("true");
    fireEvent.click(screen.getByRole("button", { name: other }));
    expect(screen.getByText(`Flown with the gear ${says}: what the nose does is believed half as much.`)).toBeTruthy();
    await keep();
    expect(onLog.mock.calls[0]?.[0].conditions).toMatchObject({ gear: says });
  });

  it("asks for no gear that does not fold", () => {
    shown({});
    conditions();
    expect(screen.queryByRole("group", { name: "Landing gear" })).toBeNull();
  });

  it("says with flap what still counts", () => {
    shown({ with_flap: "only which wing goes down still counts" });
    conditions();
    fireEvent.click(screen.getByRole("button", { name: "Flap: landing" }));
    expect(screen.getByText("Flown with flap: only which wing goes down still counts.")).toBeTruthy();
  });
});

describe("one question on a screen", () => {
  const options = (...words: string[]) => words.map((w) => ({ key: w, words: w }));
  const scale = ["drops", "sinks", "holds", "rises", "rears"];
  const captures = [
    { key: "nose", kind: "rating", label: "The nose", required: true, upright: true, options: options(...scale) },
    { key: "wing", kind: "choice", label: "The wing", required: true, options: options("left", "none") },
    { key: "swing", kind: "choice", label: "It swung", required: false, options: options("left", "right") },
    { key: "time", kind: "timed", label: "Seconds", required: false, options: [], highest: 20 },
  ];
  const F9 = { ...card("F9", 1), phase: "flight", captures, cautions: ["Everyone behind you."], condition: "cruise" };
  const shown = (over: object = {}) => {
    const onLog = vi.fn(async (_: CardRecord) => undefined);
    const one = { ...F9, throttle: "", ...over } as unknown as Card;
    const id = crypto.randomUUID();
    const console = (
      <OfASortie>
        <CardConsole sortieId={id} card={one} before={null} busy={false} onLog={onLog} onLeave={null} inTheAir />
      </OfASortie>
    );
    const page = render(console);
    return { onLog, again: () => [page.unmount(), render(console)] };
  };
  const step = () => document.querySelector(".console")?.getAttribute("data-step");
  const press = (key: string) => act(() => void fireEvent.keyDown(window, { key }));
  const pressed = () => screen.queryAllByRole("button", { pressed: true }).map((b) => b.textContent);

  it("is answered by a helper in two keys beyond the answers, nothing chosen beforehand", async () => {
    const { onLog } = shown();
    expect(screen.getByText("Everyone behind you.")).toBeTruthy();
    press("Enter");
    expect(step()).toBe("nose");
    expect(pressed()).toEqual([]);
    press("1");
    expect(step()).toBe("wing");
    expect(screen.getByRole("button", { name: "rears: The nose" })).toBeTruthy();
    press("2");
    expect(step()).toBe("keep");
    press("Enter");
    await act(async () => vi.advanceTimersByTime(10));
    expect(onLog.mock.calls[0]?.[0].readings).toMatchObject([
      { key: "nose", choice: "rears" },
      { key: "wing", choice: "none" },
    ]);
  });

  it("goes back without forgetting, takes the last answer back with U, and asks what was passed over before it is kept", () => {
    shown();
    for (const key of ["Enter", "3", "1"]) press(key);
    press("Backspace");
    expect(step()).toBe("wing");
    expect(pressed()).toEqual(["left"]);
    press("u");
    expect(step()).toBe("wing");
    expect(pressed()).toEqual([]);
    fireEvent.click(screen.getByRole("button", { name: "Later" }));
    expect(screen.getByText("Still to say: The wing")).toBeTruthy();
    expect((screen.getByRole("button", { name: "Keep, next card" }) as HTMLButtonElement).disabled).toBe(true);
    press("u");
    expect(step()).toBe("nose");
    expect(pressed()).toEqual([]);
  });

  it("asks what may be said besides on wish, and comes back to where it is kept", () => {
    shown();
    for (const key of ["Enter", "3", "1"]) press(key);
    fireEvent.click(screen.getByText("It swung"));
    expect(step()).toBe("swing");
    press("2");
    expect(step()).toBe("keep");
    expect(document.querySelector("[data-ask=swing]")?.textContent).toBe("It swungright");
  });

  it("asks no more of a model that could not be left alone", () => {
    shown({ proof_of_trim: true });
    press("Enter");
    expect(step()).toBe("proof");
    press("2");
    expect(step()).toBe("keep");
    expect((screen.getByRole("button", { name: "Keep, next card" }) as HTMLButtonElement).disabled).toBe(false);
  });

  it("stands after a reload where it was, with the watch that was started still running", () => {
    const { again } = shown();
    for (const key of ["Enter", "3", "1"]) press(key);
    fireEvent.click(screen.getByText("Seconds"));
    press(" ");
    act(() => vi.advanceTimersByTime(2_000));
    again();
    expect(step()).toBe("time");
    act(() => vi.advanceTimersByTime(1_000));
    expect(screen.getByRole("button", { name: "stop: Seconds" }).textContent).toContain("3.0 s");
    press(" ");
    expect(step()).toBe("keep");
    expect(document.querySelector("[data-ask=time]")?.textContent).toBe("Seconds3.0 s");
  });

  it("draws the word as the model does it: nose up turns its left-hand nose upward, the right wing down lowers the right", () => {
    shown();
    press("Enter");
    const turns = [...document.querySelectorAll("[data-answer] svg g[transform]")].map((g) =>
      g.getAttribute("transform"),
    );
    // Turned clockwise a nose on the left goes up, and rears stands above drops.
    expect(turns).toEqual(["rotate(32)", "rotate(14)", "rotate(0)", "rotate(-14)", "rotate(-32)"]);
    const rolls = ["left_fast", "left", "level", "right", "right_fast"];
    cleanup();
    shown({ captures: [{ ...captures[0], upright: false, options: options(...rolls) }] });
    press("Enter");
    const banks = [...document.querySelectorAll("[data-answer] svg > g[transform]")].map((g) =>
      g.getAttribute("transform"),
    );
    expect(banks).toEqual(["rotate(-34)", "rotate(34)", "rotate(-14)", "rotate(14)", "rotate(0)"]);
    cleanup();
    shown({ inverted: true, captures: [{ ...captures[0], upright: false, options: options(...rolls) }] });
    press("Enter");
    expect(document.querySelectorAll("[data-answer]")).toHaveLength(5);
    expect(document.querySelectorAll("[data-answer] svg"), "upside down left and right are not drawn").toHaveLength(0);
  });
});

it("takes an answer that is said, says it back, and asks for a tap where it is none or two", async () => {
  let recognised: ((e: unknown) => void) | null = null;
  class Recogniser {
    static available = async () => "available";
    set onresult(f: (e: unknown) => void) {
      recognised = f;
    }
    start = vi.fn();
    abort = vi.fn();
  }
  const spoken: string[] = [];
  vi.stubGlobal("SpeechRecognition", Recogniser);
  vi.stubGlobal("speechSynthesis", { cancel: vi.fn(), speak: (u: { text: string }) => spoken.push(u.text) });
  vi.stubGlobal(
    "SpeechSynthesisUtterance",
    class {
      constructor(readonly text: string) {}
    },
  );
  const onReading = vi.fn();
  const capture = {
    key: "dive",
    label: "Let go, the dive",
    options: [
      { key: "steepens", words: "steepens" },
      { key: "keeps", words: "keeps its angle" },
    ],
  } as unknown as Capture;
  render(<SpokenAnswer capture={capture} onReading={onReading} />);
  await act(async () => Promise.resolve());
  fireEvent.click(screen.getByRole("button", { name: "Say it: Let go, the dive" }));
  const hear = (words: string) => act(() => recognised?.({ results: [[{ words }]] }));
  hear("steepens, or keeps its angle");
  expect(onReading).not.toHaveBeenCalled();
  expect(screen.getByRole("status").textContent).toContain("Tap it");
  hear("it keeps its angle");
  expect(onReading).toHaveBeenCalledWith(expect.objectContaining({ key: "dive", choice: "keeps" }));
  expect(spoken.at(-1)).toBe("keeps its angle");
  vi.unstubAllGlobals();
});
