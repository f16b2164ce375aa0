/** Reading one number deep in the airframe by its path. Pure, no React. */
import type { Airframe } from "../../api/client";

type Path = readonly (string | number)[];

/** The number at a path, or null when there is none. */
export function valueAt(airframe: Airframe, path: Path): number | null {
  let here: unknown = airframe;
  for (const key of path) {
    if (typeof here !== "object" || here === null) return null;
    here = (here as Record<string | number, unknown>)[key];
  }
  return typeof here === "number" ? here : null;
}
