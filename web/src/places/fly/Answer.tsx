import type { ReactNode } from "react";
import type { Airframe } from "../../api/client";
import { boundsOf, type Point } from "../../drawing/geometry";
import { RearView } from "../../drawing/RearView";
import { PlanView, SideView } from "../../drawing/views";

/** How far each word turns the drawn model: nose up, right wing down and nose right positive [degrees]. Drawn larger than they are. */
const NOSE: Record<string, number> = { drops: -32, sinks: -14, holds: 0, rises: 14, rears: 32 };
const ROLL: Record<string, number> = { left_fast: -34, left: -14, level: 0, right: 14, right_fast: 34 };
const YAW: Record<string, number> = { left_much: -36, left: -16, straight: 0, right: 16, right_much: 36 };

const WIDE = 84;
const HIGH = 44;

/** What an answer of a scale means, drawn with the model itself: its nose from the left side, its wings from behind, its course from above. */
export function drawnAnswer(keys: readonly string[], key: string, airframe: Airframe): ReactNode {
  const drawn = drawing(keys, key, airframe);
  return drawn ? <span className="console-drawn">{drawn}</span> : null;
}

function drawing(keys: readonly string[], key: string, airframe: Airframe): ReactNode {
  if (keys.every((k) => k in NOSE)) return <Nose airframe={airframe} up={NOSE[key] ?? 0} />;
  if (keys.every((k) => k in ROLL))
    return <RearView airframe={airframe} bankDeg={ROLL[key] ?? 0} size={WIDE} heights={1} />;
  if (keys.every((k) => k in YAW)) return <Course airframe={airframe} right={YAW[key] ?? 0} />;
  return null;
}

/** From its left side, the nose on the left, turned about its balance. */
export function Nose({ airframe, up }: { airframe: Airframe; up: number }) {
  const b = boundsOf(airframe);
  const scale = (WIDE * 0.9) / (b.xMax - b.xMin);
  const middle = { x: (b.xMin + b.xMax) / 2, y: (b.zMin + b.zMax) / 2 };
  const map = (p: Point) => ({ x: (p.x - middle.x) * scale, y: -(p.y - middle.y) * scale });
  return (
    <svg
      viewBox={`${-WIDE / 2} ${-HIGH / 2} ${WIDE} ${HIGH}`}
      width={WIDE}
      height={HIGH}
      className="block overflow-visible"
      aria-hidden="true"
    >
      <path d={`M${-WIDE / 2} 0H${WIDE / 2}`} stroke="currentColor" strokeWidth={0.6} strokeDasharray="2 4" />
      <g transform={`rotate(${up})`}>
        <SideView airframe={airframe} map={map} />
      </g>
    </svg>
  );
}

/** From above, flying up the page. */
function Course({ airframe, right }: { airframe: Airframe; right: number }) {
  const b = boundsOf(airframe);
  const scale = (HIGH * 0.95) / Math.max(b.xMax - b.xMin, 2 * b.halfSpan);
  const map = (p: Point) => ({ x: p.y * scale, y: (p.x - (b.xMin + b.xMax) / 2) * scale });
  return (
    <svg
      viewBox={`${-WIDE / 2} ${-HIGH / 2} ${WIDE} ${HIGH}`}
      width={WIDE}
      height={HIGH}
      className="block overflow-visible"
      aria-hidden="true"
    >
      <path d={`M0 ${-HIGH / 2}V${HIGH / 2}`} stroke="currentColor" strokeWidth={0.6} strokeDasharray="2 4" />
      <g transform={`rotate(${right})`}>
        <PlanView airframe={airframe} map={map} />
      </g>
    </svg>
  );
}
