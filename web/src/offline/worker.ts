/** The worker that keeps the page on this device: whether it starts without the program, and whether a newer page waits. */

import { registerSW } from "virtual:pwa-register";
import { useSyncExternalStore } from "react";

export interface Page {
  /** Kept: the page starts where no program answers. Refused: this browser, or this address, keeps no pages. */
  kept: "not yet" | "kept" | "refused";
  newer: boolean;
}

const LOOK_FOR_NEWER_MS = 30 * 60_000;

let page: Page = { kept: "not yet", newer: false };
let take: (reload?: boolean) => Promise<void> = async () => location.reload();
const listeners = new Set<() => void>();

function now(change: Partial<Page>): void {
  page = { ...page, ...change };
  for (const listener of listeners) listener();
}

const LATEST_START_MS = 15_000;
let started = false;

/** Have the page kept. A device that keeps it already is looked after at once; on a first visit what the pilot waits for comes first. */
export function planWorker(): void {
  if (navigator.serviceWorker?.controller) startWorker();
  else setTimeout(startWorker, LATEST_START_MS);
}

export function startWorker(): void {
  if (started) return;
  started = true;
  if (!("serviceWorker" in navigator)) {
    now({ kept: "refused" });
    return;
  }
  take = registerSW({
    immediate: true,
    onNeedRefresh: () => now({ newer: true }),
    onRegisteredSW: (_url, registration) => {
      // Whichever page began to keep it, one that was loaded anew meanwhile included.
      void navigator.serviceWorker.ready.then(() => now({ kept: "kept" }));
      if (registration) setInterval(() => void registration.update().catch(() => undefined), LOOK_FOR_NEWER_MS);
    },
    onRegisterError: () => now({ kept: "refused" }),
  });
}

/** Change to the newer page; only while the program answers, because what was prepared is fetched anew for it. */
export async function takeNewer(): Promise<"taken" | "no answer"> {
  const answered = await fetch("/api/v1/field")
    .then((answer) => answer.ok)
    .catch(() => false);
  if (!answered) return "no answer";
  await take(true);
  return "taken";
}

export function usePage(): Page {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => page,
  );
}
