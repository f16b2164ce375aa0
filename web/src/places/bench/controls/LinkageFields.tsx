import type { Fitting } from "../../../api/client";
import { useSquareArm } from "../../../queries/controls";
import { Choice, Group, SmallButton, Tick, useEdit } from "../editing";
import { AddSurface } from "./AddSurface";
import { SetupNumber, useDesk, usePut, WayNumber, withFitting } from "./desk";

const DRIVES = [
  ["rod", "push-rod"],
  ["torque_rod", "torque rod in the hinge line"],
  ["pull_pull", "two cables, pull and pull"],
  ["direct", "servo in the hinge line"],
] as const;

// Pitch of ISO metric coarse threads (ISO 261) and of 0-80, 2-56 and 4-40 (ASME B1.1).
const THREADS = [
  ["0.0004", "M2, 0.4 mm"],
  ["0.00045", "M2.5, 0.45 mm"],
  ["0.0005", "M3, 0.5 mm"],
  ["0.0003175", "0-80, 80 per inch"],
  ["0.00045357", "2-56, 56 per inch"],
  ["0.000635", "4-40, 40 per inch"],
] as const;

const SIDES = [
  ["above", "above"],
  ["below", "below"],
] as const;

const TOWARDS = ["to the rear", "to the front"] as const;

type LinkageKey = "arm_m" | "horn_m" | "distance_m" | "stop_rad";
type FittingKey = "chord_m" | "span_m" | "channel" | "end_point_up" | "end_point_down";

/** The measures of one surface's linkage and servo, and which surfaces there are. */
export function LinkageFields() {
  const { answer, fitting, choose, modelId } = useDesk();
  const { readOnly } = useEdit();
  const put = usePut();
  const square = useSquareArm(modelId);
  const set = (change: (f: Fitting) => Fitting, words: string) => put(withFitting(fitting.role, change), words);
  const ways = answer.fittings.find((f) => f.role === fitting.role);
  const name = ways?.name ?? fitting.role;
  const { linkage } = fitting;
  const rod = linkage.drive !== "direct";
  const twin = twinOf(fitting.role, answer.setup.fittings);
  return (
    <div>
      <p className="mb-2 text-sm font-semibold text-accent">Propeller off, or the motor disconnected.</p>
      <label className="flex items-center justify-between gap-2 py-1">
        <span className="font-semibold">Surface</span>
        <select
          className="select select-sm w-52 text-base"
          value={fitting.role}
          onChange={(e) => choose(e.target.value)}
        >
          {answer.fittings.map((f) => (
            <option key={f.role} value={f.role}>
              {f.name}
            </option>
          ))}
        </select>
      </label>
      <Group title="Linkage">
        <Choice
          label="Driven by"
          value={linkage.drive}
          options={DRIVES}
          onChoose={(drive) => void set((f) => ({ ...f, linkage: { ...f.linkage, drive } }), `${name} drive chosen`)}
        />
        {rod ? (
          <>
            <LinkageNumber k="arm_m" label="Servo arm, axis to pin" extraDigits={1} />
            <LinkageNumber k="horn_m" label="Horn, hinge line to pin" extraDigits={1} />
            <LinkageNumber k="distance_m" label="Servo axis to hinge line" />
            <LinkageWay k="rise_m" label="Hinge line off the servo axis" ways={["above", "below"]} />
            <LinkageWay k="arm_lean_rad" label="Arm leans at neutral" ways={TOWARDS} />
            <SmallButton
              words="Set the arm square to its rod"
              onClick={() =>
                void square
                  .mutateAsync(fitting.role)
                  .then((lean) =>
                    set((f) => ({ ...f, linkage: { ...f.linkage, arm_lean_rad: lean } }), "arm set square"),
                  )
              }
            />
            <LinkageWay k="horn_lean_rad" label="Horn leans at neutral" ways={TOWARDS} />
            <Side k="arm_up" label="Pin of the arm stands" />
            <Side k="horn_up" label="Horn stands" />
            <Choice
              label="Clevis thread"
              value={(THREADS.find(([key]) => Math.abs(Number(key) - linkage.thread_pitch_m) < 1e-6) ?? THREADS[0])[0]}
              options={THREADS}
              onChoose={(pitch) =>
                void set(
                  (f) => ({ ...f, linkage: { ...f.linkage, thread_pitch_m: Number(pitch) } }),
                  `${name} thread chosen`,
                )
              }
            />
            <Tick
              label="Turnbuckle, left-hand thread at one end"
              checked={linkage.both_ends}
              onChange={(both_ends) =>
                void set((f) => ({ ...f, linkage: { ...f.linkage, both_ends } }), `${name} thread`)
              }
            />
          </>
        ) : null}
        {linkage.drive === "torque_rod" ? <Wire /> : null}
        <LinkageNumber k="stop_rad" label="Surface touches its stop at" />
      </Group>
      <Group title="Surface">
        <FittingNumber k="chord_m" label="Hinge to trailing edge" quantity="length" />
        <FittingNumber k="span_m" label="Hinge length" quantity="length" />
      </Group>
      <Group title="Servo">
        <Servo />
        <FittingNumber k="channel" label="Channel" quantity="count" />
        <Tick
          label="Channel is reversed in the radio"
          checked={fitting.reversed}
          onChange={(reversed) => void set((f) => ({ ...f, reversed }), `${name} reversed`)}
        />
        <FittingNumber k="end_point_up" label={`End point ${ways?.up ?? ""}`} quantity="fraction" />
        <FittingNumber k="end_point_down" label={`End point ${ways?.down ?? ""}`} quantity="fraction" />
      </Group>
      {twin && !readOnly ? (
        <SmallButton
          words={`Same on the ${twin.split("_")[0]} side`}
          onClick={() =>
            void put(
              withFitting(twin, (f) => ({ ...fitting, role: f.role, channel: f.channel, reversed: f.reversed })),
              "copied to the other side",
            )
          }
        />
      ) : null}
      <AddSurface />
    </div>
  );
}

function twinOf(role: string, fittings: Fitting[]): string | null {
  const other = role.startsWith("left_")
    ? role.replace("left_", "right_")
    : role.startsWith("right_")
      ? role.replace("right_", "left_")
      : null;
  return fittings.some((f) => f.role === other) ? other : null;
}

function LinkageNumber({ k, label, ...more }: { k: LinkageKey; label: string; hint?: string; extraDigits?: number }) {
  const { fitting } = useDesk();
  return (
    <SetupNumber
      label={label}
      {...more}
      quantity={k.endsWith("_rad") ? "angle" : "length"}
      value={fitting.linkage[k]}
      words="linkage measured"
      change={(v) => withFitting(fitting.role, (f) => ({ ...f, linkage: { ...f.linkage, [k]: v } }))}
    />
  );
}

function LinkageWay({
  k,
  label,
  ways,
}: {
  k: "rise_m" | "arm_lean_rad" | "horn_lean_rad";
  label: string;
  ways: readonly [string, string];
}) {
  const { fitting } = useDesk();
  return (
    <WayNumber
      label={label}
      quantity={k === "rise_m" ? "length" : "angle"}
      ways={ways}
      value={fitting.linkage[k]}
      words="linkage measured"
      change={(v) => withFitting(fitting.role, (f) => ({ ...f, linkage: { ...f.linkage, [k]: v } }))}
    />
  );
}

function FittingNumber({
  k,
  label,
  quantity,
}: {
  k: FittingKey;
  label: string;
  quantity: "length" | "count" | "fraction";
}) {
  const { fitting } = useDesk();
  return (
    <SetupNumber
      label={label}
      quantity={quantity}
      value={fitting[k]}
      words="surface and servo measured"
      change={(v) => withFitting(fitting.role, (f) => ({ ...f, [k]: k === "channel" ? Math.round(v) : v }))}
    />
  );
}

function Side({ k, label }: { k: "arm_up" | "horn_up"; label: string }) {
  const { fitting } = useDesk();
  const put = usePut();
  return (
    <Choice
      label={label}
      value={fitting.linkage[k] ? "above" : "below"}
      options={SIDES}
      onChoose={(side) =>
        void put(
          withFitting(fitting.role, (f) => ({ ...f, linkage: { ...f.linkage, [k]: side === "above" } })),
          "linkage measured",
        )
      }
    />
  );
}

function Wire() {
  const { fitting } = useDesk();
  return (
    <>
      <SetupNumber
        label="Torque rod, diameter"
        quantity="length"
        extraDigits={1}
        value={fitting.linkage.wire_m}
        words="torque rod measured"
        change={(v) => withFitting(fitting.role, (f) => ({ ...f, linkage: { ...f.linkage, wire_m: v } }))}
      />
      <SetupNumber
        label="Torque rod, length along the hinge"
        quantity="length"
        value={fitting.linkage.wire_length_m}
        words="torque rod measured"
        change={(v) => withFitting(fitting.role, (f) => ({ ...f, linkage: { ...f.linkage, wire_length_m: v } }))}
      />
    </>
  );
}

function Servo() {
  const { fitting } = useDesk();
  const rows = [
    ["torque_nm", "Stall torque", "torque", 1],
    ["range_rad", "Rotation over 1000 to 2000 µs", "angle", 0],
    ["dead_band_us", "Dead band", "pulse", 0],
  ] as const;
  return rows.map(([key, label, quantity, extraDigits]) => (
    <SetupNumber
      key={key}
      label={label}
      quantity={quantity}
      extraDigits={extraDigits}
      value={fitting.servo[key]}
      words="servo entered"
      change={(v) => withFitting(fitting.role, (f) => ({ ...f, servo: { ...f.servo, [key]: v } }))}
    />
  ));
}
