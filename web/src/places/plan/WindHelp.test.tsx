// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, expect, it, vi } from "vitest";
import { SettingsProvider } from "../../components/settings-context";
import { refusal, served } from "../../testing/server";
import { WindHelp } from "./WindHelp";

const FORCES = [
  { number: 3, words: "leaves and twigs move", usual_mps: 4.4, most_mps: 5.4 },
  { number: 4, words: "dust rises", usual_mps: 6.7, most_mps: 7.9 },
];
const REPORT = {
  report: {
    station: "ZZZZ",
    hour: 6,
    minute: 5,
    wind_mps: 4.1,
    gust_mps: null,
    from_rad: Math.PI,
    temperature_k: 297,
    qnh_pa: 101800,
  },
  air: { density_kg_m3: 1.15, density_altitude_m: 640, faster: 0.031 },
};

function show(metar: unknown) {
  const asked = served({ "/wind-forces": FORCES, "/metar": metar });
  const onTake = vi.fn();
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { mutations: { retry: false } } })}>
      <SettingsProvider>
        <WindHelp onTake={onTake} elevation_m={420} />
      </SettingsProvider>
    </QueryClientProvider>,
  );
  for (const d of document.querySelectorAll("details")) d.open = true;
  return { asked, onTake };
}

afterEach(cleanup);

it("takes the mean from the middle of a step and the gusts from the upper end of another", async () => {
  const { onTake } = show(REPORT);
  await waitFor(() => expect(screen.getAllByRole("option", { name: /dust rises/ })).toHaveLength(2));
  fireEvent.change(screen.getByLabelText("Mostly"), { target: { value: "3" } });
  fireEvent.change(screen.getByLabelText("At its strongest"), { target: { value: "4" } });
  expect(onTake.mock.calls).toEqual([[{ speed_mps: 4.4 }], [{ gust_mps: 7.9 }]]);
});

it("says what a report says and takes no gusts from one that reports none", async () => {
  const { asked, onTake } = show(REPORT);
  await userEvent.type(screen.getByLabelText("report"), "ZZZZ 010605Z 18008KT");
  await userEvent.click(screen.getByRole("button", { name: "Read it" }));
  const said = await screen.findByTestId("report");
  expect(asked.at(-1)?.body).toEqual({ text: "ZZZZ 010605Z 18008KT", elevation_m: 420 });
  expect(said.textContent).toContain("ZZZZ at 06:05 UTC: 4.1 m/s from 180.0°, no gusts reported");
  expect(said.textContent).toContain("Density altitude 640 m: stall, take-off and trim are 3.1 % faster");
  await userEvent.click(screen.getByRole("button", { name: "Take its wind" }));
  expect(onTake).toHaveBeenCalledExactlyOnceWith({ speed_mps: 4.1, from_rad: Math.PI });
});

it("keeps what was pasted when it is no report, and says what to do", async () => {
  show(() => refusal("This is no report of an aerodrome that can be read."));
  await userEvent.type(screen.getByLabelText("report"), "lovely weather");
  await userEvent.click(screen.getByRole("button", { name: "Read it" }));
  expect((await screen.findByRole("alert")).textContent).toContain("This is no report");
  expect((screen.getByLabelText("report") as HTMLTextAreaElement).value).toBe("lovely weather");
});
