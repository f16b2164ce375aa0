import type { Tendency } from "../api/client";

interface Mark {
  tendency: Tendency;
  kind: "predicted" | "measured";
}

const WORDS = { predicted: "predicted", measured: "found" };

/** How a behaviour is known, in words; drawn as a solid filled hump when it was seen, else dotted and empty. */
export const SHOWN: Record<Tendency["shown"], string> = {
  in_band: "seen in its band",
  below: "seen outside",
  above: "seen outside",
  unsure: "seen, not sure",
  inferred: "inferred only",
  unknown: "not known yet",
};

export const isSeen = (t: Tendency): boolean => t.shown !== "inferred" && t.shown !== "unknown";

const W = 420;
const H = 46;
const BASE = 34;

/**
 * One behaviour as a rail from its left word to its right word: wanted band in the middle, what was predicted as a thin
 * dashed hump, what was seen as a solid one, what is only inferred dotted. Line style carries the meaning as well as colour.
 */
export function Rail({
  marks,
  name,
  words = WORDS,
}: {
  marks: Mark[];
  name: string;
  words?: Record<Mark["kind"], string>;
}) {
  const t = marks[0]?.tendency;
  if (!t) return null;
  const px = (v: number) =>
    8 + ((clamp(v, t.rail_low, t.rail_high) - t.rail_low) / (t.rail_high - t.rail_low)) * (W - 16);
  const last = marks[marks.length - 1]?.tendency ?? t;
  return (
    <div className="border-b border-base-300 py-1.5" data-rail={t.key}>
      <div className="flex items-baseline justify-between gap-2">
        <span className="font-semibold">{name}</span>
        <span className={last.out ? "text-sm font-semibold text-accent" : "text-sm"}>{last.verdict}</span>
      </div>
      <svg
        viewBox={`0 0 ${W} ${H}`}
        className="block h-11 w-full"
        preserveAspectRatio="none"
        role="img"
        aria-label={describe(marks)}
      >
        <rect
          x={px(t.low)}
          y={6}
          width={Math.max(px(t.high) - px(t.low), 2)}
          height={BASE - 6}
          fill="var(--color-success)"
          opacity={0.18}
        />
        <path d={`M8 ${BASE}H${W - 8}`} stroke="currentColor" strokeWidth={1} vectorEffect="non-scaling-stroke" />
        {marks
          .filter((m) => m.kind === "measured" && isSeen(m.tendency))
          .map((m) => (
            <path key={m.kind} d={under(m.tendency, px)} fill="color-mix(in oklab, currentColor 16%, transparent)" />
          ))}
        {marks.map((m) => (
          <path
            key={m.kind}
            d={hump(m.tendency, px)}
            fill="none"
            stroke={m.kind === "measured" ? "currentColor" : "var(--color-info)"}
            strokeWidth={m.kind === "measured" ? 2 : 1.6}
            strokeDasharray={m.kind === "predicted" ? "5 4" : isSeen(m.tendency) ? undefined : "1 4"}
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </svg>
      <div className="label-small flex justify-between leading-none">
        <span>{t.left}</span>
        <span>{t.right}</span>
      </div>
      <p className="mt-0.5 text-center text-sm leading-tight">
        {marks.map((m) => (
          <span
            key={m.kind}
            className={`mx-2 inline-block sm:whitespace-nowrap ${m.kind === "predicted" ? "text-info" : "font-semibold"}`}
          >
            {words[m.kind]} {m.tendency.words}
            {m.kind === "measured" ? `, ${SHOWN[m.tendency.shown]}` : ""}
          </span>
        ))}
      </p>
    </div>
  );
}

function describe(marks: Mark[]): string {
  return marks.map((m) => `${m.kind === "predicted" ? "predicted" : "found"}: ${m.tendency.words}`).join("; ");
}

/** The normal curve of a tendency on the rail, as far as the rail goes; empty where less than two points lie on it. */
function curve(t: Tendency, px: (v: number) => number): string {
  const points: string[] = [];
  for (let i = -24; i <= 24; i++) {
    const z = i / 8;
    const v = t.value + z * t.sigma;
    if (v < t.rail_low || v > t.rail_high) continue;
    points.push(`${px(v).toFixed(1)} ${(BASE - 27 * Math.exp(-0.5 * z * z)).toFixed(1)}`);
  }
  return points.length < 2 ? "" : points.join("L");
}

/** The curve as a line; an arrow to the end of the rail for what lies beyond it. */
function hump(t: Tendency, px: (v: number) => number): string {
  const x = px(t.value);
  const points = curve(t, px);
  return points ? `M${points}` : `M${x} ${BASE}l-5 -10M${x} ${BASE}l5 -10M${x} ${BASE}v-20`;
}

/** What lies under the curve, closed straight down where the rail cuts it off. */
function under(t: Tendency, px: (v: number) => number): string {
  const points = curve(t, px);
  return points ? `M${points.split(" ")[0]} ${BASE}L${points}V${BASE}Z` : "";
}

function clamp(v: number, low: number, high: number): number {
  return Math.min(Math.max(v, low), high);
}
