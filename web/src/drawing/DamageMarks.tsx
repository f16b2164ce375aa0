import type { Airframe, ModelDetail } from "../api/client";
import type { Point } from "./geometry";

export const CROSS = "M-9 -9L9 9M9 -9L-9 9";

/** The parts that were damaged and are not gone over since. */
export function damagedParts(incidents: ModelDetail["incidents"]): string[] {
  return [...new Set(incidents.flatMap((i) => (i.open.length > 0 ? i.damaged : [])))];
}

interface Props {
  parts: string[];
  airframe: Airframe;
  map: (p: Point) => { x: number; y: number };
  /** The drawing shows only the right half. */
  half?: boolean;
}

/** A cross at each part that was damaged: it stays until every gate it opened is closed again. */
export function DamageMarks({ parts, airframe, map, half = false }: Props) {
  return (
    <g data-testid="damage">
      <title>{`damaged: ${parts.join(", ")}`}</title>
      {parts.flatMap((part) =>
        placesOf(part, airframe)
          .filter((p) => !half || p.y >= 0)
          .map((p) => {
            const at = map(p);
            return (
              <path
                key={`${part}${p.x}${p.y}`}
                d={CROSS}
                transform={`translate(${at.x} ${at.y})`}
                stroke="var(--color-accent)"
                strokeWidth={5}
              />
            );
          }),
      )}
    </g>
  );
}

/** Where a part is marked; nothing of a part the model does not have. */
export function placesOf(part: string, a: Airframe): Point[] {
  const wing = a.surfaces[0];
  const half = wing?.sections.at(-1)?.y_m ?? 0.3;
  const chord = wing?.sections[0]?.chord_m ?? 0.2;
  const middle = (wing?.x_m ?? 0) + 0.45 * chord;
  const tail = a.surfaces.find((s) => s !== wing) ?? null;
  const nose = a.body.nose_x_m;
  switch (part) {
    case "wing":
      return [1, -1].map((side) => ({ x: middle, y: 0.6 * side * half }));
    case "tail":
      return [
        {
          x: tail ? tail.x_m + 0.5 * (tail.sections[0]?.chord_m ?? 0.1) : (a.fin?.x_m ?? nose + a.body.length_m),
          y: 0,
        },
      ];
    case "body":
      return [{ x: nose + 0.62 * a.body.length_m, y: 0 }];
    case "motor":
      return a.motor ? [{ x: a.motor.x_m, y: a.motor.y_m ?? 0 }] : [];
    case "gear":
      return a.gear ? [1, -1].map((side) => ({ x: a.gear?.main_x_m ?? middle, y: 0.16 * side * half })) : [];
    case "linkage":
      return [{ x: middle + 0.35 * chord, y: 0.36 * half }];
    default:
      return [{ x: nose + 0.2 * a.body.length_m, y: 0 }];
  }
}
