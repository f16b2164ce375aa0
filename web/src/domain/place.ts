/** A place on earth as a map or a phone gives it. */

type Place = { ok: true; latitude: number; longitude: number } | { ok: false; reason: string };

const HOW = "Give degrees north, then east: 47.27, 11.40. South and west with a minus, or S and W.";
const PART = /^([NSEWO]?)\s*([+-]?\d{1,3}(?:\.\d+)?)\s*°?\s*([NSEWO]?)$/i;

function degrees(text: string): { value: number; side: string } | null {
  const found = PART.exec(text.trim());
  if (!found) return null;
  const side = (found[1] || found[3] || "").toUpperCase().replace("O", "E");
  const value = Number(found[2]);
  return { value: side === "S" || side === "W" ? -Math.abs(value) : value, side };
}

/** Read "47.27, 11.40", "47.27 N 11.40 E" or "-33.9 151.2"; decimal degrees only. */
export function readPlace(text: string): Place {
  const clean = text.trim().replace(/−/g, "-");
  if (/['′"″]/.test(clean)) return { ok: false, reason: `Write it in decimal degrees. ${HOW}` };
  const sided = clean.match(/[NSEWO]?\s*[+-]?\d+(?:\.\d+)?\s*°?\s*[NSEWO]?(?=$|[\s,;])/gi) ?? [];
  const parts = sided.length === 2 ? sided : clean.split(/[,;\s]+/).filter(Boolean);
  if (parts.length !== 2) return { ok: false, reason: HOW };
  const [a, b] = parts.map((p) => degrees(p));
  if (!a || !b) return { ok: false, reason: HOW };
  const swapped = /[EW]/.test(a.side) && /[NS]/.test(b.side);
  const [north, east] = swapped ? [b, a] : [a, b];
  if (Math.abs(north.value) > 90)
    return { ok: false, reason: `No place lies ${Math.abs(north.value)}° from the equator. ${HOW}` };
  if (Math.abs(east.value) > 180) return { ok: false, reason: `East and west end at 180°. ${HOW}` };
  return { ok: true, latitude: north.value, longitude: east.value };
}
