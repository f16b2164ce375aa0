import type { Configuration } from "../api/client";
import { useSettings } from "../components/settings-context";
import { boundsOf, type Point } from "./geometry";
import { SideView } from "./views";

const W = 640;
const H = 210;

/** The change as blue pencil over ink: what moves, from where to where. */
export function ChangeDrawing({ before, after }: { before: Configuration; after: Configuration }) {
  const { show } = useSettings();
  const b = boundsOf(before.airframe);
  const scale = Math.min((W - 40) / (b.xMax - b.xMin), (H - 70) / (b.zMax - b.zMin));
  const left = (W - scale * (b.xMax - b.xMin)) / 2;
  const zero = H / 2 - 6 + ((b.zMax + b.zMin) / 2) * scale;
  const map = (p: Point) => ({ x: left + (p.x - b.xMin) * scale, y: zero - p.y * scale });
  const moved = after.items.flatMap((item) => {
    const old = before.items.find((i) => i.key === item.key);
    return old && Math.abs(old.x_m - item.x_m) > 5e-4 ? [{ item, from: old.x_m }] : [];
  });
  const added = after.items.filter((i) => !before.items.some((o) => o.key === i.key));
  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      className="sheet h-auto w-full"
      role="img"
      aria-label={
        [...moved.map((m) => `${m.item.name} moves`), ...added.map((a) => `${a.name} added`)].join(", ") ||
        "no change of balance"
      }
    >
      <SideView airframe={before.airframe} map={map} />
      {moved.map(({ item, from }) => {
        const a = map({ x: from, y: item.z_m ?? 0 });
        const c = map({ x: item.x_m, y: item.z_m ?? 0 });
        const way = item.x_m > from ? "aft" : "forward";
        return (
          <g key={item.key} stroke="var(--color-info)" fill="none">
            <rect x={a.x - 16} y={a.y - 9} width={32} height={18} stroke="currentColor" strokeDasharray="3 3" />
            <rect x={c.x - 16} y={c.y - 9} width={32} height={18} strokeWidth={2.5} fill="var(--color-base-100)" />
            <path
              d={`M${a.x} ${a.y + 18}H${c.x}m${item.x_m > from ? "-7 -5l7 5-7 5" : "7 -5l-7 5 7 5"}`}
              strokeWidth={2.5}
            />
            <text
              x={Math.min(Math.max(c.x, 72), W - 72)}
              y={c.y + 38}
              className="text-[15px] max-md:text-[20px]"
              fontWeight={700}
              textAnchor="middle"
              stroke="var(--color-base-100)"
              strokeWidth={4}
              paintOrder="stroke"
              fill="var(--color-info)"
            >
              {show(Math.abs(item.x_m - from), "length")} {way}
            </text>
          </g>
        );
      })}
      {added.map((item, i) => {
        const p = map({ x: item.x_m, y: item.z_m ?? 0 });
        return (
          <g key={item.key} stroke="var(--color-info)">
            <path d={`M${p.x} ${p.y}V${H - 34 - i * 18}`} strokeWidth={1.5} />
            <text
              x={Math.min(Math.max(p.x, 70), W - 110)}
              y={H - 18 - i * 18}
              className="text-[15px] max-md:text-[20px]"
              fontWeight={700}
              stroke="none"
              fill="var(--color-info)"
              textAnchor="middle"
            >
              {show(item.mass_kg, "mass")} {item.name.replace(/^Ballast,? /, "")}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
