/** Reading and replacing one number deep in the airframe by its path. Pure, no React. */
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

/** The airframe with the number at a path replaced; everything beside the path stays the same object. */
export function withValueAt(airframe: Airframe, path: Path, value: number): Airframe {
  return replaced(airframe, path, value) as Airframe;
}

function replaced(here: unknown, path: Path, value: number): unknown {
  const [key, ...rest] = path;
  if (key === undefined) return value;
  if (Array.isArray(here)) return here.map((part, i) => (i === key ? replaced(part, rest, value) : part));
  const part = typeof here === "object" && here !== null ? (here as Record<string, unknown>) : {};
  return { ...part, [key]: replaced(part[key], rest, value) };
}
