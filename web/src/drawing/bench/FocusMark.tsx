import type { Point } from "../geometry";
import type { Dimension } from "./dimension";

interface Props {
  dimension: Dimension;
  /** Whether what is held there means a station of the body. */
  means: boolean;
  plan: (p: Point) => Point;
  side: (p: Point) => Point;
}

/** The line of the measure that is being taken; its words are among the labels. */
export function FocusMark({ dimension, means, plan, side }: Props) {
  if (dimension.kind === "meter") return <Ring at={plan(dimension.at)} />;
  const map = dimension.view === "plan" ? plan : side;
  const [a, b] = [map(dimension.a), map(dimension.b)];
  const middle = plan({ x: dimension.b.x, y: 0 });
  return (
    <g stroke="var(--color-accent)" strokeWidth={1.6} fill="none">
      <path d={`M${a.x} ${a.y}L${b.x} ${b.y}`} />
      <circle cx={a.x} cy={a.y} r={3} fill="var(--color-accent)" />
      <circle cx={b.x} cy={b.y} r={3} fill="var(--color-accent)" />
      {means ? <path d={`M${b.x} ${b.y}V${middle.y + 44}`} strokeWidth={1.2} strokeDasharray="5 4" /> : null}
    </g>
  );
}

/** A place to put a gauge. */
function Ring({ at }: { at: Point }) {
  return (
    <g stroke="var(--color-accent)" fill="none" strokeWidth={2}>
      <circle cx={at.x} cy={at.y} r={13} />
      <path d={`M${at.x - 20} ${at.y}h40`} />
    </g>
  );
}
