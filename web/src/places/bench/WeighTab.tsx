import { useState } from "react";
import { type BenchAnswer, type Configuration, inOwnUnits } from "../../api/client";
import { QuantityField } from "../../components/quantity/QuantityField";
import { stationWords } from "../../components/quantity/station";
import { useSettings } from "../../components/settings-context";
import { readAgain } from "../../domain/jig";
import { Measure, SmallButton, useEditing } from "./editing";
import { Readings } from "./Readings";
import { Schools } from "./Schools";
import { SideReadings } from "./SideReadings";
import { WingMount } from "./WingMount";

/** Between a jig and fingers, until the pilot says how well it was read. */
const TYPICAL_JIG_M = 0.003;

/** The measured balance point and the published one; the jig counts, the disagreement with the items is shown. */
export function WeighTab({ modelId, answer }: { modelId: string; answer: BenchAnswer | undefined }) {
  const { setup, edit } = useEditing();
  const takeBack = () => void edit((s) => ({ ...s, jig: null }), "balance reading taken back");
  return (
    <div>
      <p className="mb-2 text-sm font-semibold text-accent">
        Pack fitted where it flies, propeller on but motor disconnected, gear as in flight.
      </p>
      <p className="mb-2 text-sm">
        {upsideDown(setup)
          ? "This one upside down: its wing lies low."
          : "This one upright: its wing does not lie low."}{" "}
        Level to slightly nose-down is fine; a prompt tail drop means do not fly.
      </p>
      {answer ? (
        <Readings answer={answer} modelId={modelId}>
          <Measure
            label="Balance point read, from the datum"
            quantity="length"
            extraDigits={1}
            value={setup.jig?.x_m ?? null}
            disabled={!answer}
            words="balance point read"
            change={(s, v) => ({
              ...s,
              jig: { x_m: v, sigma_m: s.jig?.sigma_m ?? TYPICAL_JIG_M, items_x_m: answer?.items_x_cg_m ?? v, how: "" },
            })}
          />
        </Readings>
      ) : null}
      {setup.jig ? (
        <>
          <Measure
            label="How well it was read"
            hint="a jig 2 mm, fingers 5 mm"
            quantity="length"
            extraDigits={1}
            value={setup.jig.sigma_m}
            words="accuracy of the reading changed"
            change={(s, v) => (s.jig ? { ...s, jig: { ...s.jig, sigma_m: v } } : s)}
          />
          <Measure
            label="Read again, another way"
            hint="from the same datum, by scales, fingers or a jig turned round; two that agree rule out a misreading"
            quantity="length"
            extraDigits={1}
            value={setup.jig.again_m ?? null}
            words="balance point read again"
            disabled={!answer}
            change={(s, v) => (s.jig && answer ? { ...s, jig: readAgain(s.jig, answer.items_x_cg_m, { x_m: v }) } : s)}
          />
          {setup.jig.again_m == null ? null : (
            <SmallButton
              words="Take the second reading back"
              quiet
              onClick={() =>
                void edit(
                  (s) => (s.jig ? { ...s, jig: { ...s.jig, again_m: null } } : s),
                  "second balance reading taken back",
                )
              }
            />
          )}
          <SmallButton words="Take the reading back" onClick={takeBack} />
        </>
      ) : null}
      {answer ? <SideReadings answer={answer} /> : null}
      <WingMount modelId={modelId} />
      <hr className="my-2 border-base-300" />
      <Measure
        label="Published balance point"
        hint="plan or manual, from the same datum"
        quantity="length"
        value={setup.published?.x_m ?? null}
        words="published point entered"
        change={(s, v) => ({ ...s, published: { source: "", reason: "", ...s.published, x_m: v } })}
      />
      {answer?.maiden.published?.code === "behind" ? <PublishedReason /> : null}
      {answer ? <MaidenPoint maiden={answer.maiden} /> : null}
      {answer ? <Schools answer={answer} /> : null}
      {answer ? <OnPaper modelId={modelId} answer={answer} /> : null}
    </div>
  );
}

/** A low wing would roll over between the fingers when upright. */
function upsideDown({ airframe }: Configuration): boolean {
  const wings = airframe.surfaces.filter((s) => s.role === "wing");
  return wings.length === 1 && (wings[0]?.z_m ?? 0) < 0;
}

/** Balance sheet and marking template; the template at any distance from the centre line. */
function OnPaper({ modelId, answer }: { modelId: string; answer: BenchAnswer }) {
  const [y, setY] = useState(answer.fingers.y_m);
  const base = `/api/v1/models/${modelId}`;
  const links = [
    ["Balance sheet, PDF", `${base}/balance-sheet.pdf`],
    ["Marking template 1:1, PDF", `${base}/marking-template.pdf?y_m=${y}`],
    ["Marking template 1:1, SVG", `${base}/marking-template.svg?y_m=${y}`],
  ].map(([words = "", address = ""]) => [words, inOwnUnits(address)] as const);
  return (
    <div className="mt-3">
      <h2 className="font-bold">On paper</h2>
      <QuantityField
        label="Template for the wing at"
        hint="from the centre line"
        quantity="length"
        value={y}
        onCommit={setY}
      />
      <p className="flex flex-wrap gap-2">
        {links.map(([words, href]) => (
          <a key={words} className="btn btn-sm" href={href} target="_blank" rel="noreferrer">
            {words}
          </a>
        ))}
      </p>
    </div>
  );
}

/** The recommended point with both its limits. */
function MaidenPoint({ maiden }: { maiden: BenchAnswer["maiden"] }) {
  const { show } = useSettings();
  return (
    <div className="sheet mt-2 p-3">
      <p className="font-bold">
        Maiden balance point: {maiden.x_m == null ? "none is safe yet" : stationWords(show, maiden.x_m)}
      </p>
      <p className="mt-1 text-sm">{maiden.words}</p>
      <p className="label-small mt-1">
        Rear limit {stationWords(show, maiden.aft_limit_m)} (risk), forward limit{" "}
        {stationWords(show, maiden.forward_limit_m)} (control left for the flare).
      </p>
      {maiden.published ? <p className="mt-1 text-sm font-semibold">{maiden.published.words}</p> : null}
    </div>
  );
}

/** A published point behind what the geometry can fly is used only with a reason, written down. */
function PublishedReason() {
  const { setup, edit, readOnly } = useEditing();
  const reason = setup.published?.reason ?? "";
  return (
    <label className="block py-1">
      Used all the same, because
      <textarea
        key={reason}
        className="textarea mt-1 w-full text-base"
        rows={2}
        maxLength={300}
        defaultValue={reason}
        disabled={readOnly}
        placeholder="no reason, not used"
        onBlur={(e) => {
          const next = e.target.value.trim();
          if (next !== reason)
            void edit(
              (s) => (s.published ? { ...s, published: { ...s.published, reason: next } } : s),
              next ? `published point used, because: ${next}`.slice(0, 290) : "published point not used",
            );
        }}
      />
    </label>
  );
}
