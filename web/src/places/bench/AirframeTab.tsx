import { memo, useCallback } from "react";
import { Link, useSearchParams } from "react-router";
import type { Airframe, Said } from "../../api/client";
import { RiseHandles } from "../../drawing/bench/RiseHandles";
import { RearView } from "../../drawing/RearView";
import { useMoveDatum } from "../../queries/models";
import { Choice, EditingProvider, SmallButton, useEdit, useEditing } from "./editing";
import { MeasureInOrder } from "./MeasureInOrder";
import { BodyFields, FinFields, GearFields, MotorFields, NacelleFields } from "./PartFields";
import { PlanScale, usePlanScale } from "./PlanScale";
import { MeasureNext } from "./Provenance";
import { newSurface, SurfaceFields } from "./SurfaceFields";

/** The airframe by ruler, in the order one measures a model lying on a table. */
export const AirframeTab = memo(function AirframeTab(props: {
  modelId: string;
  revision: number;
  findings: Said[];
  underlay: React.ReactNode;
}) {
  const editing = useEditing();
  const [plan, setPlan] = usePlanScale(props.modelId);
  return (
    <EditingProvider value={{ ...editing, plan }}>
      <Parts {...props} scale={<PlanScale plan={plan} onPlan={setPlan} />} />
    </EditingProvider>
  );
});

/** What is out of reason, where it is typed: what was probably meant, gone when it is mended. */
function Doubts() {
  const { doubts } = useEdit();
  if (doubts.length === 0) return null;
  return (
    <div role="alert" data-testid="doubts">
      {doubts.map((said) => (
        <p
          key={said.words}
          className="mb-2 flex flex-wrap items-center gap-2 border-l-4 border-l-accent pl-2 font-semibold text-accent"
        >
          <span className="flex-1 basis-60">{said.words}</span>
          <MeasureAgain about={said.about} />
        </p>
      ))}
    </div>
  );
}

function MeasureAgain({ about }: { about: string[] }) {
  const { origins, readOnly } = useEdit();
  const key = about.find((a) => origins?.measures.some((m) => m.key === a));
  if (readOnly || !key) return null;
  return (
    <Link className="btn min-h-11" to={`?tool=airframe&measure=${encodeURIComponent(key)}`}>
      Measure it again
    </Link>
  );
}

function Parts({
  modelId,
  revision,
  findings,
  scale,
  underlay,
}: {
  modelId: string;
  revision: number;
  findings: Said[];
  scale: React.ReactNode;
  underlay: React.ReactNode;
}) {
  const { setup, readOnly, edit, origins } = useEditing();
  const [address, setAddress] = useSearchParams();
  const measure = readOnly ? null : address.get("measure");
  const setMeasure = useCallback(
    (key: string | null) =>
      setAddress({ tool: "airframe", ...(key === null ? {} : { measure: key }) }, { replace: true }),
    [setAddress],
  );
  const raise = (key: string, index: number, z_offset_m: number) =>
    void edit(
      (s) => ({
        ...s,
        airframe: {
          ...s.airframe,
          surfaces: s.airframe.surfaces.map((f) =>
            f.key === key ? { ...f, sections: f.sections.map((c, i) => (i === index ? { ...c, z_offset_m } : c)) } : f,
          ),
        },
      }),
      `${key} raised on the drawing`,
      // What is only drawn was not measured.
      { how: null, scale: 1 },
    );
  if (measure !== null)
    return (
      <>
        <MeasureInOrder at={measure} onAt={setMeasure} onDone={() => setMeasure(null)} />
        <Doubts />
        {scale}
        {underlay}
      </>
    );
  return (
    <div>
      <Doubts />
      {readOnly ? null : (
        <button type="button" className="btn btn-accent mb-2 min-h-11" onClick={() => setMeasure("in-order")}>
          Measure in order, step by step
        </button>
      )}
      {origins ? <MeasureNext origins={origins} /> : null}
      {scale}
      {underlay}
      <figure className="mb-2">
        <RearView
          airframe={setup.airframe}
          bankDeg={0}
          size={380}
          heights={1}
          {...(readOnly
            ? {}
            : {
                handles: (map, units) => (
                  <RiseHandles surfaces={setup.airframe.surfaces} map={map} scale={1 / units} onRise={raise} />
                ),
              })}
        />
        <figcaption className="label-small text-center">
          From behind, as you sit in it; drag the right half up and down.
        </figcaption>
      </figure>
      <Datum modelId={modelId} revision={revision} />
      <Fields airframe={setup.airframe} findings={findings} />
    </div>
  );
}

/** Every measure of the airframe; the very same while only an item is moved. */
const Fields = memo(function Fields({ airframe, findings }: { airframe: Airframe; findings: Said[] }) {
  return (
    <>
      {airframe.surfaces.map((s, i) => (
        <SurfaceFields key={s.key} surface={s} index={i} many={airframe.surfaces.length > 1} findings={findings} />
      ))}
      <AddSurface />
      <BodyFields body={airframe.body} />
      <FinFields fin={airframe.fin ?? null} />
      <MotorFields airframe={airframe} />
      <NacelleFields nacelles={airframe.nacelles ?? []} />
      <GearFields gear={airframe.gear ?? null} />
    </>
  );
});

const KINDS = [
  ["wing", "Add a wing"],
  ["tail", "Add a tail"],
  ["canard", "Add a foreplane"],
] as const;

function AddSurface() {
  const { edit } = useEdit();
  return (
    <div className="mb-2 flex flex-wrap gap-2 border-b border-base-300 pb-2">
      {KINDS.map(([role, words]) => (
        <SmallButton
          key={role}
          words={words}
          onClick={() =>
            void edit(
              (s) => ({
                ...s,
                airframe: { ...s.airframe, surfaces: [...s.airframe.surfaces, newSurface(role, s.airframe)] },
              }),
              `${words.toLowerCase().replace("add a", "a")} added`,
            )
          }
        />
      ))}
    </div>
  );
}

function Datum({ modelId, revision }: { modelId: string; revision: number }) {
  const { setup } = useEditing();
  const move = useMoveDatum(modelId);
  const stations = {
    "wing root leading edge": setup.airframe.surfaces[0]?.x_m ?? 0,
    nose: setup.airframe.body.nose_x_m,
  };
  const names = Object.keys(stations) as (keyof typeof stations)[];
  return (
    <div className="mb-2 border-b border-base-300 pb-2">
      <Choice
        label="Datum"
        hint="every station is measured from here"
        value={(setup.datum ?? "") as keyof typeof stations}
        options={names.map((n) => [n, n] as const)}
        disabled={move.isPending}
        onChoose={(words) => move.mutate({ base_revision: revision, dx_m: stations[words], words })}
      />
    </div>
  );
}
