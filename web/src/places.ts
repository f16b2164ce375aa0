import * as today from "./places/today/TodayPage";

/** Every place, fetched when it is first opened; a model's today, which most visits open, comes with the program itself. */
export const PLACE = {
  home: () => import("./places/today/HomePage"),
  new: () => import("./places/today/NewModelPage"),
  today: () => Promise.resolve(today),
  bench: () => import("./places/bench/BenchPage"),
  plan: () => import("./places/plan/PlanPage"),
  fly: () => import("./places/fly/FlyPage"),
  waiting: () => import("./places/fly/WaitingPage"),
  debrief: () => import("./places/debrief/DebriefPage"),
  rework: () => import("./places/rework/ReworkPage"),
  happened: () => import("./places/fly/HappenedPage"),
  emergency: () => import("./places/fly/EmergencyPage"),
  help: () => import("./places/fly/HelpPage"),
  pair: () => import("./places/pairing/PairPage"),
  phones: () => import("./places/pairing/PhonesPage"),
  packs: () => import("./places/packs/PacksPage"),
  ledger: () => import("./places/ledger/LedgerPage"),
} as const;

type Name = keyof typeof PLACE;

const TITLE: Record<Name, string> = {
  home: "Shelf",
  new: "New model",
  today: "Today",
  bench: "Bench",
  plan: "Plan",
  fly: "Fly",
  waiting: "On this device",
  debrief: "Debrief",
  rework: "Rework",
  happened: "What happened",
  emergency: "Emergency",
  help: "Helping",
  pair: "Pairing",
  phones: "Phones",
  packs: "Packs",
  ledger: "Ledger",
};

/** What the window of a place is called: the place first, then the model; a row of tabs is told apart by that. */
export function titleOf(pathname: string, model: string | undefined): string {
  return [TITLE[placeOf(pathname)], model, "Jinba"].filter((part) => part).join(" · ");
}

/** The place an address opens, by its last part; a model's own address is its today. */
export function placeOf(pathname: string): Name {
  const [first = "", , last = "today"] = pathname.split("/").filter(Boolean);
  const name = first === "" ? "home" : first === "m" ? last : first;
  return name in PLACE ? (name as Name) : "home";
}
