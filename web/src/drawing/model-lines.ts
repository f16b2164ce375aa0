/** The lines an aeroplane is drawn with, in pixels: what no label may cross. Pure, no React. */
import type { Airframe } from "../api/client";
import {
  bodyHalfPlan,
  bodySide,
  controlPlan,
  finSide,
  halfPlan,
  motorsOf,
  type Point,
  sectionSide,
  smoothed,
} from "./geometry";
import type { Line } from "./place-labels";

type Map = (p: Point) => Point;

function through(points: Point[], map: Map, closed: boolean): Line[] {
  const p = points.map(map);
  const lines: Line[] = [];
  for (let i = 0; i < p.length - (closed ? 0 : 1); i++) {
    const [a, b] = [p[i], p[(i + 1) % p.length]];
    if (a && b) lines.push({ a, b });
  }
  return lines;
}

/** The right half in plan. */
export function planLines(airframe: Airframe, map: Map): Line[] {
  const lines = airframe.surfaces.flatMap((s) => [
    ...through(halfPlan(s), map, true),
    ...through(controlPlan(s) ?? [], map, true),
  ]);
  for (const body of [airframe.body, ...(airframe.nacelles ?? [])])
    for (const side of [1, -1]) {
      const y = body.y_m ?? 0;
      if (y === 0 && side === -1) continue;
      lines.push(
        ...through(
          smoothed(bodyHalfPlan(body)).map((p) => ({ x: p.x, y: y + side * p.y })),
          map,
          false,
        ),
      );
    }
  for (const m of motorsOf(airframe)) {
    const [y, r] = [m.y_m ?? 0, m.propeller_diameter_m / 2];
    lines.push(
      ...through(
        [
          { x: m.x_m, y: y === 0 ? 0 : y - r },
          { x: m.x_m, y: y + r },
        ],
        map,
        false,
      ),
    );
  }
  const boom = airframe.body.boom_y_m ?? 0;
  const wing = airframe.surfaces[0];
  const rear = Math.max(...airframe.surfaces.map((s) => s.x_m + (s.sections[0]?.chord_m ?? 0) * 0.9));
  if (boom > 0 && wing)
    lines.push(
      ...through(
        [
          { x: wing.x_m, y: boom },
          { x: rear, y: boom },
        ],
        map,
        false,
      ),
    );
  const fin = airframe.fin;
  if (fin)
    lines.push(
      ...through(
        [
          { x: fin.x_m, y: fin.y_m ?? 0 },
          { x: fin.x_m + fin.root_chord_m, y: fin.y_m ?? 0 },
        ],
        map,
        false,
      ),
    );
  return lines;
}

/** The side view, wheels and booms among it. */
export function sideLines(airframe: Airframe, map: Map): Line[] {
  const lines = [airframe.body, ...(airframe.nacelles ?? [])].flatMap((b) => through(smoothed(bodySide(b)), map, true));
  for (const s of airframe.surfaces) lines.push(...through(sectionSide(s), map, true));
  const fin = finSide(airframe);
  if (fin) lines.push(...through(fin.outline, map, true), ...through(fin.rudder, map, true));
  for (const m of motorsOf(airframe)) {
    const r = m.propeller_diameter_m / 2;
    lines.push(
      ...through(
        [
          { x: m.x_m, y: m.z_m + r },
          { x: m.x_m, y: m.z_m - r },
        ],
        map,
        false,
      ),
    );
  }
  const { gear } = airframe;
  const wing = airframe.surfaces[0];
  if (gear)
    for (const x of [gear.main_x_m, gear.third_x_m]) {
      // A wheel as the square about it.
      const top = gear.ground_z_m + 0.06;
      lines.push(
        ...through(
          [
            { x: x - 0.03, y: gear.ground_z_m },
            { x: x + 0.03, y: gear.ground_z_m },
            { x: x + 0.03, y: top },
            { x: x - 0.03, y: top },
          ],
          map,
          true,
        ),
        ...through(
          [
            { x, y: 0 },
            { x, y: gear.ground_z_m },
          ],
          map,
          false,
        ),
      );
    }
  if ((airframe.body.boom_y_m ?? 0) > 0 && wing && airframe.fin)
    lines.push(
      ...through(
        [
          { x: wing.x_m, y: wing.z_m - 0.005 },
          { x: airframe.fin.x_m + airframe.fin.root_chord_m * 0.9, y: airframe.fin.z_m + 0.01 },
        ],
        map,
        false,
      ),
    );
  return lines;
}
