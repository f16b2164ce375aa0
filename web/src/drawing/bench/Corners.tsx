import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import type { Surface } from "../../api/client";
import { useSettings } from "../../components/settings-context";
import type { Point } from "../geometry";
import { type Corner, cornersOf, onGrid, snap, withCorner } from "./corners";

interface Props {
  surfaces: Surface[];
  plan: (p: Point) => Point;
  /** The place [m] under a pointer, in plan. */
  placeAt: (clientX: number, clientY: number) => Point;
  /** How far [m] a corner is drawn to a line others stand on. */
  reach: number;
  /** A corner is taken, or let go. */
  onHold: (held: boolean) => void;
  onMove: (surface: Surface) => void;
  onDrop: (surface: string) => void;
}

/** The corners of every panel as handles: drag them, or move them with the arrow keys. */
export function Corners({ surfaces, ...rest }: Props) {
  const all = surfaces.flatMap(cornersOf);
  return surfaces.map((surface) =>
    cornersOf(surface).map((corner) => (
      <Handle
        key={`${surface.key}${corner.edge}${corner.index}`}
        surface={surface}
        corner={corner}
        all={all}
        {...rest}
      />
    )),
  );
}

const ARROWS: Record<string, Point> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: 1 },
  ArrowDown: { x: 0, y: -1 },
};

function Handle({
  surface,
  corner,
  all,
  plan,
  placeAt,
  reach,
  onHold,
  onMove,
  onDrop,
}: Omit<Props, "surfaces"> & { surface: Surface; corner: Corner; all: Corner[] }) {
  const { show } = useSettings();
  const [held, setHeld] = useState(false);
  const holding = useRef(false);
  const p = plan(corner);
  const place =
    corner.index === 0 ? "root" : corner.index === surface.sections.length - 1 ? "tip" : `chord ${corner.index + 1}`;
  const chord = surface.sections[corner.index]?.chord_m ?? 0;
  const put = (x: number, y: number) => onMove(withCorner(surface, corner, x, y));
  const others = all.filter((c) => Math.hypot(c.x - corner.x, c.y - corner.y) > 1e-6);
  const let_go = () => {
    if (holding.current) onDrop(surface.key);
    holding.current = false;
    setHeld(false);
    onHold(false);
  };
  return (
    <g>
      {/* biome-ignore lint/a11y/useSemanticElements: a handle of a drawing is no form control */}
      <circle
        role="button"
        tabIndex={0}
        aria-label={`${surface.key}, ${place}, ${corner.edge} edge, ${show(corner.x, "length")} aft, ${show(corner.y, "length")} out, chord ${show(chord, "length")}: arrow keys move it by 1 mm, with shift by 10 mm`}
        data-testid={`corner-${surface.key}-${corner.index}-${corner.edge}`}
        cx={p.x}
        cy={p.y}
        r={held ? 9 : 6.5}
        fill="var(--color-base-100)"
        stroke="var(--color-accent)"
        strokeWidth={2}
        style={{ cursor: "move", touchAction: "none" }}
        onPointerDown={(e: PointerEvent<SVGCircleElement>) => {
          holding.current = true;
          setHeld(true);
          onHold(true);
          e.currentTarget.setPointerCapture(e.pointerId);
        }}
        onPointerMove={(e: PointerEvent) => {
          if (!holding.current) return;
          const at = placeAt(e.clientX, e.clientY);
          const grid = { x: onGrid(at.x, e.shiftKey), y: onGrid(at.y, e.shiftKey) };
          const x = snap(
            at.x,
            others.map((c) => c.x),
            reach,
          );
          const y = snap(
            at.y,
            others.map((c) => c.y),
            reach,
          );
          put(x === at.x ? grid.x : x, y === at.y ? grid.y : y);
        }}
        onPointerUp={let_go}
        onPointerCancel={let_go}
        onKeyDown={(e: KeyboardEvent) => {
          const way = ARROWS[e.key];
          if (!way) return;
          e.preventDefault();
          const step = e.shiftKey ? 0.01 : 0.001;
          put(corner.x + way.x * step, corner.y + way.y * step);
        }}
        onKeyUp={(e: KeyboardEvent) => {
          if (ARROWS[e.key]) onDrop(surface.key);
        }}
      />
      {held ? (
        <text
          x={p.x + 12}
          y={p.y < 40 ? p.y + 26 : p.y - 10}
          fontSize={14}
          fontWeight={700}
          fill="var(--color-accent)"
          stroke="var(--color-base-100)"
          strokeWidth={4}
          paintOrder="stroke"
        >
          {corner.index > 0 ? `${show(corner.y, "length")} out, ` : ""}chord {show(chord, "length")}
        </text>
      ) : null}
    </g>
  );
}
