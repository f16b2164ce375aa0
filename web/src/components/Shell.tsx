import { useIsFetching } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, Outlet, useLocation, useNavigate, useParams } from "react-router";
import { isAway, type ModelDetail, ProblemError } from "../api/client";
import type { Theme } from "../domain/settings";
import { when } from "../domain/time";
import { takeNewer, usePage } from "../offline/worker";
import { titleOf } from "../places";
import { useFieldKit } from "../queries/field";
import { useModel } from "../queries/models";
import { isOpen } from "../queries/sorties";
import { LoopStrip, STATIONS } from "./LoopStrip";
import { OnDevice } from "./OnDevice";
import { useSettings } from "./settings-context";
import { Loading, ProblemNote } from "./ui/feedback";

/** Frame of every place: the loop as a strip, the model's line, keys. */
export function Shell({ modelId }: { modelId?: null }) {
  const params = useParams();
  const id = modelId === null ? "" : (params.modelId ?? "");
  const model = useModel(id);
  const { change } = useSettings();
  const location = useLocation();
  useFieldKit(model.data);
  const loadedId = model.data?.id;
  useEffect(() => {
    if (loadedId) change({ lastModel: loadedId });
  }, [loadedId, change]);
  if (modelId === null)
    return (
      <Frame model={null}>
        <Outlet />
      </Frame>
    );
  return (
    <Frame model={model.data ?? null}>
      {model.isPending ? <Loading words="Fetching the model…" /> : null}
      {model.data ? <AsOf model={model} /> : null}
      <NewerPage flying={atTheConsole(location.pathname)} />
      {model.error && !model.data ? (
        <div className="p-4">
          <ProblemNote error={model.error} onRetry={() => void model.refetch()} />
          <Link className="btn btn-sm" to="/?shelf">
            To the shelf
          </Link>
        </div>
      ) : null}
      {model.data ? <Outlet context={model.data} /> : null}
    </Frame>
  );
}

/** The console has a bar of its own at the thumb. */
function atTheConsole(path: string): boolean {
  return ["fly", "happened", "emergency"].includes(path.split("/")[3] ?? "");
}

/** A newer page waits: it is taken when the pilot says so, and never while he flies. */
function NewerPage({ flying }: { flying: boolean }) {
  const page = usePage();
  const [trouble, setTrouble] = useState(false);
  if (!page.newer || flying) return null;
  return (
    <p
      role="status"
      className="mb-2 flex flex-wrap items-center gap-2 border-l-4 border-l-base-content px-2"
      data-testid="newer-page"
    >
      <span>
        A newer version of the program is there.
        {trouble ? " It does not answer now: the page stays as it is until it does." : ""}
      </span>
      <button
        type="button"
        className="btn btn-sm min-h-11"
        onClick={() => void takeNewer().then((what) => setTrouble(what === "no answer"))}
      >
        Load it
      </button>
    </p>
  );
}

const OLD_MS = 60_000;

interface AsOfProps {
  model: { failureReason: unknown; isFetching: boolean; dataUpdatedAt: number };
}

/** As of when it is what is shown, where that is not now: no answer, or none yet to a page that shows what was kept. */
function AsOf({ model }: AsOfProps) {
  const asked = model.isFetching && Date.now() - model.dataUpdatedAt > OLD_MS;
  if (!model.failureReason && !asked) return null;
  return (
    <p role="status" className="mb-2 border-l-4 border-l-accent px-2" data-testid="away">
      <span className="font-semibold">{model.failureReason ? words(model.failureReason) : "Asking the program…"}</span>{" "}
      What is shown is as of {when(new Date(model.dataUpdatedAt))}.
    </p>
  );
}

function words(error: unknown): string {
  return error instanceof ProblemError && !isAway(error) ? error.problem.title : "The program does not answer.";
}

function Frame({ model, children }: { model: ModelDetail | null; children: React.ReactNode }) {
  const [keysOpen, setKeysOpen] = useState(false);
  const fetching = useIsFetching() > 0;
  const location = useLocation();
  const place = location.pathname.split("/")[3] ?? "today";
  const console = atTheConsole(location.pathname) && (place !== "fly" || (model?.sorties.some(isOpen) ?? false));
  // Another place begins at its top, wherever one had scrolled to before.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the path is what it waits for
  useEffect(() => {
    window.scrollTo({ top: 0 });
  }, [location.pathname]);
  useEffect(() => {
    document.title = titleOf(location.pathname, model?.name);
  }, [location.pathname, model?.name]);
  useKeys(model, () => setKeysOpen((o) => !o));
  return (
    <div className="mx-auto flex min-h-dvh max-w-[1440px] flex-col">
      <header className="no-print border-b border-base-content/70">
        <div
          className={`hidden items-center gap-4 px-4 pt-2 ${model ? "md:flex" : ""} [@media(max-height:480px)]:hidden`}
        >
          <Link
            to={model ? `/m/${model.id}` : "/"}
            className="inline-flex min-h-11 items-center text-xl font-bold tracking-tight"
            aria-label="Jinba, today"
          >
            Jinba
          </Link>
          <div className="flex-1">{model ? <LoopStrip model={model} place={place} /> : null}</div>
          {model ? (
            <Link
              to={`/m/${model.id}/ledger`}
              className={`inline-flex min-h-11 items-center px-2 ${place === "ledger" ? "font-bold underline" : ""}`}
            >
              Ledger
            </Link>
          ) : null}
        </div>
        <SecondLine model={model} low={console} onKeys={() => setKeysOpen(true)} />
      </header>
      <main
        aria-busy={fetching}
        className={`flex-1 px-3 pt-3 md:px-4 ${console ? "pb-3 [@media(max-height:760px)]:pt-1" : "pb-24 md:pb-6"}`}
      >
        {children}
      </main>
      {model && !console ? <BottomBar model={model} place={place} /> : null}
      {keysOpen ? <KeyTable onClose={() => setKeysOpen(false)} /> : null}
    </div>
  );
}

const NEXT_THEME: Record<Theme, Theme> = { device: "paper", paper: "night", night: "device" };
const THEME_WORDS: Record<Theme, string> = { device: "auto", paper: "day", night: "night" };

interface LineProps {
  model: ModelDetail | null;
  /** At the console a low screen is for the card: nothing else is pressed there. */
  low: boolean;
  onKeys: () => void;
}

function SecondLine({ model, low, onKeys }: LineProps) {
  const { settings, change } = useSettings();
  return (
    <div className="flex flex-wrap items-center gap-x-4 px-3 text-sm md:px-4">
      {model ? (
        <span className="min-w-0 flex-1 truncate">
          <Link
            to={`/m/${model.id}`}
            className={`inline-flex min-h-11 min-w-11 items-center text-base font-bold ${low ? "[@media(max-height:760px)]:min-h-8" : ""}`}
          >
            {model.name}
          </Link>
          <span className="ml-2">
            configuration {model.configuration}
            <span className="hidden sm:inline">
              {model.change_words.length ? `: ${model.change_words.join(", ")}` : ""}
            </span>
          </span>
        </span>
      ) : (
        <span className="flex-1">
          <Link to="/" className="inline-flex min-h-11 min-w-11 items-center font-bold">
            Jinba
          </Link>
        </span>
      )}
      {model?.rehearsal ? (
        <span className="mark-rehearsal" data-testid="rehearsal">
          Rehearsal<span className="hidden sm:inline">: no real flight</span>
        </span>
      ) : null}
      <OnDevice />
      <span className={`flex items-center gap-1 ${low ? "[@media(max-height:760px)]:hidden" : ""}`}>
        <Link to="/?shelf" className="btn btn-ghost px-2 text-sm">
          Shelf
        </Link>
        <button
          type="button"
          className="btn btn-ghost px-2 text-sm"
          onClick={() => change({ system: settings.system === "metric" ? "imperial" : "metric", units: {} })}
        >
          {settings.system === "metric" ? "metric" : "imperial"}
        </button>
        <button
          type="button"
          className="btn btn-ghost px-2 text-sm"
          onClick={() => change({ theme: NEXT_THEME[settings.theme] })}
        >
          {THEME_WORDS[settings.theme]}
        </button>
        <button
          type="button"
          className="btn btn-ghost hidden px-2 text-sm md:inline-flex"
          onClick={onKeys}
          aria-label="all keys"
        >
          keys ?
        </button>
      </span>
    </div>
  );
}

function BottomBar({ model, place }: { model: ModelDetail; place: string }) {
  return (
    <nav
      aria-label="the loop"
      className="no-print fixed inset-x-0 bottom-0 z-30 flex border-t border-base-content bg-base-100 md:hidden"
    >
      {STATIONS.map((s) => (
        <Link
          key={s.key}
          to={`/m/${model.id}/${s.key}`}
          aria-current={place === s.key ? "page" : undefined}
          className={`flex min-h-14 flex-1 flex-col items-center justify-center text-sm ${place === s.key ? "font-bold underline" : ""}`}
        >
          <span
            aria-hidden="true"
            className={`mb-0.5 block h-2 w-2 rounded-full ${model.today.station === s.key ? "bg-accent" : "bg-transparent"}`}
          />
          {s.name}
        </Link>
      ))}
      <Link
        to={`/m/${model.id}/ledger`}
        className={`flex min-h-14 flex-1 flex-col items-center justify-center text-sm ${place === "ledger" ? "font-bold underline" : ""}`}
      >
        <span aria-hidden="true" className="mb-0.5 block h-2 w-2" />
        Ledger
      </Link>
    </nav>
  );
}

/** Where a card is asked, at the console, corrected or mended, the figures answer it: there they lead nowhere else. */
function useKeys(model: ModelDetail | null, toggle: () => void): void {
  const navigate = useNavigate();
  useEffect(() => {
    function onKey(e: KeyboardEvent): void {
      const target = e.target as HTMLElement;
      if (["INPUT", "SELECT", "TEXTAREA"].includes(target.tagName) || e.ctrlKey || e.metaKey || e.altKey) return;
      if (e.key === "?") toggle();
      if (e.key === "Escape") for (const d of document.querySelectorAll("details[open]")) d.removeAttribute("open");
      const stops = ["", ...STATIONS.map((s) => s.key), "ledger"];
      const stop = /^[1-7]$/.test(e.key) && !document.querySelector(".console") ? stops[Number(e.key) - 1] : undefined;
      if (model && stop !== undefined) void navigate(`/m/${model.id}/${stop}`);
    }
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [model, navigate, toggle]);
}

function KeyTable({ onClose }: { onClose: () => void }) {
  // A dialog of the browser's own: it takes the focus, Escape closes it, and it gives the focus back.
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    const opened = dialog.current;
    if (!opened?.open) opened?.showModal();
  }, []);
  const rows = [
    ["1 … 7", "Today, Bench, Plan, Fly, Debrief, Rework, Ledger"],
    ["← →", "on the battery or a slider: move by 1 mm (Shift: 10 mm)"],
    ["Enter", "in a field: keep the value, go to the next"],
    ["Esc", "take an entry back, close what is open"],
    ["Ctrl Z, Ctrl Y", "on the bench: undo, redo"],
    ["1 … 9", "at the console: the answer with that figure"],
    ["Enter, ⌫, U", "at the console: on, back, take the last answer back"],
    ["Space", "at the console: start and stop the watch"],
    ["Y, N, B", "in the direction check: yes as drawn, no the other way, one back"],
    ["?", "this list"],
  ];
  return (
    <dialog ref={dialog} className="modal" onClose={onClose} aria-label="keys">
      <div className="modal-box">
        <h2 className="mb-2 text-xl">Keys</h2>
        <table className="w-full">
          <tbody>
            {rows.map(([key, words]) => (
              <tr key={key} className="border-b border-base-300">
                <th className="py-1 pr-4 text-left font-semibold whitespace-nowrap">{key}</th>
                <td>{words}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <button type="button" className="btn mt-4" onClick={() => dialog.current?.close()}>
          Close
        </button>
      </div>
    </dialog>
  );
}
