import type { ReactNode } from "react";
import type { Airframe } from "../api/client";
import { boundsOf, motorsOf, type Point, path } from "./geometry";

interface Props {
  airframe: Airframe;
  /** Bank in degrees, right wing down positive, as seated in the cockpit. */
  bankDeg: number;
  inverted?: boolean;
  size?: number;
  /** Heights over widths: doubled where a dihedral of some degrees could not be seen at a small size. */
  heights?: number;
  /** Handles drawn over the level model; given the projection and its scale (units a metre upward). */
  handles?: (map: (p: Point) => Point, unitsPerMetre: number) => ReactNode;
}

/** The model from behind in an attitude, its lower wing drawn heavy; the left wing is on the left unless it is inverted. */
export function RearView({ airframe, bankDeg, inverted = false, size = 96, heights = 2, handles }: Props) {
  const half = Math.max(...airframe.surfaces.map((s) => s.sections.at(-1)?.y_m ?? 0));
  const scale = (size * 0.46) / half;
  const map = (p: Point) => ({ x: p.x * scale, y: -p.y * scale * heights });
  const body = airframe.body;
  const fin = airframe.fin;
  // Room for the model level, and for a wing that is banked.
  const { zMin, zMax } = boundsOf(airframe);
  const up = Math.max(0.18 * heights * size, (zMax * heights + 0.02) * scale);
  const down = Math.max(0.12 * heights * size, (-zMin * heights + 0.02) * scale);
  const turn = bankDeg + (inverted ? 180 : 0);
  return (
    // biome-ignore lint/a11y/noSvgWithoutTitle: decoration, or a labelled group of handles
    <svg
      viewBox={`${-size / 2} ${-up} ${size} ${up + down}`}
      width={size}
      height={up + down}
      className="mx-auto block max-w-full"
      {...(handles ? { role: "group", "aria-label": "The model from behind" } : { "aria-hidden": true })}
    >
      <path
        d={`M${-size / 2} 0H${size / 2}`}
        stroke="currentColor"
        strokeWidth={0.6}
        strokeDasharray="2 4"
        opacity={0.6}
      />
      <g transform={`rotate(${turn})`} stroke="currentColor" fill="none" strokeLinejoin="round">
        {airframe.surfaces.map((surface) =>
          [-1, 1].map((side) => (
            <path
              key={`${surface.key}${side}`}
              strokeWidth={surface !== airframe.surfaces[0] ? 1.6 : side * bankDeg > 0 ? 5 : 2.5}
              d={path(
                surface.sections.map((s) => ({ x: side * s.y_m, y: surface.z_m + (s.z_offset_m ?? 0) })),
                map,
                false,
              )}
            />
          )),
        )}
        {fin
          ? (fin.y_m ? [-1, 1] : [0]).map((side) => (
              <path
                key={side}
                strokeWidth={1.6}
                d={path(
                  [
                    { x: side * (fin.y_m ?? 0), y: fin.z_m },
                    { x: side * (fin.y_m ?? 0), y: fin.z_m + fin.height_m },
                  ],
                  map,
                  false,
                )}
              />
            ))
          : null}
        <Beside airframe={airframe} scale={scale} heights={heights} />
        <ellipse
          cx={0}
          cy={0}
          rx={Math.max((body.width_m / 2) * scale, 3.5)}
          ry={Math.max((body.height_m / 2) * scale * 0.7 * heights, 4.5)}
          fill="currentColor"
          stroke="none"
        />
        {handles?.(map, scale * heights)}
      </g>
    </svg>
  );
}

/** Nacelles, propellers off the centre line and wheels, from behind. */
function Beside({ airframe, scale, heights }: { airframe: Airframe; scale: number; heights: number }) {
  const { gear } = airframe;
  const pairs = (y: number) => (y > 0 ? [-1, 1] : [0]);
  return (
    <g>
      {(airframe.nacelles ?? []).flatMap((n) =>
        pairs(n.y_m ?? 0).map((side) => (
          <ellipse
            key={`n${n.nose_x_m}${n.y_m}${side}`}
            cx={side * (n.y_m ?? 0) * scale}
            cy={-(n.z_m ?? 0) * scale * heights}
            rx={(n.width_m / 2) * scale}
            ry={(n.height_m / 2) * scale * heights}
            fill="currentColor"
            stroke="none"
          />
        )),
      )}
      {motorsOf(airframe).flatMap((m) =>
        (m.y_m ?? 0) > 0
          ? pairs(m.y_m ?? 0).map((side) => (
              <ellipse
                key={`m${m.x_m}${side}`}
                cx={side * (m.y_m ?? 0) * scale}
                cy={-m.z_m * scale * heights}
                rx={(m.propeller_diameter_m / 2) * scale}
                ry={(m.propeller_diameter_m / 2) * scale * heights}
                strokeWidth={0.8}
                strokeDasharray="3 3"
              />
            ))
          : [],
      )}
      {gear
        ? [-1, 1].map((side) => (
            <path
              key={`w${side}`}
              strokeWidth={1.6}
              d={`M0 0L${side * gear.main_y_m * scale} ${-gear.ground_z_m * scale * heights - 8}v8`}
            />
          ))
        : null}
    </g>
  );
}
