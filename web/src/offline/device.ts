import { newId } from "../domain/identity";

const KEY = "jinba-device";

/** This device: an identity of its own that every entry carries, so that two devices are told apart. */
export function thisDevice(): { id: string; name: string } {
  return { id: remembered(), name: matchMedia("(pointer: coarse)").matches ? "phone" : "computer" };
}

let unkept: string | null = null;

function remembered(): string {
  try {
    const known = localStorage.getItem(KEY);
    if (known) return known;
    const fresh = newId();
    localStorage.setItem(KEY, fresh);
    return fresh;
  } catch {
    // Storage refused: the identity then lives as long as the page.
    unkept ??= newId();
    return unkept;
  }
}
