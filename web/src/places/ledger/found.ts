import type { useSettings } from "../../components/settings-context";
import type { DiaryLine } from "../../queries/diary";

/** What of the log is looked for: words, one flight or what was done on the ground, and whether only what counts. */
export interface Wanted {
  words: string;
  /** A sortie's number; "ground": the bench and the ground; "": everything. */
  of: string;
  counting: boolean;
}

export const EVERYTHING: Wanted = { words: "", of: "", counting: false };

/** The lines that say every word that is looked for, wherever it stands in them. */
export function found(lines: readonly DiaryLine[], wanted: Wanted): DiaryLine[] {
  const words = wanted.words.toLowerCase().split(/\s+/).filter(Boolean);
  return lines.filter((line) => {
    if (wanted.counting && !line.counts) return false;
    if (wanted.of !== "" && wanted.of !== placeOf(line)) return false;
    const said = inWords(line);
    return words.every((w) => said.includes(w));
  });
}

const placeOf = (line: DiaryLine) => (line.sortie_number === null ? "ground" : String(line.sortie_number));

function inWords(line: DiaryLine): string {
  const { record } = line;
  return [
    record.card_id,
    line.title,
    record.outcome,
    ...line.said,
    record.conditions?.pack,
    line.logged_by,
    line.device_name,
    line.sortie_number === null ? "ground" : `sortie ${line.sortie_number}`,
    new Date(line.flown_at ?? line.recorded_at).toLocaleDateString(),
  ]
    .join(" ")
    .toLowerCase();
}

/** Lines that follow each other and belong to one flight, or to the ground, in their order. */
export function byFlight(lines: readonly DiaryLine[]): { of: string; lines: DiaryLine[] }[] {
  const groups: { of: string; lines: DiaryLine[] }[] = [];
  for (const line of lines) {
    const last = groups.at(-1);
    if (last && last.of === placeOf(line)) last.lines.push(line);
    else groups.push({ of: placeOf(line), lines: [line] });
  }
  return groups;
}

/** What a card was flown in, in words: pack, wind, and where lever, flap, gear and gyro stood, as far as that was said. */
export function flownIn({ record }: DiaryLine, show: ReturnType<typeof useSettings>["show"]): string {
  const c = record.conditions;
  if (!c) return "";
  const share = (what: string, value: number | null | undefined) =>
    value === null || value === undefined ? "" : `${what} ${Math.round(100 * value)} %`;
  return [
    c.pack ? `pack ${c.pack}` : "",
    c.wind_mps === null || c.wind_mps === undefined ? "" : `wind ${show(c.wind_mps, "speed")}`,
    share("throttle", c.throttle),
    share("flap", c.flap),
    c.gear ? `gear ${c.gear}` : "",
    c.mode ? `gyro ${c.mode.replace("_", " ")}` : "",
    record.from_memory ? "from memory" : "",
  ]
    .filter((part) => part)
    .join(", ");
}
