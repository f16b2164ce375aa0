import type { Airframe } from "../api/client";
import { dashes, planEdges, SIDE_MEASURES, sideMeasures } from "./edges";
import {
  bodyHalfPlan,
  bodySide,
  controlPlan,
  finSide,
  halfPlan,
  motorsOf,
  type Point,
  path,
  sectionSide,
  sidesOf,
} from "./geometry";

type Map = (p: Point) => Point;

const NONE: ReadonlySet<string> = new Set();

const INK = "var(--color-base-content)";
const PAPER = "var(--color-base-100)";

/**
 * The aeroplane in plan; `half` draws the right half above the centre line, as workshop drawings do. Of a half, what rests on
 * `guessed` measures is dotted.
 */
export function PlanView({
  airframe,
  map,
  half = false,
  guessed = NONE,
  clear = false,
}: {
  airframe: Airframe;
  map: Map;
  half?: boolean;
  guessed?: ReadonlySet<string>;
  /** What lies underneath is seen through it. */
  clear?: boolean;
}) {
  const sides = half ? [1] : [1, -1];
  const boom = airframe.body.boom_y_m ?? 0;
  const fin = airframe.fin;
  const body = bodyHalfPlan(airframe.body);
  const outline = [...body, ...[...body].reverse().map((p) => ({ x: p.x, y: half ? 0 : -p.y }))];
  const rear = Math.max(...airframe.surfaces.map((s) => s.x_m + (s.sections[0]?.chord_m ?? 0) * 0.9));
  const wing = airframe.surfaces[0];
  return (
    <g
      fill={clear ? "none" : PAPER}
      stroke={INK}
      strokeWidth={1.6}
      strokeLinejoin="round"
      strokeLinecap="round"
      data-model
    >
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
      {airframe.surfaces.map((surface, index) => (
        <g key={surface.key}>
          {sides.map((s) => (
            <path
              key={s}
              stroke={half ? "none" : undefined}
              d={path(
                halfPlan(surface).map((p) => ({ x: p.x, y: s * p.y })),
                map,
              )}
            />
          ))}
          {half
            ? planEdges(surface, index).map(({ a, b, measures }) => (
                <path
                  key={measures.join()}
                  d={path([a, b], map, false)}
                  strokeDasharray={dashes(measures, guessed)}
                  data-guessed={dashes(measures, guessed) ? "yes" : undefined}
                />
              ))
            : null}
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
      {(airframe.nacelles ?? []).flatMap((n) =>
        sidesOf(n, half).map((s) => <path key={`${n.nose_x_m}${n.y_m}${s}`} d={nacellePath(n, s, map)} />),
      )}
      <path d={path(outline, map, true, true)} strokeDasharray={dashes(SIDE_MEASURES.body, guessed)} />
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
      {motorsOf(airframe).flatMap((m) => {
        const y = m.y_m ?? 0;
        const r = m.propeller_diameter_m / 2;
        const inner = half && y === 0 ? 0 : -r;
        return sidesOf(m, half).map((s) => (
          <path
            key={`p${m.x_m}${y}${s}`}
            strokeDasharray={dashes(SIDE_MEASURES.motor, guessed)}
            strokeWidth={2.2}
            d={path(
              [
                { x: m.x_m, y: s * y + inner },
                { x: m.x_m, y: s * y + r },
              ],
              map,
              false,
            )}
          />
        ));
      })}
    </g>
  );
}

function nacellePath(body: Airframe["body"], side: number, map: Map): string {
  const edge = bodyHalfPlan(body);
  const y = side * (body.y_m ?? 0);
  const outline = [
    ...edge.map((p) => ({ x: p.x, y: y + p.y })),
    ...[...edge].reverse().map((p) => ({ x: p.x, y: y - p.y })),
  ];
  return path(outline, map, true, true);
}

/** The aeroplane from the left side, nose to the left; what rests on `guessed` measures is dotted. */
export function SideView({
  airframe,
  map,
  guessed = NONE,
}: {
  airframe: Airframe;
  map: Map;
  guessed?: ReadonlySet<string>;
}) {
  const fin = finSide(airframe);
  const boom = (airframe.body.boom_y_m ?? 0) > 0;
  const wing = airframe.surfaces[0];
  return (
    <g fill={PAPER} stroke={INK} strokeWidth={1.6} strokeLinejoin="round" strokeLinecap="round" data-model>
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
      {fin ? <path d={path(fin.outline, map)} strokeDasharray={dashes(SIDE_MEASURES.fin, guessed)} /> : null}
      {fin ? <path d={path(fin.rudder, map)} fill="none" strokeWidth={0.9} /> : null}
      <Wheels airframe={airframe} map={map} dotted={dashes(SIDE_MEASURES.gear, guessed)} />
      <path d={path(bodySide(airframe.body), map, true, true)} strokeDasharray={dashes(SIDE_MEASURES.body, guessed)} />
      {(airframe.nacelles ?? []).map((n) => (
        <path key={`n${n.nose_x_m}${n.y_m}`} d={path(bodySide(n), map, true, true)} />
      ))}
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
      {airframe.surfaces.map((s, i) => (
        <path
          key={s.key}
          d={path(sectionSide(s), map, true, false)}
          strokeDasharray={dashes(sideMeasures(i), guessed)}
        />
      ))}
      {motorsOf(airframe).map((m) => (
        <path
          key={`p${m.x_m}${m.y_m}`}
          strokeDasharray={dashes(SIDE_MEASURES.motor, guessed)}
          strokeWidth={3}
          d={path(
            [
              { x: m.x_m, y: m.z_m + m.propeller_diameter_m / 2 },
              { x: m.x_m, y: m.z_m - m.propeller_diameter_m / 2 },
            ],
            map,
            false,
          )}
        />
      ))}
    </g>
  );
}

/** Legs and wheels from the side, standing on the ground line. */
function Wheels({ airframe, map, dotted }: { airframe: Airframe; map: Map; dotted: string | undefined }) {
  const gear = airframe.gear;
  if (!gear) return null;
  const ground = gear.ground_z_m;
  const wheel = (x: number, radius: number) => {
    const axle = map({ x, y: ground + radius });
    const foot = map({ x, y: ground });
    const top = map({ x, y: 0 });
    return (
      <g key={x} strokeDasharray={dotted}>
        <path d={`M${top.x} ${top.y}L${axle.x} ${axle.y}`} strokeWidth={1.2} />
        <circle cx={axle.x} cy={axle.y} r={Math.max(foot.y - axle.y, 3)} />
      </g>
    );
  };
  return (
    <g>
      {wheel(gear.main_x_m, 0.03)}
      {wheel(gear.third_x_m, gear.third_x_m < gear.main_x_m ? 0.025 : 0.012)}
    </g>
  );
}
