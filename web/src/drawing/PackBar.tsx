interface Props {
  cells: number;
  /** What it holds of the capacity on its label, with one sigma. */
  share: number;
  sigma: number;
}

const WIDTH = 250;

/** A pack as a row of cells; what it holds of its label, with its whisker. */
export function PackBar({ cells, share, sigma }: Props) {
  const at = (s: number) => 4 + WIDTH * Math.min(Math.max(s, 0), 1.1);
  const words = `holds ${Math.round(100 * share)} ± ${Math.round(100 * sigma)} % of its label`;
  return (
    <svg viewBox="0 0 290 46" className="w-full" role="img" aria-label={words}>
      <rect x={4} y={12} width={WIDTH} height={26} fill="none" stroke="currentColor" strokeWidth={1.5} />
      {Array.from({ length: cells - 1 }, (_, i) => 4 + ((i + 1) * WIDTH) / cells).map((x) => (
        <path key={x} d={`M${x} 12V38`} stroke="currentColor" strokeOpacity={0.5} />
      ))}
      <rect x={4} y={12} width={at(share) - 4} height={26} fill="var(--color-info)" fillOpacity={0.4} />
      <path d={`M${at(share)} 8V42`} stroke="currentColor" strokeWidth={2.5} />
      <path d={`M${at(share - sigma)} 25H${at(share + sigma)}`} stroke="currentColor" strokeWidth={2} />
    </svg>
  );
}
