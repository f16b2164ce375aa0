// @vitest-environment happy-dom
import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";
import type { Airframe, SaturationMap } from "../../api/client";
import { DirectionView } from "./DirectionView";
import { MountDrawing } from "./MountDrawing";
import { SaturationSquare } from "./SaturationSquare";

afterEach(cleanup);

const airframe = {
  surfaces: [
    {
      key: "wing",
      role: "wing",
      x_m: 0,
      z_m: 0,
      sections: [
        { y_m: 0, x_offset_m: 0, chord_m: 0.2 },
        { y_m: 0.7, x_offset_m: 0, chord_m: 0.2 },
      ],
    },
    {
      key: "tail",
      role: "tail",
      x_m: 0.7,
      z_m: 0.05,
      sections: [
        { y_m: 0, x_offset_m: 0, chord_m: 0.1 },
        { y_m: 0.2, x_offset_m: 0, chord_m: 0.1 },
      ],
    },
  ],
  body: { nose_x_m: -0.2, length_m: 1, width_m: 0.1, height_m: 0.1 },
  fin: { x_m: 0.7, z_m: 0.05, height_m: 0.1, root_chord_m: 0.1, tip_chord_m: 0.1, sweep_offset_m: 0 },
} as unknown as Airframe;

const move = (role: string, way: string) => ({ role, name: role.replace("_", " "), way, deflection_rad: 0.2 });

/** The first point of a flag: which side of the centre line it hangs on, and whether it stands above or below its hinge. */
function flags(container: HTMLElement) {
  return Array.from(container.querySelectorAll("path.fill-info")).map((p) => {
    const n = (p.getAttribute("d") ?? "").match(/-?[\d.]+/g)?.map(Number) ?? [];
    return { x: ((n[0] ?? 0) + (n[2] ?? 0)) / 2, up: (n[5] ?? 0) < (n[3] ?? 0) };
  });
}

it("draws the left aileron on the left and up above the wing, seen from behind", () => {
  const { container } = render(
    <DirectionView airframe={airframe} moves={[move("left_aileron", "up"), move("right_aileron", "down")]} />,
  );
  const [left, right] = flags(container);
  expect(left?.x).toBeLessThan(210);
  expect(left?.up).toBe(true);
  expect(right?.x).toBeGreaterThan(210);
  expect(right?.up).toBe(false);
  expect(screen.getByRole("img", { name: "From behind: left aileron up, right aileron down" })).toBeTruthy();
});

it("swings the rudder's flag to the side it goes", () => {
  for (const [way, sign] of [
    ["left", -1],
    ["right", 1],
  ] as const) {
    const { container, unmount } = render(<DirectionView airframe={airframe} moves={[move("rudder", way)]} />);
    const across = Number(/h(-?\d+)/.exec(container.querySelector("path.fill-info")?.getAttribute("d") ?? "")?.[1]);
    expect(Math.sign(across)).toBe(sign);
    unmount();
  }
});

it("says that nothing moves for the throttle", () => {
  render(<DirectionView airframe={airframe} moves={[]} />);
  expect(screen.getByText("no surface moves")).toBeTruthy();
});

it("hatches the corners of the stick box where they are cut, the bottom row at the bottom", () => {
  const map = {
    across: "roll",
    up: "pitch",
    rows: [
      [1, 0],
      [0, 0],
    ],
    cut_share: 0.25,
    across_left_at_full_up: 1,
    up_left_at_full_across: 1,
  } as SaturationMap;
  const { container } = render(
    <SaturationSquare map={map} words={{ left: "l", right: "r", bottom: "b", top: "t" }} label="box" />,
  );
  const cut = container.querySelector('path[fill="url(#cut-left)"]')?.getAttribute("d") ?? "";
  const y = Number(/M[\d.]+ ([\d.]+)/.exec(cut)?.[1]);
  expect(y).toBeGreaterThan(100);
});

const shim = (where: string) => ({
  thickness_m: 0.0009,
  tilt_rad: 0.036,
  where,
  effect: "nose_down" as const,
  words: "washers",
});

it("tilts the forward end the way that is said, for a motor in front and one behind", () => {
  const turn = (c: HTMLElement) =>
    Number(/rotate\((-?[\d.]+)/.exec(c.querySelector("g")?.getAttribute("transform") ?? "")?.[1]);
  // The nose is on the left of the sheet: a counter-clockwise turn (negative) lowers the forward end, whichever side the motor is on.
  for (const facesAft of [false, true]) {
    const { container, unmount } = render(
      <MountDrawing
        tilt="down"
        facesAft={facesAft}
        shimmed={shim("under the upper bolts")}
        spacing_m={0.025}
        now_rad={0}
      />,
    );
    expect(turn(container)).toBeLessThan(0);
    unmount();
  }
});
