import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { fireEvent, render, screen } from "@testing-library/react";
import { type ReactNode, useRef, useState } from "react";
import {
  type Airframe,
  type BenchAnswer,
  type Configuration,
  type Control,
  type Item,
  type ModelDetail,
  ProblemError,
  plain,
  type Said,
  type Section,
  type Surface,
} from "../api/client";
import { SettingsProvider } from "../components/settings-context";
import { type Change, EditingProvider } from "../places/bench/editing";
import { keys } from "../queries/models";

export const aSection = (y_m: number, chord_m: number, x_offset_m = 0): Section => ({
  y_m,
  x_offset_m,
  chord_m,
  z_offset_m: 0,
  twist_rad: 0,
});

/** A swept wing of 1.4 m, low on its body. */
export const WING: Surface = {
  key: "wing",
  role: "wing",
  x_m: 0,
  z_m: -0.05,
  sections: [aSection(0, 0.28), aSection(0.7, 0.2, 0.1)],
  incidence_rad: 0,
  camber: "symmetrical",
  hinge_fraction: 0.75,
  control_inner: 0.5,
  control_outer: 1,
};

const control = (axis: Control["axis"]): Control => ({
  axis,
  throw_rad: 0.26,
  rad_per_click: 0.004,
  chord_m: 0.05,
  horn_arm_m: 0.012,
  thread_pitch_m: 0.0004,
  mechanical_rad: 0,
  sub_trim_rad: 0,
  clicks: 0,
});

export const anItem = (key: string, part: Partial<Item> = {}): Item => ({
  key,
  name: key,
  mass_kg: 0.02,
  x_m: 0,
  y_m: 0,
  z_m: 0,
  kind: "part",
  bay_m: null,
  fitted: true,
  to_come: false,
  ...part,
});

/** A low-wing model as it stands on the bench, nothing read yet. */
export function aSetup(part: Partial<Configuration> = {}): Configuration {
  return {
    airframe: {
      surfaces: [WING],
      body: { nose_x_m: -0.24, length_m: 1.06, width_m: 0.09, height_m: 0.11, boom_y_m: 0, y_m: 0, z_m: 0 },
      fin: null,
      motor: null,
      nacelles: [],
      further_motors: [],
    },
    items: [
      anItem("Airframe", { kind: "airframe", mass_kg: 1.4, x_m: 0.15 }),
      anItem("Battery", { kind: "battery", mass_kg: 0.4, x_m: -0.08, bay_m: [-0.18, 0.01] }),
    ],
    elevator: control("pitch"),
    aileron: control("roll"),
    rudder: control("yaw"),
    model_class: "sport",
    datum: "wing root leading edge",
    limits: { wind_mps: 7, gust_spread_mps: 3.5, crosswind_mps: 4, experience: "practised" },
    guessed: [],
    taken: [],
    site_elevation_m: 0,
    pack_minutes: 8,
    flown_inverted: true,
    launch: "wheels",
    ...part,
  };
}

/** What the bench computes of it, as far as the tabs read it. */
export function anAnswer(part: Partial<BenchAnswer> = {}): BenchAnswer {
  return {
    numbers: [{ key: "mass", value: 1.8 }],
    x_cg_m: 0.1,
    items_x_cg_m: 0.098,
    items_y_cg_m: 0.001,
    items_z_cg_m: 0,
    fingers: { x_m: 0.1, y_m: 0.08, behind_le_m: 0.09, words: "" },
    maiden: { x_m: 0.1, aft_limit_m: 0.1, forward_limit_m: 0.08, words: "", published: null },
    schools: [],
    remedies: [],
    twist: [],
    order: null,
    ...part,
  } as unknown as BenchAnswer;
}

interface Stage {
  doubts?: Said[];
  setup?: Configuration;
  readOnly?: boolean;
  plan?: number;
  /** The program's reason to refuse a setup, null to take it. */
  refuse?: (setup: Configuration) => string | null;
}

interface TakenReading {
  key: string;
  value: number;
  left: boolean;
  again: boolean;
}

interface BenchProps extends Required<Omit<Stage, "refuse">> {
  children: ReactNode;
  refuse: Stage["refuse"];
  onSetup: (setup: Configuration, words: string) => void;
  onTake: (reading: TakenReading) => void;
  onFocus: (what: string | null) => void;
}

function Bench({ children, setup, readOnly, plan, doubts, refuse, onSetup, onTake, onFocus }: BenchProps) {
  const [held, setHeld] = useState(setup);
  const newest = useRef(setup);
  const take = async (reading: TakenReading) => {
    const { key, value } = reading;
    onTake(reading);
    await edit(
      (s) => ({
        ...s,
        airframe: withValueAt(s.airframe, asPath(key), value),
        guessed: (s.guessed ?? []).filter((g) => g !== key),
      }),
      `${key} taken`,
    );
  };
  const edit = async (change: Change, words: string) => {
    const next = change(newest.current);
    const reason = refuse?.(next) ?? null;
    if (reason !== null) throw new ProblemError(plain("out-of-range", reason, 422));
    newest.current = next;
    onSetup(next, words);
    setHeld(next);
  };
  return (
    <EditingProvider value={{ setup: held, readOnly, plan, edit, take, origins: null, doubts, onFocus }}>
      {children}
    </EditingProvider>
  );
}

const asPath = (key: string) => key.split(".").map((part) => (/^\d+$/.test(part) ? Number(part) : part));

/** The airframe with the number at a path replaced. */
function withValueAt(airframe: Airframe, path: (string | number)[], value: number): Airframe {
  return replaced(airframe, path, value) as Airframe;
}

function replaced(here: unknown, path: (string | number)[], value: number): unknown {
  const [key, ...rest] = path;
  if (key === undefined) return value;
  if (Array.isArray(here)) return here.map((part, i) => (i === key ? replaced(part, rest, value) : part));
  const part = typeof here === "object" && here !== null ? (here as Record<string, unknown>) : {};
  return { ...part, [key]: replaced(part[key], rest, value) };
}

/** A bench whose setup changes as the program would change it. Returns the setup now, and what each change was called. */
export function onBench(
  children: ReactNode,
  { setup = aSetup(), readOnly = false, plan = 1, doubts = [], refuse }: Stage = {},
) {
  const cache = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  cache.setQueryData(keys.model("m1"), { id: "m1", revision: 4, setup } as ModelDetail);
  const said: string[] = [];
  const shown: (string | null)[] = [];
  let now = setup;
  const onSetup = (next: Configuration, words: string) => {
    now = next;
    said.push(words);
  };
  const readings: TakenReading[] = [];
  const onTake = (reading: TakenReading) => void readings.push(reading);
  const onFocus = (what: string | null) => void shown.push(what);
  render(
    <QueryClientProvider client={cache}>
      <SettingsProvider>
        <Bench {...{ setup, readOnly, plan, doubts, refuse, onSetup, onTake, onFocus }}>{children}</Bench>
      </SettingsProvider>
    </QueryClientProvider>,
  );
  return { now: () => now, said, shown, readings, cache };
}

/** A field by the words its label begins with; a hint follows them. */
export const field = (label: string) => screen.getByLabelText(new RegExp(`^${label}`)) as HTMLInputElement;

/** Type into a field and leave it. */
export async function fill(label: string, text: string): Promise<HTMLInputElement> {
  const field = (await screen.findByLabelText(new RegExp(`^${label}`))) as HTMLInputElement;
  fireEvent.focus(field);
  fireEvent.change(field, { target: { value: text } });
  fireEvent.blur(field);
  return field;
}

/** Press a button by its words, the last of that name unless said otherwise. */
export async function press(words: string | RegExp, nth = -1): Promise<void> {
  const found = await screen.findAllByRole("button", { name: words, hidden: true });
  fireEvent.click(found.at(nth) as HTMLElement);
}
