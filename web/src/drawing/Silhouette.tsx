import type { Airframe } from "../api/client";
import { boundsOf } from "./geometry";
import { PlanView } from "./views";

/** A model's plan outline, nose up, to a common scale (`metres` across the picture). */
export function Silhouette({ airframe, metres, size = 120 }: { airframe: Airframe; metres: number; size?: number }) {
  const b = boundsOf(airframe);
  const scale = size / metres;
  const middle = (b.xMin + b.xMax) / 2;
  return (
    <svg width={size} height={size} viewBox={`0 0 ${size} ${size}`} role="img" aria-label="plan view">
      <PlanView
        airframe={airframe}
        map={(p) => ({ x: size / 2 + p.y * scale, y: size / 2 + (p.x - middle) * scale })}
      />
    </svg>
  );
}

/** Metres that hold the larger of span and length of all airframes. */
export function commonScale(airframes: Airframe[]): number {
  const spans = airframes.map((a) => {
    const b = boundsOf(a);
    return Math.max(2 * b.halfSpan, b.xMax - b.xMin);
  });
  return 1.04 * Math.max(0.3, ...spans);
}
