import { useMemo, useSyncExternalStore } from "react";
import { type Entry, type OnDevice, snapshot, subscribe } from "./outbox";

/** What is only on this device, live. */
export function useOutbox(): OnDevice {
  return useSyncExternalStore(subscribe, snapshot);
}

/** Every entry that is only on this device, in the order in which it was made. */
export function useOnDevice(): readonly Entry[] {
  const { waiting, refused } = useOutbox();
  return useMemo(() => [...waiting, ...refused].sort((a, b) => a.place - b.place), [waiting, refused]);
}
