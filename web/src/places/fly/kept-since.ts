/** When something was started that must survive a reload and another card: a watch, a link. */

/** When it was started [ms], null where it was not. */
export function keptSince(key: string | undefined): number | null {
  try {
    const kept = Number(key ? localStorage.getItem(key) : 0);
    return kept > 0 ? kept : null;
  } catch {
    return null;
  }
}

/** Keep when it was started [ms]; null forgets it. */
export function keepSince(key: string | undefined, since: number | null): void {
  try {
    if (key && since !== null) localStorage.setItem(key, String(since));
    else if (key) localStorage.removeItem(key);
  } catch {
    // Storage refused: it then lives as long as the page.
  }
}
