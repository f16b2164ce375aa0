interface Props {
  bearing_rad: number;
  height_rad: number;
  /** Heading of take-off and landing by compass; null where nobody knows it. */
  heading_rad: number | null;
  dazzles: boolean;
}

const R = 62;
const C = 80;

/** The strip from above, north on top, and where the sun stands: the nearer to the rim the lower. */
export function SunAndStrip({ bearing_rad, height_rad, heading_rad, dazzles }: Props) {
  const degrees = (rad: number) => Math.round((rad * 180) / Math.PI);
  const up = height_rad > -0.0145;
  const from = R * (1 - Math.max(height_rad, 0) / (Math.PI / 2));
  const x = C + from * Math.sin(bearing_rad);
  const y = C - from * Math.cos(bearing_rad);
  const words = up
    ? `sun ${degrees(height_rad)} degrees high, bearing ${degrees(bearing_rad)}${dazzles ? ", in your eyes" : ""}`
    : "the sun is down";
  return (
    <svg viewBox="0 0 300 160" className="w-full max-w-sm" role="img" aria-label={words}>
      <circle cx={C} cy={C} r={R} fill="none" stroke="currentColor" strokeOpacity={0.6} />
      <text x={C} y={C - R - 5} fontSize={13} textAnchor="middle" fill="currentColor">
        N
      </text>
      {heading_rad === null ? null : (
        <g transform={`rotate(${degrees(heading_rad)} ${C} ${C})`}>
          <rect x={C - 9} y={C - 40} width={18} height={80} fill="var(--color-base-300)" stroke="currentColor" />
          <path d={`M${C} ${C + 30}V${C - 28}M${C - 6} ${C - 19}l6 -10 6 10`} stroke="currentColor" fill="none" />
        </g>
      )}
      {up ? (
        <>
          <path
            d={`M${x} ${y}L${C} ${C}`}
            stroke={dazzles ? "var(--color-accent)" : "currentColor"}
            strokeDasharray="4 3"
            strokeWidth={dazzles ? 2.5 : 1}
          />
          <circle
            cx={x}
            cy={y}
            r={8}
            fill={dazzles ? "var(--color-accent)" : "var(--color-base-100)"}
            stroke="currentColor"
            strokeWidth={2}
          />
        </>
      ) : null}
      <text x={158} y={64} fontSize={14} fill="currentColor">
        {up ? `sun ${degrees(height_rad)}° high` : "the sun is down"}
      </text>
      {up ? (
        <text
          x={158}
          y={84}
          fontSize={14}
          fontWeight={dazzles ? 700 : 400}
          fill={dazzles ? "var(--color-accent)" : "currentColor"}
        >
          {dazzles ? "in your eyes" : heading_rad === null ? "strip not known" : "not in your eyes"}
        </text>
      ) : null}
    </svg>
  );
}
