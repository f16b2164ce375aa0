import { useState } from "react";
import type { Configuration } from "../../../api/client";
import { useTheModel } from "../../../components/model-context";
import { QuantityField } from "../../../components/quantity/QuantityField";
import { ProblemNote } from "../../../components/ui/feedback";
import { MountDrawing } from "../../../drawing/controls/MountDrawing";
import { useReversal, useShim } from "../../../queries/controls";
import { useDirections } from "../../../queries/models";
import { Choice, Group, useEditing } from "../editing";
import { useDesk } from "./desk";

const TILTS = [
  ["down", "down-thrust"],
  ["up", "up-thrust"],
  ["right", "right thrust"],
  ["left", "left thrust"],
] as const;
const SEATS = [
  ["wing_on_top", "wing, on the body"],
  ["wing_below", "wing, under the body"],
  ["tail", "tail, on the body"],
  ["tail_below", "tail, under the body"],
] as const;

type Motor = NonNullable<Configuration["airframe"]["motor"]>;

/** Where the thrust line points now, and the washers or shims for a change, with what the model then does. */
export function ShimsBoard() {
  const { setup } = useEditing();
  const motor = setup.airframe.motor;
  return (
    <div>{motor ? <Mount motor={motor} /> : <p>No motor is fitted: only wing and tail seats can be shimmed.</p>}</div>
  );
}

/** Wing and tail seats, and the trial that proves a cause. */
export function ShimsFields() {
  return (
    <div>
      <SeatBoard />
      <ReversalTrial />
    </div>
  );
}

function Effect({ response }: { response: string }) {
  const model = useTheModel();
  const directions = useDirections(model);
  const words = directions.data?.responses[response]?.model ?? response;
  return (
    <p className="text-xl font-semibold" data-testid="shim-effect">
      More power then: {words}.
    </p>
  );
}

function Mount({ motor }: { motor: Motor }) {
  const { view } = useDesk();
  const shim = useShim();
  const [tilt, setTilt] = useState<"down" | "up" | "right" | "left">("down");
  const [angle, setAngle] = useState(Math.PI / 90);
  const [spacing, setSpacing] = useState(motor.bolt_spacing_m ?? 0.025);
  const ahead = view.answer.x_motor_ahead_m;
  const faces_aft = ahead < 0;
  const ask = () =>
    shim.mutate({
      tilt,
      angle_rad: angle,
      spacing_m: spacing,
      propeller_faces_aft: faces_aft,
      x_motor_ahead_of_cg_m: ahead,
    });
  return (
    <section className="grid items-start gap-3 md:grid-cols-[1fr_20rem]">
      <div className="sheet">
        <MountDrawing
          tilt={tilt}
          facesAft={faces_aft}
          shimmed={shim.data}
          spacing_m={spacing}
          now_rad={(tilt === "down" || tilt === "up" ? motor.tilt_down_rad : motor.tilt_right_rad) ?? 0}
        />
      </div>
      <div>
        <h2 className="text-lg">Motor mount</h2>
        <p className="text-sm">
          Now: {view.answer.thrust_words}. The propeller {faces_aft ? "pushes, behind" : "pulls, ahead of"} the balance
          point.
        </p>
        <Choice label="Tilt" value={tilt} options={TILTS} onChoose={setTilt} />
        <QuantityField label="By" quantity="angle" value={angle} onCommit={setAngle} />
        <QuantityField
          label="Bolt rows apart"
          hint="up and down for down-thrust, side to side for side thrust"
          quantity="length"
          extraDigits={1}
          value={spacing}
          onCommit={setSpacing}
        />
        <button type="button" className="btn btn-sm mt-1" onClick={ask}>
          How much, and where?
        </button>
        {shim.error ? <ProblemNote error={shim.error} /> : null}
        {shim.data ? (
          <>
            <p className="mt-2" data-testid="shim-words">
              {shim.data.words}
            </p>
            <Effect response={shim.data.effect} />
          </>
        ) : null}
      </div>
    </section>
  );
}

function SeatBoard() {
  const shim = useShim();
  const [seat, setSeat] = useState<(typeof SEATS)[number][0]>("wing_on_top");
  const [way, setWay] = useState<"more" | "less">("more");
  const [angle, setAngle] = useState(Math.PI / 180);
  const [spacing, setSpacing] = useState(0.14);
  const model = useTheModel();
  const directions = useDirections(model);
  return (
    <section className="mb-3 border-b border-base-300 pb-2">
      <h2 className="text-lg">Wing or tail seat</h2>
      <Choice label="Which seat" value={seat} options={SEATS} onChoose={setSeat} />
      <Choice
        label="Incidence"
        value={way}
        options={[
          ["more", "more: leading edge up"],
          ["less", "less: leading edge down"],
        ]}
        onChoose={setWay}
      />
      <QuantityField label="By how much" quantity="angle" value={angle} onCommit={setAngle} />
      <QuantityField label="Front to rear seat" quantity="length" value={spacing} onCommit={setSpacing} />
      <button
        type="button"
        className="btn btn-sm mt-1"
        onClick={() =>
          shim.mutate({
            seat,
            angle_rad: way === "more" ? Math.abs(angle) : -Math.abs(angle),
            spacing_m: spacing,
            propeller_faces_aft: false,
            x_motor_ahead_of_cg_m: 0.3,
          })
        }
      >
        How thick, and where?
      </button>
      {shim.error ? <ProblemNote error={shim.error} /> : null}
      {shim.data ? (
        <p className="mt-2" data-testid="seat-words">
          {shim.data.words}{" "}
          <span className="font-semibold">
            The model then goes {directions.data?.responses[shim.data.effect]?.model}.
          </span>
        </p>
      ) : null}
    </section>
  );
}

/** Put the old setting back and fly the same card: the difference is the proof. */
function ReversalTrial() {
  const { answer, modelId, view } = useDesk();
  const trial = useReversal(modelId);
  const numbers = [...new Set(view.sortie_trims.map((t) => t.sortie))];
  const [card, setCard] = useState("F5");
  const [picked, setPicked] = useState<[number, number, number]>([1, 2, 3]);
  const at = (i: 0 | 1 | 2, label: string) => (
    <Choice
      key={label}
      label={label}
      value={String(picked[i])}
      options={numbers.map((n) => [String(n), `sortie ${n}`] as const)}
      onChoose={(v) =>
        setPicked((p) => [i === 0 ? Number(v) : p[0], i === 1 ? Number(v) : p[1], i === 2 ? Number(v) : p[2]])
      }
    />
  );
  return (
    <section className="mb-3 border-b border-base-300 pb-2">
      <h2 className="text-lg">Was it the cause? Reversal trial (F38)</h2>
      <p className="text-sm">
        Fly a card, change one thing, fly it again, put the old setting back, fly it a third time.
      </p>
      {numbers.length < 3 ? (
        <p className="mt-1">
          It needs three landed sorties; there {numbers.length === 1 ? "is one" : `are ${numbers.length}`} so far.
        </p>
      ) : (
        <Group title="Three flights">
          {at(0, "Old setting")}
          {at(1, "New setting")}
          {at(2, "Old setting again")}
          <Choice
            label="Card"
            value={card}
            options={answer.trial_cards.map((c) => [c, c] as const)}
            onChoose={setCard}
          />
          <button
            type="button"
            className="btn btn-sm"
            onClick={() => trial.mutate({ first: picked[0], changed: picked[1], again: picked[2], card_id: card })}
          >
            Compare
          </button>
        </Group>
      )}
      {trial.error ? <ProblemNote error={trial.error} /> : null}
      {trial.data ? (
        <ul className="list-disc pl-5">
          {trial.data.map((r) => (
            <li key={r.measure} className={r.proved ? "font-semibold" : ""}>
              {r.words}
            </li>
          ))}
        </ul>
      ) : null}
    </section>
  );
}
