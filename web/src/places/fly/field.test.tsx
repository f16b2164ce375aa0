// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, fireEvent, render, renderHook, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Card, CardRecord, ModelDetail } from "../../api/client";
import { ModelContext } from "../../components/model-context";
import { SettingsProvider } from "../../components/settings-context";
import { CardConsole } from "./CardConsole";
import { HeldBar } from "./HeldBar";
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
      <SettingsProvider>
        <CardConsole sortieId="s" card={inFlight} before={null} busy={false} onLog={onLog} onLeave={null} inTheAir />
      </SettingsProvider>,
    );
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
    const stick = { key: "stick_held", kind: "stick", label: "Stick held", directions: ["nose_up", "nose_down"] };
    const climb = { ...card("F1", 1), phase: "flight", captures: [stick], cautions: [], throttle: "" };
    const model = { pitch_control: "tail", setup: {} } as unknown as ModelDetail;
    render(
      <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { enabled: false } } })}>
        <ModelContext.Provider value={model}>
          <SettingsProvider>
            <CardConsole
              sortieId="half"
              card={climb as unknown as Card}
              before={null}
              busy={false}
              onLog={onLog}
              onLeave={null}
              inTheAir
            />
          </SettingsProvider>
        </ModelContext.Provider>
      </QueryClientProvider>,
    );
    fireEvent.click(screen.getByRole("button", { name: "50 %" }));
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
      <SettingsProvider>
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
      </SettingsProvider>,
    );
    return onLog;
  };
  const keep = async () => {
    fireEvent.click(screen.getByRole("button", { name: "Keep, next card" }));
    await act(async () => vi.advanceTimersByTime(10));
  };

  it("stands where the card wants it, and one tap says otherwise", async () => {
    const onLog = shown({});
    expect(screen.getByRole("button", { name: "Throttle: cruise" }).getAttribute("aria-pressed")).toBe("true");
    fireEvent.click(screen.getByRole("button", { name: "Throttle: full" }));
    expect(screen.getByText("Predicted for what was really used.")).toBeTruthy();
    await keep();
    expect(onLog.mock.calls[0]?.[0].conditions).toMatchObject({ throttle: 1, flap: 0 });
  });

  it("says nothing of the lever where it stood as the card has it", async () => {
    const onLog = shown({ throttle: "idle" });
    expect(screen.getAllByRole("button", { name: /^Throttle:/ })).toHaveLength(3);
    await keep();
    expect(onLog.mock.calls[0]?.[0].conditions).not.toHaveProperty("throttle");
  });

  it.each([
    ["a glider", {}, { motor: false }],
    ["a card that moves it itself", { throttle: "" }, {}],
  ])("is not asked of %s", (_, over, with_) => {
    shown(over, with_);
    expect(screen.queryByRole("group", { name: "Throttle" })).toBeNull();
  });

  it.each([
    ["up", false, "Landing gear: down", "down"],
    ["down", true, "Landing gear: up", "up"],
  ])("stands with the gear %s where the card wants it so", async (wanted, gear_down, other, says) => {
    const onLog = shown({ gear_down }, { gear: true });
    expect(screen.getByRole("button", { name: `Landing gear: ${wanted}` }).getAttribute("aria-pressed")).toBe("true");
    fireEvent.click(screen.getByRole("button", { name: other }));
    expect(screen.getByText(`Flown with the gear ${says}: what the nose does is believed half as much.`)).toBeTruthy();
    await keep();
    expect(onLog.mock.calls[0]?.[0].conditions).toMatchObject({ gear: says });
  });

  it("asks for no gear that does not fold", () => {
    shown({});
    expect(screen.queryByRole("group", { name: "Landing gear" })).toBeNull();
  });

  it("says with flap what still counts", () => {
    shown({ with_flap: "only which wing goes down still counts" });
    fireEvent.click(screen.getByRole("button", { name: "Flap: landing" }));
    expect(screen.getByText("Flown with flap: only which wing goes down still counts.")).toBeTruthy();
  });
});
