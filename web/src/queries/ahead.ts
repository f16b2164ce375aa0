import type { QueryClient } from "@tanstack/react-query";
import { PLACE, placeOf } from "../places";
import { modelOf } from "./models";
import { FIELD } from "./pairing";

/**
 * On a first visit, over a poor line: the place that is opened and what it shows are asked for at once, side by side, not each when
 * the one before has come. A device that keeps the page has the place already.
 */
export function ahead(cache: QueryClient, pathname: string): void {
  if (navigator.serviceWorker?.controller) return;
  void PLACE[placeOf(pathname)]().catch(() => undefined);
  void cache.prefetchQuery({ ...FIELD, retry: false });
  const [, model] = /^\/m\/([0-9a-f-]{36})(\/|$)/.exec(pathname) ?? [];
  if (model) void cache.prefetchQuery({ ...modelOf(model), retry: false });
}
