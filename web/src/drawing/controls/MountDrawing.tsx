import type { Schemas } from "../../api/client";

interface Props {
  tilt: "down" | "up" | "right" | "left";
  facesAft: boolean;
  shimmed: Schemas["Shim"] | undefined;
  spacing_m: number;
  /** Where the forward end points now, down or right. [rad] */
  now_rad: number;
}

const W = 460;
const H = 220;

/** The mount from the side (from above for side thrust): bulkhead, bolts, washers and where the thrust axis then points. */
export function MountDrawing({ tilt, facesAft, shimmed, spacing_m, now_rad }: Props) {
  const side = tilt === "left" || tilt === "right";
  const degrees = ((shimmed?.tilt_rad ?? 0) * 180) / Math.PI;
  // The nose is on the left of the sheet; from above the left wing is at the bottom. Forward end down, or to the right wing (up here).
  const turn = (tilt === "down" || tilt === "left" ? -1 : 1) * degrees;
  const half = 52;
  const washer = shimmed ? Math.max(3, Math.min(16, (shimmed.thickness_m / spacing_m) * 2 * half)) : 0;
  const bulkhead = facesAft ? 150 : 310;
  const out = facesAft ? 1 : -1;
  const upper = shimmed ? shimmed.where.includes("upper") || shimmed.where.includes("right") : true;
  const y = upper ? H / 2 - half : H / 2 + half;
  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      className="block w-full"
      role="img"
      aria-label={shimmed ? shimmed.words : "Motor mount without washers"}
    >
      <text x={10} y={20} className="fill-base-content text-[15px]">
        ← nose {side ? "(seen from above, right wing on top)" : "(seen from the left)"}
      </text>
      <path d={`M${bulkhead} ${H / 2 - 78}V${H / 2 + 78}`} className="stroke-base-content" strokeWidth={7} />
      <path d={`M20 ${H / 2}H${W - 20}`} className="stroke-secondary" strokeDasharray="8 4 2 4" strokeWidth={1} />
      <path
        d={`M${bulkhead + out * 150} ${H / 2}H${bulkhead - out * 60}`}
        transform={`rotate(${(side ? 1 : -1) * ((now_rad * 180) / Math.PI)} ${bulkhead} ${H / 2})`}
        className="stroke-base-content"
        strokeWidth={1.5}
      />
      <g
        transform={`rotate(${turn + (side ? 1 : -1) * ((now_rad * 180) / Math.PI)} ${bulkhead} ${H / 2})`}
        className="stroke-base-content"
        fill="none"
      >
        <rect
          x={out > 0 ? bulkhead + 6 + washer / 2 : bulkhead - 66 - washer / 2}
          y={H / 2 - 58}
          width={60}
          height={116}
          className="fill-base-200"
          strokeWidth={1.5}
        />
        <path
          d={`M${bulkhead + out * 150} ${H / 2}H${bulkhead - out * 60}`}
          className="stroke-info"
          strokeWidth={2.5}
        />
        <path d={`M${bulkhead + out * 120} ${H / 2 - 70}V${H / 2 + 70}`} strokeWidth={4} />
      </g>
      {[-1, 1].map((s) => (
        <path
          key={s}
          d={`M${bulkhead - out * 14} ${H / 2 + s * half}h${out * 40}`}
          className="stroke-base-content"
          strokeWidth={3}
        />
      ))}
      {shimmed ? (
        <rect
          x={out > 0 ? bulkhead + 4 : bulkhead - 4 - washer}
          y={y - 11}
          width={washer}
          height={22}
          className="fill-accent"
        />
      ) : null}
      {shimmed ? (
        <text
          x={bulkhead + (out > 0 ? -12 : 12)}
          y={y + 5}
          textAnchor={out > 0 ? "end" : "start"}
          className="fill-base-content text-[15px]"
        >
          {(shimmed.thickness_m * 1000).toFixed(1)} mm here
        </text>
      ) : null}
      <text x={W - 10} y={H - 10} textAnchor="end" className="fill-base-content text-[15px]">
        {shimmed ? `ink: now, blue: ${Math.abs(degrees).toFixed(1)}° further ${tilt}` : "ink: thrust line now"}
      </text>
    </svg>
  );
}
