import { useSyncExternalStore } from "react";
import { type OnDevice, snapshot, subscribe } from "./outbox";

/** What is only on this device, live. */
export function useOutbox(): OnDevice {
  return useSyncExternalStore(subscribe, snapshot);
}
