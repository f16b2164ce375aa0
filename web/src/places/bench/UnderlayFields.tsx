import { type KeyboardEvent, type PointerEvent, useId, useRef } from "react";
import { QuantityField } from "../../components/quantity/QuantityField";
import { useSettings } from "../../components/settings-context";
import { knownPoints, laid, type Place, type Underlay } from "../../domain/underlay";
import { Choice, useEditing } from "./editing";
import type { useUnderlay } from "./use-underlay";

interface Props {
  underlay: ReturnType<typeof useUnderlay>;
  /** Whether its two points are being set, on the picture itself. */
  setting: boolean;
  onSetting: (on: boolean) => void;
}

const ALONG = [
  ["body", "along the body, aft of it"],
  ["span", "square to the body, out to the right"],
] as const;

/** A photograph or a plan under the drawing: chosen, laid by two known points, taken away again. */
export function UnderlayFields({ underlay, setting, onSetting }: Props) {
  const { setup, readOnly } = useEditing();
  const { show } = useSettings();
  const input = useId();
  const { laid: how, trouble } = underlay;
  if (readOnly) return null;
  const found = how ? laid(how, setup.airframe) : null;
  return (
    <details className="mb-2 border-b border-base-300 pb-2" open={setting || undefined}>
      <summary className="cursor-pointer py-2">A photograph or a plan underneath</summary>
      <p className="text-sm">
        Taken from straight above and from far away, or a plan that lies flat. It is kept on this device only. Corners
        that are drawn after it count as read on a picture.
      </p>
      <p className="my-1 flex flex-wrap gap-2">
        <label htmlFor={input} className="btn min-h-11">
          {how ? "Choose another" : "Choose a picture"}
        </label>
        <input
          id={input}
          type="file"
          className="sr-only"
          accept="image/jpeg,image/png,image/webp"
          aria-label="Choose a picture to lie under the drawing"
          onChange={(e) => {
            const file = e.target.files?.[0];
            e.target.value = "";
            if (file) void underlay.read(file).then((ok) => ok && onSetting(true));
          }}
        />
        {how ? (
          <>
            <button type="button" className="btn min-h-11" aria-pressed={setting} onClick={() => onSetting(!setting)}>
              {setting ? "Back to the drawing" : "Set its two points"}
            </button>
            <button type="button" className="btn btn-ghost min-h-11" onClick={underlay.drop}>
              Take it away
            </button>
          </>
        ) : null}
      </p>
      {trouble ? (
        <p role="alert" className="font-semibold text-error">
          {trouble}
        </p>
      ) : null}
      {how ? <Points how={how} onChange={underlay.change} /> : null}
      {found ? (
        <p role="status" className={typeof found === "string" ? "font-semibold text-accent" : "text-sm"}>
          {typeof found === "string"
            ? found
            : `It lies: one pixel of it is ${show(found.metresPerPixel, "length", 2)} of the model.`}
        </p>
      ) : null}
    </details>
  );
}

function Points({ how, onChange }: { how: Underlay; onChange: (how: Underlay) => void }) {
  const { setup } = useEditing();
  const known = knownPoints(setup.airframe).map((k) => [k.key, k.words] as const);
  return (
    <div data-fields>
      <Choice
        label="Point 1 is"
        value={how.anchor}
        options={known}
        onChoose={(anchor) => onChange({ ...how, anchor })}
      />
      <Choice
        label="Point 2 lies from it"
        value={how.along}
        options={ALONG}
        onChoose={(along) => onChange({ ...how, along })}
      />
      <QuantityField
        label="How far apart, on the model"
        quantity="length"
        value={how.apart_m || null}
        onCommit={(apart_m) => onChange({ ...how, apart_m })}
      />
      <label>
        <input
          type="checkbox"
          className="checkbox"
          checked={how.mirrored}
          onChange={(e) => onChange({ ...how, mirrored: e.target.checked })}
        />
        Seen from below, or mirrored
      </label>
    </div>
  );
}

const ARROWS: Record<string, Place> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: -1 },
  ArrowDown: { x: 0, y: 1 },
};

/** The picture by itself, with its two points as handles: dragged, or moved by the arrow keys. */
export function UnderlayPoints({
  url,
  how,
  onChange,
}: {
  url: string;
  how: Underlay;
  onChange: (how: Underlay) => void;
}) {
  const svg = useRef<SVGSVGElement>(null);
  const held = useRef<"first" | "second" | null>(null);
  const put = (which: "first" | "second", p: Place) =>
    onChange({
      ...how,
      [which]: { x: Math.min(Math.max(p.x, 0), how.width), y: Math.min(Math.max(p.y, 0), how.height) },
    });
  const move = (e: PointerEvent) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box || !held.current) return;
    put(held.current, {
      x: ((e.clientX - box.left) / box.width) * how.width,
      y: ((e.clientY - box.top) / box.height) * how.height,
    });
  };
  const r = how.width / 60;
  return (
    // biome-ignore lint/a11y/useSemanticElements: a picture with handles is no part of a form
    <svg
      ref={svg}
      viewBox={`0 0 ${how.width} ${how.height}`}
      className="h-auto w-full select-none"
      role="group"
      aria-label="The picture with its two known points"
      data-testid="underlay-points"
    >
      <image href={url} width={how.width} height={how.height} />
      <path
        d={`M${how.first.x} ${how.first.y}L${how.second.x} ${how.second.y}`}
        stroke="var(--color-accent)"
        strokeWidth={r / 5}
      />
      {(["first", "second"] as const).map((which, i) => (
        <g key={which}>
          <path
            d={`M${how[which].x - r} ${how[which].y}h${2 * r}M${how[which].x} ${how[which].y - r}v${2 * r}`}
            stroke="var(--color-accent)"
            strokeWidth={r / 6}
          />
          {/* biome-ignore lint/a11y/useSemanticElements: a handle of a picture is no form control */}
          <circle
            role="button"
            tabIndex={0}
            aria-label={`Point ${i + 1}: arrow keys move it by a pixel, with shift by ten`}
            data-testid={`underlay-${which}`}
            cx={how[which].x}
            cy={how[which].y}
            r={r}
            fill="var(--color-base-100)"
            fillOpacity={0.25}
            stroke="var(--color-accent)"
            strokeWidth={r / 6}
            style={{ cursor: "move", touchAction: "none" }}
            onPointerDown={(e) => {
              held.current = which;
              e.currentTarget.setPointerCapture(e.pointerId);
            }}
            onPointerMove={move}
            onPointerUp={() => {
              held.current = null;
            }}
            onKeyDown={(e: KeyboardEvent) => {
              const way = ARROWS[e.key];
              if (!way) return;
              e.preventDefault();
              const step = e.shiftKey ? 10 : 1;
              put(which, { x: how[which].x + step * way.x, y: how[which].y + step * way.y });
            }}
          />
          <text
            x={how[which].x + 1.2 * r}
            y={how[which].y - 1.2 * r}
            fontSize={1.6 * r}
            fontWeight={700}
            fill="var(--color-accent)"
            stroke="var(--color-base-100)"
            strokeWidth={r / 4}
            paintOrder="stroke"
          >
            {i + 1}
          </text>
        </g>
      ))}
    </svg>
  );
}
