import { useState } from "react";
import type { Travel } from "../../../api/client";
import { useSettings } from "../../../components/settings-context";
import { Curve } from "../../../drawing/controls/Curve";
import { LinkageDrawing } from "../../../drawing/controls/LinkageDrawing";
import { Figure, Findings, useDesk } from "./desk";
import { HoleSearch } from "./HoleSearch";

/** The linkage of one surface, moving with the slider: what it does, what binds, what the servo must hold. */
export function LinkageBoard() {
  const { answer, fitting } = useDesk();
  const found = answer.fittings.find((f) => f.role === fitting.role);
  const travel = found?.travel ?? null;
  return (
    <div>
      <h2 className="mb-1 text-lg first-letter:uppercase">{found?.name}</h2>
      {travel ? (
        <Moving key={fitting.role} travel={travel} />
      ) : (
        <p role="alert" className="sheet border-l-4 border-l-accent p-3 font-semibold text-accent">
          {found?.problem}
        </p>
      )}
      <HoleSearch key={`${fitting.role} holes`} />
    </div>
  );
}

function Moving({ travel }: { travel: Travel }) {
  const { answer, fitting } = useDesk();
  const { show } = useSettings();
  const [chosen, setChosen] = useState<number | null>(null);
  const last = travel.poses.length - 1;
  const at = Math.min(chosen ?? Math.floor(last / 2), last);
  const pose = travel.poses[at];
  const most = Math.max(...travel.poses.map((p) => Math.abs(p.servo_rad)), 1e-6);
  const high = Math.max(...travel.poses.map((p) => Math.abs(p.deflection_rad)), 1e-6);
  const ways = answer.fittings.find((f) => f.role === fitting.role);
  const [up, down] = [ways?.up ?? "", ways?.down ?? ""];
  return (
    <>
      <div className="grid items-center gap-2 lg:grid-cols-[1fr_14rem]">
        <div className="sheet">
          <LinkageDrawing fitting={fitting} travel={travel} at={at} />
        </div>
        <Curve
          label="Deflection over servo rotation"
          lines={[
            { name: "", points: travel.poses.map((p) => [p.servo_rad / most, p.deflection_rad / high] as const) },
          ]}
          ends={["servo", "servo", up, down]}
          {...(pose ? { mark: [pose.servo_rad / most, pose.deflection_rad / high] as const } : {})}
        />
      </div>
      <label className="my-2 flex items-center gap-3">
        <span className="shrink-0">Move the servo</span>
        <input
          type="range"
          className="range range-sm w-full"
          min={0}
          max={last}
          value={at}
          aria-valuetext={pose?.words}
          onChange={(e) => setChosen(Number(e.target.value))}
        />
        <button type="button" className="btn btn-sm" onClick={() => setChosen(null)}>
          Neutral
        </button>
      </label>
      <div className="flex flex-wrap gap-y-2" data-testid="travel">
        <Figure label={`most ${up}, ${show(travel.up_rad, "angle")}`}>{show(travel.up_m, "length", 1)}</Figure>
        <Figure label={`most ${down}, ${show(travel.down_rad, "angle")}`}>{show(travel.down_m, "length", 1)}</Figure>
        <Figure label={`one microsecond, ${show(travel.rad_per_us, "angle", 2)}`}>
          {show(travel.m_per_us, "length", 3)}
        </Figure>
        <Figure label="one click">{show(travel.m_per_click, "length", 2)}</Figure>
        <Figure label="left by the dead band">{show(travel.smallest_m, "length", 2)}</Figure>
        <Figure label="hinge torque over servo torque">{travel.advantage.toFixed(2)}</Figure>
        <Figure label={`of the stall torque, full throw at ${show(travel.speed_mps, "speed")}`}>
          {(travel.torque_share * 100).toFixed(0)} %
        </Figure>
        <Figure label="moment of the air at full throw">{show(travel.moment_nm, "torque", 1)}</Figure>
        {fitting.linkage.drive === "direct" ? null : (
          <>
            <Figure label="arm to rod at neutral">{show(travel.arm_to_rod_rad, "angle")}</Figure>
            <Figure label="rod, pin to pin">{show(travel.rod_m, "length", 1)}</Figure>
          </>
        )}
      </div>
      <Findings findings={travel.findings} none="Nothing binds, and the servo has torque to spare." />
      {answer.agreements
        .filter((a) => !a.agrees && !answer.started)
        .map((a) => (
          <p key={a.axis} className="my-1 border-l-4 border-l-base-300 pl-2">
            {a.words}
          </p>
        ))}
    </>
  );
}
