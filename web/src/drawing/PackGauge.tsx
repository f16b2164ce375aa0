interface Props {
  /** Charge of the pack with one sigma, shares of its capacity; null where nobody knows. */
  charge: number | null;
  sigma: number | null;
  read: boolean;
  /** Share that is still in it at landing. */
  keptBack: number;
  /** What is safe of it, in words. */
  safe: string;
}

const LEFT = 6;
const WIDTH = 272;
const TOP = 24;
const HEIGHT = 34;

/** The pack lying on its side: what is in it from the left, what is kept back hatched, what is missing empty. */
export function PackGauge({ charge, sigma, read, keptBack, safe }: Props) {
  const at = (share: number) => LEFT + WIDTH * Math.min(Math.max(share, 0), 1);
  const spread = sigma ?? 0;
  const said =
    charge === null
      ? "how full it is, is not known"
      : `${Math.round(100 * charge)} % full${read ? "" : ", not read"}; ${Math.round(100 * keptBack)} % are kept back`;
  return (
    <svg viewBox="0 0 292 82" className="w-full max-w-sm" role="img" aria-label={said}>
      <defs>
        <pattern id="kept" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V6" stroke="currentColor" strokeWidth={2} />
        </pattern>
      </defs>
      {charge === null ? null : (
        <rect
          x={LEFT}
          y={TOP}
          width={at(charge) - LEFT}
          height={HEIGHT}
          fill="var(--color-info)"
          fillOpacity={read ? 0.45 : 0.2}
        />
      )}
      <rect x={LEFT} y={TOP} width={at(keptBack) - LEFT} height={HEIGHT} fill="url(#kept)" fillOpacity={0.5} />
      <rect x={LEFT} y={TOP} width={WIDTH} height={HEIGHT} fill="none" stroke="currentColor" strokeWidth={1.5} />
      <rect x={LEFT + WIDTH} y={TOP + 9} width={6} height={HEIGHT - 18} fill="currentColor" />
      {charge === null ? null : (
        <>
          <path d={`M${at(charge)} ${TOP - 5}V${TOP + HEIGHT + 5}`} stroke="currentColor" strokeWidth={2} />
          <path d={`M${at(charge - spread)} ${TOP - 5}H${at(charge + spread)}`} stroke="currentColor" strokeWidth={2} />
          <text x={Math.min(at(charge), 250)} y={14} fontSize={13} textAnchor="middle" fill="currentColor">
            {Math.round(100 * charge)} %{read ? "" : " ?"}
          </text>
          <text
            x={(at(keptBack) + at(Math.max(charge, keptBack + 0.3))) / 2}
            y={TOP + HEIGHT / 2 + 5}
            fontSize={14}
            fontWeight={600}
            textAnchor="middle"
            fill="currentColor"
          >
            {safe}
          </text>
        </>
      )}
      <text x={LEFT} y={TOP + HEIGHT + 18} fontSize={13} fill="currentColor">
        kept back
      </text>
    </svg>
  );
}
