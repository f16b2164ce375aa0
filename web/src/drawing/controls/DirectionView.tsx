import type { Airframe, WalkStep } from "../../api/client";

type Move = WalkStep["moves"][number];

const W = 420;
const H = 230;

interface Place {
  x: number;
  y: number;
  across: number;
  lean: number;
}

/**
 * The model from behind, its moving surfaces as flaps that have swung: filled above the hinge line for up, below for down,
 * with an arrow the way the trailing edge goes. Surfaces that stay are not drawn as moving. The left wing is on the left.
 */
export function DirectionView({ airframe, moves }: { airframe: Airframe; moves: readonly Move[] }) {
  const wing = airframe.surfaces.find((s) => s.role === "wing") ?? airframe.surfaces[0];
  const tail = airframe.surfaces.find((s) => s.role !== "wing");
  const half = wing?.sections.at(-1)?.y_m ?? 1;
  const scale = (W * 0.44) / half;
  const rise = (wing?.sections.at(-1)?.z_offset_m ?? 0) * scale;
  const wingY = 150;
  const tailHalf = Math.max((tail?.sections.at(-1)?.y_m ?? 0.3 * half) * scale, 46);
  const tailRise = (tail?.sections.at(-1)?.z_offset_m ?? 0) * scale;
  const tailY = 78;
  const finTop = 22;
  const left = moves.map((m) => m.role);
  const words = moves.map((m) => `${m.name} ${m.way}`).join(", ");
  const wingAt = (side: number, share: number): Place => ({
    x: W / 2 + side * share * half * scale,
    y: wingY - share * rise,
    across: 0.26 * half * scale,
    lean: (-side * rise) / (half * scale),
  });
  const tailAt = (side: number): Place => ({
    x: W / 2 + side * 0.58 * tailHalf,
    y: tailY - 0.58 * tailRise,
    across: 0.33 * tailHalf,
    lean: (-side * tailRise) / tailHalf,
  });
  const place = (role: string): Place => {
    const side = role.startsWith("left") ? -1 : 1;
    if (role.endsWith("v_tail")) return tailAt(side);
    if (role.endsWith("flap")) return wingAt(side, 0.35);
    return wingAt(side, 0.66);
  };
  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      className="block w-full"
      role="img"
      aria-label={`From behind: ${words || "no surface moves"}`}
    >
      <g className="stroke-base-content" fill="none" strokeLinecap="round">
        <path
          d={`M${W / 2 - half * scale} ${wingY - rise}L${W / 2} ${wingY}L${W / 2 + half * scale} ${wingY - rise}`}
          strokeWidth={4}
        />
        <ellipse cx={W / 2} cy={wingY - 6} rx={15} ry={24} className="fill-base-100" strokeWidth={2} />
        {tail ? (
          <path
            d={`M${W / 2 - tailHalf} ${tailY - tailRise}L${W / 2} ${tailY}L${W / 2 + tailHalf} ${tailY - tailRise}`}
            strokeWidth={3}
          />
        ) : null}
        {airframe.fin ? <path d={`M${W / 2} ${tailY + 45}V${finTop}`} strokeWidth={3} /> : null}
      </g>
      {left.length === 0 ? (
        <text x={W / 2} y={H - 20} textAnchor="middle" className="fill-base-content text-[18px]">
          no surface moves
        </text>
      ) : null}
      {moves.map((m) =>
        m.role === "rudder" ? (
          <RudderFlag key={m.role} way={m.way} x={W / 2} top={finTop} bottom={tailY - 6} />
        ) : m.role === "elevator" || m.role === "foreplane" ? (
          [-1, 1].map((side) => <Flag key={`${m.role}${side}`} place={tailAt(side)} way={m.way} />)
        ) : (
          <Flag key={m.role} place={place(m.role)} way={m.way} />
        ),
      )}
      <text x={8} y={H - 8} className="fill-base-content text-[14px]">
        left wing
      </text>
      <text x={W - 8} y={H - 8} textAnchor="end" className="fill-base-content text-[14px]">
        right wing
      </text>
    </svg>
  );
}

function Flag({ place, way }: { place: Place; way: string }) {
  const sign = way === "up" ? -1 : 1;
  const { x, y, across } = place;
  const lean = (dx: number) => y + dx * place.lean;
  return (
    <g>
      <path
        d={`M${x - across} ${lean(-across)}L${x + across} ${lean(across)}L${x + across} ${lean(across) + sign * 20}L${x - across} ${lean(-across) + sign * 20}Z`}
        className="fill-info stroke-base-content"
        strokeWidth={1.5}
      />
      <path
        d={`M${x} ${y + sign * 24}v${sign * 22}m-7 ${-sign * 9}l7 ${sign * 9}l7 ${-sign * 9}`}
        className="stroke-base-content"
        fill="none"
        strokeWidth={3}
      />
      <text x={x + 14} y={y + sign * 40 + 5} className="fill-base-content text-[16px] font-semibold">
        {way}
      </text>
    </g>
  );
}

function RudderFlag({ way, x, top, bottom }: { way: string; x: number; top: number; bottom: number }) {
  const sign = way === "left" ? -1 : 1;
  const y = (top + bottom) / 2;
  return (
    <g>
      <path
        d={`M${x} ${top}h${sign * 18}V${bottom}H${x}Z`}
        className="fill-info stroke-base-content"
        strokeWidth={1.5}
      />
      <path
        d={`M${x + sign * 22} ${y}h${sign * 24}m${-sign * 9} -7l${sign * 9} 7l${-sign * 9} 7`}
        className="stroke-base-content"
        fill="none"
        strokeWidth={3}
      />
      <text
        x={x + sign * 54}
        y={y + 5}
        textAnchor={sign < 0 ? "end" : "start"}
        className="fill-base-content text-[16px] font-semibold"
      >
        {way}
      </text>
    </g>
  );
}
