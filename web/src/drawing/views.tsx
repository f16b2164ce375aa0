import type { Airframe } from "../api/client";
import { bodyHalfPlan, bodySide, controlPlan, finSide, halfPlan, type Point, path, sectionSide } from "./geometry";

type Map = (p: Point) => Point;

const INK = "var(--color-base-content)";
const PAPER = "var(--color-base-100)";

/** The aeroplane in plan; `half` draws the right half above the centre line, as workshop drawings do. */
export function PlanView({ airframe, map, half = false }: { airframe: Airframe; map: Map; half?: boolean }) {
  const sides = half ? [1] : [1, -1];
  const boom = airframe.body.boom_y_m ?? 0;
  const fin = airframe.fin;
  const body = bodyHalfPlan(airframe);
  const outline = [...body, ...[...body].reverse().map((p) => ({ x: p.x, y: half ? 0 : -p.y }))];
  const rear = Math.max(...airframe.surfaces.map((s) => s.x_m + (s.sections[0]?.chord_m ?? 0) * 0.9));
  const wing = airframe.surfaces[0];
  return (
    <g fill={PAPER} stroke={INK} strokeWidth={1.6} strokeLinejoin="round">
      {boom > 0 && wing
        ? sides.map((s) => (
            <path
              key={`boom${s}`}
              d={path(
                [
                  { x: wing.x_m, y: s * boom },
                  { x: rear, y: s * boom },
                ],
                map,
                false,
              )}
              strokeWidth={4}
            />
          ))
        : null}
      {airframe.surfaces.map((surface) => (
        <g key={surface.key}>
          {sides.map((s) => (
            <path
              key={s}
              d={path(
                halfPlan(surface).map((p) => ({ x: p.x, y: s * p.y })),
                map,
              )}
            />
          ))}
          {sides.map((s) => {
            const control = controlPlan(surface);
            return control ? (
              <path
                key={`c${s}`}
                d={path(
                  control.map((p) => ({ x: p.x, y: s * p.y })),
                  map,
                )}
                fill="none"
                strokeWidth={0.9}
              />
            ) : null;
          })}
        </g>
      ))}
      <path d={path(outline, map, true, true)} />
      {fin
        ? (fin.y_m ? sides : [1]).map((s) => (
            <path
              key={`f${s}`}
              d={path(
                [
                  { x: fin.x_m, y: s * (fin.y_m ?? 0) },
                  { x: fin.x_m + fin.root_chord_m, y: s * (fin.y_m ?? 0) },
                ],
                map,
                false,
              )}
              strokeWidth={3}
            />
          ))
        : null}
      {airframe.motor
        ? sides.map((s) => (
            <path
              key={`p${s}`}
              strokeWidth={2.2}
              d={path(
                [
                  { x: airframe.motor?.x_m ?? 0, y: 0 },
                  { x: airframe.motor?.x_m ?? 0, y: (s * (airframe.motor?.propeller_diameter_m ?? 0)) / 2 },
                ],
                map,
                false,
              )}
            />
          ))
        : null}
    </g>
  );
}

/** The aeroplane from the left side, nose to the left. */
export function SideView({ airframe, map }: { airframe: Airframe; map: Map }) {
  const fin = finSide(airframe);
  const boom = (airframe.body.boom_y_m ?? 0) > 0;
  const wing = airframe.surfaces[0];
  const motor = airframe.motor;
  return (
    <g fill={PAPER} stroke={INK} strokeWidth={1.6} strokeLinejoin="round">
      {boom && wing && airframe.fin ? (
        <path
          strokeWidth={4}
          d={path(
            [
              { x: wing.x_m, y: wing.z_m - 0.005 },
              { x: airframe.fin.x_m + airframe.fin.root_chord_m * 0.9, y: airframe.fin.z_m + 0.01 },
            ],
            map,
            false,
          )}
        />
      ) : null}
      {fin ? <path d={path(fin.outline, map)} /> : null}
      {fin ? <path d={path(fin.rudder, map)} fill="none" strokeWidth={0.9} /> : null}
      <path d={path(bodySide(airframe), map, true, true)} />
      {wing && wing.z_m > airframe.body.height_m * 0.45 ? (
        <path
          d={path(
            [
              { x: wing.x_m + 0.02, y: airframe.body.height_m * 0.4 },
              { x: wing.x_m + 0.02, y: wing.z_m },
            ],
            map,
            false,
          )}
          strokeWidth={3}
        />
      ) : null}
      {airframe.surfaces.map((s) => (
        <path key={s.key} d={path(sectionSide(s), map, true, false)} />
      ))}
      {motor ? (
        <path
          strokeWidth={3}
          d={path(
            [
              { x: motor.x_m, y: motor.z_m + motor.propeller_diameter_m / 2 },
              { x: motor.x_m, y: motor.z_m - motor.propeller_diameter_m / 2 },
            ],
            map,
            false,
          )}
        />
      ) : null}
    </g>
  );
}
