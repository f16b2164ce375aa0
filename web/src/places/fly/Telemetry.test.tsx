// @vitest-environment happy-dom
import "fake-indexeddb/auto";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import type { Card, CardRecord } from "../../api/client";
import { aReading } from "../../api/records";
import { FlownContext } from "../../components/flown-context";
import { SettingsProvider } from "../../components/settings-context";
import { FLOWN } from "../../testing/flown";
import { refusal, served, server } from "../../testing/server";
import { CardConsole } from "./CardConsole";

const plain = { options: [], directions: [], unit: "", highest: 300, wait_minutes: 0, on_wish: false };
const STALL = {
  id: "F8",
  title: "Stall",
  phase: "flight",
  steps: ["Hold height until it lets go."],
  captures: [
    {
      ...plain,
      key: "wing",
      kind: "choice",
      label: "Wing that dropped",
      required: true,
      options: [{ key: "left", words: "left wing" }],
    },
    { ...plain, key: "height_lost", kind: "level", label: "Height lost", required: true, unit: "m" },
    { ...plain, key: "entry_speed", kind: "reading", label: "Speed at the break", required: false, unit: "m/s" },
  ],
  cautions: [],
  abort_when: "",
  proof_of_trim: false,
  throttle: "",
} as unknown as Card;

const TAKEN = [
  aReading({ key: "height_lost", number: 9, telemetry: true }),
  aReading({ key: "entry_speed", number: 8.2, telemetry: true }),
];
const TOLD = {
  source: "stand-in",
  now: { time_s: 9.9, airspeed_mps: 15, height_m: 61.5, pitch_rad: -0.1, bank_rad: 0.35, throttle: 0.8, volts: null },
  seconds: 9.9,
  lasts: 9.9,
  ended: true,
  taken: TAKEN,
};

beforeEach(() => localStorage.clear());
afterEach(cleanup);

function console(linked = true) {
  const onLog = vi.fn<(r: CardRecord) => Promise<unknown>>(() => Promise.resolve());
  render(
    <QueryClientProvider client={new QueryClient()}>
      <SettingsProvider>
        <FlownContext value={FLOWN}>
          <CardConsole
            sortieId="s1"
            card={STALL}
            before={null}
            busy={false}
            onLog={onLog}
            onLeave={null}
            inTheAir
            linked={linked}
          />
        </FlownContext>
      </SettingsProvider>
    </QueryClientProvider>,
  );
  return onLog;
}

it("fills in what the link gives, marked, and asks the pilot for the rest", async () => {
  served({ "/telemetry": TOLD });
  const onLog = console();
  await userEvent.click(screen.getByTestId("link"));
  expect(await screen.findByText("right wing 20° down")).toBeTruthy();
  expect(screen.getByText("nose 6° down")).toBeTruthy();
  expect(screen.getByText("9 m, telemetry")).toBeTruthy();
  await userEvent.click(screen.getByRole("button", { name: "Flown: log it" }));
  await userEvent.click(screen.getByRole("button", { name: /left wing/ }));
  await userEvent.click(screen.getByRole("button", { name: "Keep, next card" }));
  await waitFor(() => expect(onLog).toHaveBeenCalled());
  expect(onLog.mock.calls[0]?.[0].readings).toMatchObject([{ key: "wing", telemetry: false }, ...TAKEN]);
});

it("leaves what was said by hand, and drops the mark of what is corrected", async () => {
  served({ "/telemetry": TOLD });
  const onLog = console();
  await userEvent.click(screen.getByTestId("link"));
  await screen.findByText("9 m, telemetry");
  await userEvent.click(screen.getByRole("button", { name: "Flown: log it" }));
  await userEvent.click(screen.getByRole("button", { name: /left wing/ }));
  await userEvent.click(screen.getByRole("button", { name: /9 m, telemetry: Height lost/ }));
  const field = screen.getByRole("textbox", { name: "Height lost" });
  await userEvent.click(field);
  await userEvent.tab();
  expect(screen.getByText("from telemetry")).toBeTruthy();
  await userEvent.clear(field);
  await userEvent.type(field, "14{Enter}");
  await userEvent.click(screen.getByRole("button", { name: "Keep, next card" }));
  await waitFor(() => expect(onLog).toHaveBeenCalled());
  expect(onLog.mock.calls[0]?.[0].readings[1]).toMatchObject({ key: "height_lost", number: 14, telemetry: false });
});

it("says that a link is lost, and what to do then; without one there is none to watch", async () => {
  server.answer = () => Promise.resolve(refusal("No telemetry link is connected.", 409));
  console();
  await userEvent.click(screen.getByTestId("link"));
  expect(await screen.findByText("The link is lost. Go on by eye and watch.")).toBeTruthy();
  served({ "/telemetry": TOLD });
  await userEvent.click(screen.getByRole("button", { name: "Ask again" }));
  expect(await screen.findByText("9 m, telemetry")).toBeTruthy();
  cleanup();
  console(false);
  expect(screen.queryByTestId("link")).toBeNull();
});
