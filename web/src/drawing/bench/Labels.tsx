import type { PlacedLabel } from "../place-labels";

/** The words of a drawing where they were placed, with a thin line back to what they name where they stand away from it. */
export function Labels({ labels }: { labels: PlacedLabel[] }) {
  return (
    <g pointerEvents="none" data-testid="labels">
      {labels.map(({ key, words, box, size, color, bold, leader }) => (
        <g key={key}>
          {leader ? (
            <path
              d={`M${leader.a.x} ${leader.a.y}L${leader.b.x} ${leader.b.y}`}
              stroke={color}
              strokeWidth={0.9}
              fill="none"
              data-leader
            />
          ) : null}
          <text
            x={box.x + box.width / 2}
            y={box.y + size * 0.95}
            textAnchor="middle"
            fontSize={size}
            fontWeight={bold ? 600 : undefined}
            fill={color}
            stroke="var(--color-base-100)"
            strokeWidth={3}
            paintOrder="stroke"
            data-label={key}
          >
            {words}
          </text>
        </g>
      ))}
    </g>
  );
}
