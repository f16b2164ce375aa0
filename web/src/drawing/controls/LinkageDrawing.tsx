import type { Fitting, Travel } from "../../api/client";

type Pose = Travel["poses"][number];

interface Props {
  fitting: Fitting;
  travel: Travel;
  /** Which of the poses is drawn in ink; the two ends are drawn dashed. */
  at: number;
}

const WIDTH = 520;
const MOST_HEIGHT = 280;
/** Room above and below for words. */
const WORDS = 44;

/** Servo arm, rod, horn and surface to scale, seen from the side: trailing edge to the right, up is up. */
export function LinkageDrawing({ fitting, travel, at }: Props) {
  const { linkage } = fitting;
  const pose = travel.poses[at];
  const first = travel.poses[0];
  const last = travel.poses.at(-1);
  if (!pose || !first || !last) return null;
  const direct = linkage.drive === "direct";
  const hinge = direct ? { x: 0, y: 0 } : { x: linkage.distance_m, y: linkage.rise_m };
  const rudder = fitting.role === "rudder";
  const reach = {
    left: direct ? -1.15 * fitting.chord_m : -1.4 * linkage.arm_m - 0.01,
    right: hinge.x + fitting.chord_m * 1.05,
  };
  const swing = Math.max(...[first, last].map((p) => Math.abs(Math.sin(p.deflection_rad))));
  const tall = 1.15 * Math.max(linkage.arm_m, linkage.horn_m, swing * fitting.chord_m) + Math.abs(linkage.rise_m);
  const scale = Math.min((WIDTH - 30) / (reach.right - reach.left), (MOST_HEIGHT - 2 * WORDS) / (2 * tall));
  const height = Math.max(2 * tall * scale + 2 * WORDS, 150);
  const px = (x: number) => 15 + (x - reach.left) * scale;
  const py = (y: number) => height / 2 - y * scale;
  const edge = (p: Pose) => ({
    x: px(hinge.x + fitting.chord_m * Math.cos(p.deflection_rad)),
    y: py(hinge.y - fitting.chord_m * Math.sin(p.deflection_rad)),
  });
  const thick = Math.max(0.09 * fitting.chord_m, 0.002);
  // Two cables have pins below as well: words stand clear of them.
  const below = (arm: number, depth = 0) => Math.max(26 + depth, linkage.drive === "pull_pull" ? arm * scale + 20 : 0);
  const bar = barLength(scale);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${height.toFixed(0)}`}
      className="block w-full"
      role="img"
      aria-label={`Linkage of the ${fitting.role.replaceAll("_", " ")}: ${pose.words}`}
      data-testid="linkage"
    >
      {/* the fixed surface ahead of the hinge, and where the surface is fair */}
      <path
        d={`M${px(hinge.x - 1.1 * fitting.chord_m)} ${py(hinge.y + thick)}L${px(hinge.x)} ${py(hinge.y + thick * 0.7)}
            M${px(hinge.x - 1.1 * fitting.chord_m)} ${py(hinge.y - thick)}L${px(hinge.x)} ${py(hinge.y - thick * 0.7)}`}
        className="stroke-secondary"
        fill="none"
        strokeWidth={1}
      />
      <path
        d={`M${px(hinge.x)} ${py(hinge.y)}H${px(hinge.x + fitting.chord_m * 1.05)}`}
        className="stroke-secondary"
        strokeDasharray="6 3 1 3"
        strokeWidth={0.8}
      />
      {[first, last].map((p) => (
        <path
          key={p.servo_rad}
          d={`M${px(hinge.x)} ${py(hinge.y)}L${edge(p).x} ${edge(p).y}`}
          className="stroke-info"
          strokeDasharray="5 4"
          strokeWidth={1.4}
        />
      ))}
      <SurfaceShape x={px(hinge.x)} y={py(hinge.y)} chord={fitting.chord_m * scale} thick={thick * scale} pose={pose} />
      {direct ? null : <Rods fitting={fitting} pose={pose} hinge={hinge} px={px} py={py} />}
      <circle
        cx={px(hinge.x)}
        cy={py(hinge.y)}
        r={3.5}
        className="fill-base-100 stroke-base-content"
        strokeWidth={1.5}
      />
      <rect
        x={px(0) - 0.5 * Math.max(0.016 * scale, 18)}
        y={py(0) - 9}
        width={Math.max(0.016 * scale, 18)}
        height={18}
        className="fill-none stroke-base-content"
        strokeWidth={1}
      />
      <text x={px(0)} y={py(0) + below(linkage.arm_m)} textAnchor="middle" className="fill-base-content text-[16px]">
        servo
      </text>
      <text
        x={px(hinge.x)}
        y={py(hinge.y) + below(linkage.horn_m, thick * scale)}
        textAnchor="middle"
        className="fill-base-content text-[16px]"
      >
        {direct ? "" : "hinge"}
      </text>
      <text x={WIDTH - 8} y={20} textAnchor="end" className="fill-base-content text-[17px] font-semibold">
        {pose.words}
      </text>
      <path d={`M12 16v-6h${bar.metres * scale}v6`} className="stroke-base-content" fill="none" strokeWidth={1} />
      <text x={12 + bar.metres * scale + 6} y={16} className="fill-base-content text-[16px]">
        {bar.words}
        {rudder ? ", seen from above" : ", seen from the left"}
      </text>
    </svg>
  );
}

function SurfaceShape({
  x,
  y,
  chord,
  thick,
  pose,
}: {
  x: number;
  y: number;
  chord: number;
  thick: number;
  pose: Pose;
}) {
  const degrees = (pose.deflection_rad * 180) / Math.PI;
  return (
    <path
      d={`M${x} ${y - thick * 0.7}L${x + chord} ${y}L${x} ${y + thick * 0.7}Z`}
      transform={`rotate(${degrees} ${x} ${y})`}
      className="fill-base-300 stroke-base-content"
      strokeWidth={1.6}
      strokeLinejoin="round"
    />
  );
}

interface RodProps {
  fitting: Fitting;
  pose: Pose;
  hinge: { x: number; y: number };
  px: (x: number) => number;
  py: (y: number) => number;
}

function Rods({ fitting, pose, hinge, px, py }: RodProps) {
  const cables = fitting.linkage.drive === "pull_pull";
  const other = {
    ax: -pose.arm_x_m,
    ay: -pose.arm_y_m,
    hx: 2 * hinge.x - pose.horn_x_m,
    hy: 2 * hinge.y - pose.horn_y_m,
  };
  return (
    <g className="stroke-base-content" fill="none" strokeLinecap="round">
      <path d={`M${px(0)} ${py(0)}L${px(pose.arm_x_m)} ${py(pose.arm_y_m)}`} strokeWidth={5} />
      <path d={`M${px(hinge.x)} ${py(hinge.y)}L${px(pose.horn_x_m)} ${py(pose.horn_y_m)}`} strokeWidth={4} />
      <path
        d={`M${px(pose.arm_x_m)} ${py(pose.arm_y_m)}L${px(pose.horn_x_m)} ${py(pose.horn_y_m)}`}
        strokeWidth={cables ? 1 : 2}
      />
      {cables ? (
        <>
          <path d={`M${px(0)} ${py(0)}L${px(other.ax)} ${py(other.ay)}`} strokeWidth={5} />
          <path d={`M${px(hinge.x)} ${py(hinge.y)}L${px(other.hx)} ${py(other.hy)}`} strokeWidth={4} />
          <path
            d={`M${px(other.ax)} ${py(other.ay)}L${px(other.hx)} ${py(other.hy)}`}
            strokeWidth={1}
            strokeDasharray="4 3"
          />
        </>
      ) : null}
      {[
        [pose.arm_x_m, pose.arm_y_m],
        [pose.horn_x_m, pose.horn_y_m],
      ].map(([x, y]) => (
        <circle key={`${x}${y}`} cx={px(x ?? 0)} cy={py(y ?? 0)} r={3} className="fill-base-100" strokeWidth={1.4} />
      ))}
    </g>
  );
}

/** A round bar of the scale: 10, 20 or 50 mm, about a tenth of the sheet. */
function barLength(scale: number): { metres: number; words: string } {
  const mm = [5, 10, 20, 50, 100].find((m) => (m / 1000) * scale > 50) ?? 200;
  return { metres: mm / 1000, words: `${mm} mm` };
}
