import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import type { Surface } from "../../api/client";
import { useSettings } from "../../components/settings-context";
import type { Point } from "../geometry";
import { onGrid } from "./corners";

interface Props {
  surfaces: Surface[];
  map: (p: Point) => Point;
  /** Metres per unit of the drawing, upward. */
  scale: number;
  onRise: (surface: string, index: number, z_offset_m: number) => void;
}

/** Handles on the view from behind: how high each chord lies over the root, dragged or moved with the arrow keys. */
export function RiseHandles({ surfaces, ...rest }: Props) {
  return surfaces.flatMap((surface) =>
    surface.sections.flatMap((section, i) =>
      i === 0 ? [] : [<Handle key={`${surface.key}${section.y_m}`} surface={surface} index={i} {...rest} />],
    ),
  );
}

const STEPS: Record<string, number> = { ArrowUp: 1, ArrowDown: -1 };

function Handle({ surface, index, map, scale, onRise }: Omit<Props, "surfaces"> & { surface: Surface; index: number }) {
  const { show } = useSettings();
  const section = surface.sections[index];
  const stored = section?.z_offset_m ?? 0;
  const [rise, setRise] = useState<number | null>(null);
  const from = useRef<{ y: number; rise: number } | null>(null);
  const now = rise ?? stored;
  const p = map({ x: section?.y_m ?? 0, y: surface.z_m + now });
  const place = index === surface.sections.length - 1 ? "tip" : `chord ${index + 1}`;
  const done = (value: number) => {
    from.current = null;
    setRise(null);
    if (value !== stored) onRise(surface.key, index, value);
  };
  return (
    <g>
      <circle
        role="slider"
        tabIndex={0}
        aria-label={`${surface.key}, ${place}: rise over the root; arrow keys move it by 1 mm, with shift by 10 mm`}
        aria-valuenow={Math.round(now * 1000)}
        aria-valuetext={`${show(Math.abs(now), "length")} ${now < 0 ? "below" : "above"} the root`}
        data-testid={`rise-${surface.key}-${index}`}
        cx={p.x}
        cy={p.y}
        r={6}
        fill="var(--color-base-100)"
        stroke="var(--color-accent)"
        strokeWidth={2}
        style={{ cursor: "ns-resize", touchAction: "none" }}
        onPointerDown={(e: PointerEvent<SVGCircleElement>) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          from.current = { y: e.clientY, rise: stored };
        }}
        onPointerMove={(e: PointerEvent<SVGCircleElement>) => {
          if (!from.current) return;
          const svg = e.currentTarget.ownerSVGElement;
          const box = svg?.getBoundingClientRect();
          const units = box && svg && box.height > 0 ? svg.viewBox.baseVal.height / box.height : 1;
          setRise(onGrid(from.current.rise + (from.current.y - e.clientY) * units * scale, e.shiftKey));
        }}
        onPointerUp={() => done(now)}
        onPointerCancel={() => done(stored)}
        onKeyDown={(e: KeyboardEvent) => {
          const step = STEPS[e.key];
          if (!step) return;
          e.preventDefault();
          setRise(Math.round((now + (step * (e.shiftKey ? 10 : 1)) / 1000) * 1e4) / 1e4);
        }}
        onKeyUp={(e: KeyboardEvent) => {
          if (STEPS[e.key]) done(now);
        }}
      />
      {rise !== null ? (
        <text
          x={p.x}
          y={p.y - 12}
          textAnchor="end"
          fontSize={13}
          fontWeight={700}
          stroke="none"
          fill="var(--color-accent)"
        >
          {show(now, "length")}
        </text>
      ) : null}
    </g>
  );
}
