import { describe, expect, it } from "vitest";
import { aRecord } from "../../api/records";
import type { DiaryLine } from "../../queries/diary";
import { byFlight, EVERYTHING, flownIn, found } from "./found";

const line = (id: string, sortie: number | null, card_id: string, title: string, said: string[], counts = true) =>
  ({
    id,
    sortie_number: sortie,
    sortie_id: sortie === null ? null : `s${sortie}`,
    title,
    said,
    counts,
    record: aRecord({ card_id, outcome: "done" }),
    logged_by: "",
    device_name: "Ana's phone",
    flown_at: null,
    recorded_at: "2031-05-01T10:00:00Z",
  }) as unknown as DiaryLine;

const LINES = [
  line("d", 2, "F12", "Dive", ["Dive: pulls out", '"flutter above half"']),
  line("c", 2, "F2", "Trim in pitch", ["Pitch clicks: 2 clicks nose up"]),
  line("b", null, "G1", "Range", ["Paces: 30"]),
  line("a", 1, "F2", "Trim in pitch", ["Pitch clicks: 5 clicks nose up"], false),
];
const ids = (lines: readonly DiaryLine[]) => lines.map((l) => l.id).join("");

describe("what is looked for in the log", () => {
  it("is every word of it, wherever it stands: card, title, what was said, a note, who said it", () => {
    const looked = (words: string) => ids(found(LINES, { ...EVERYTHING, words }));
    expect(looked("")).toBe("dcba");
    expect(looked("nose UP")).toBe("ca");
    expect(looked("f2 2")).toBe("ca");
    expect(looked("flutter")).toBe("d");
    expect(looked("ana's range")).toBe("b");
    expect(looked("sortie dive")).toBe("d");
    expect(looked("rudder")).toBe("");
  });

  it("can be of one flight, of the ground, and only what counts", () => {
    expect(ids(found(LINES, { ...EVERYTHING, of: "2" }))).toBe("dc");
    expect(ids(found(LINES, { ...EVERYTHING, of: "ground" }))).toBe("b");
    expect(ids(found(LINES, { words: "trim", of: "", counting: true }))).toBe("c");
  });

  it("stands under its flight, in the order of the log", () => {
    expect(byFlight(LINES).map((g) => `${g.of}:${ids(g.lines)}`)).toEqual(["2:dc", "ground:b", "1:a"]);
  });

  it("says what a card was flown in, in the pilot's own unit, and nothing that nobody said", () => {
    const [first] = LINES;
    if (!first) throw new Error("no line");
    const inKnots = (si: number | null | undefined) => `${Math.round((si ?? 0) * 1.94)} kn`;
    const conditions = {
      pack: "Red",
      wind_mps: 3,
      throttle: 0.5,
      flap: null,
      gear: "up" as const,
      mode: "self_level" as const,
    };
    expect(flownIn(first, inKnots)).toBe("");
    expect(flownIn({ ...first, record: { ...first.record, conditions, from_memory: true } }, inKnots)).toBe(
      "pack Red, wind 6 kn, throttle 50 %, gear up, gyro self level, from memory",
    );
  });
});
