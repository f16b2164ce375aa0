import { useSettings } from "../../../components/settings-context";
import { ProblemNote } from "../../../components/ui/feedback";
import { useMoveTrim } from "../../../queries/controls";
import { Group, useEdit, useEditing } from "../editing";
import { SetupNumber, useDesk, usePut, WayField, WayNumber } from "./desk";
import { TextField } from "./TextField";

const AXIS = { pitch: "Pitch", roll: "Roll", yaw: "Yaw" } as const;
const PROOF_WORDS: Record<string, string> = {
  B2: "neutrals fair and square",
  B4: "every control the right way",
  B5: "throws of every rate",
  B6: "radio memory",
};

/** The trim ledger: what is in the radio now, which flight it came from, and the ways out of it. */
export function TrimBoard() {
  const { view, answer } = useDesk();
  const { show } = useSettings();
  const resting = answer.surfaces.filter((s) => s.in_radio_m >= 0.00005);
  return (
    <div data-testid="trim-board">
      {answer.trim_warning ? (
        <p className="mb-2 border-l-4 border-l-accent pl-2 font-semibold text-accent">{answer.trim_warning}</p>
      ) : null}
      {view.squawks.map((s) => (
        <p key={s.words} role="alert" className="mb-2 border-l-4 border-l-accent pl-2 font-semibold text-accent">
          Squawk: {s.words}
        </p>
      ))}
      <h2 className="text-lg">In the radio now{view.flown ? ", as it landed" : ""}</h2>
      <ul>
        {answer.ledger.map((t) => (
          <li
            key={t.axis + t.phase}
            data-trim={t.axis}
            className="grid gap-x-3 border-b border-base-300 py-1 sm:grid-cols-[9rem_14rem_1fr]"
          >
            <span className="font-semibold">
              {AXIS[t.axis]}, {t.phase}
            </span>
            <span className={`tabular-nums ${t.beyond ? "font-semibold text-accent" : ""}`}>
              {t.clicks === 0
                ? "no clicks"
                : `${Math.abs(t.clicks)} clicks, ${t.pulse_us.toFixed(0)} µs, ${show(t.moved_m, "length", 1)}, ${show(t.angle_rad, "angle")}`}
            </span>
            <span>
              {t.words}
              {t.beyond ? <span className="font-semibold text-accent"> – move it out of the radio</span> : null}
            </span>
          </li>
        ))}
      </ul>
      {answer.trim_problem ? (
        <p role="alert" className="mt-2 border-l-4 border-l-accent pl-2 font-semibold text-accent">
          {answer.trim_problem}
        </p>
      ) : null}
      {answer.trim_problem ? null : resting.length > 0 ? (
        <WaysOut />
      ) : (
        <p className="mt-2 font-semibold">All trims and sub-trims are centred.</p>
      )}
      {answer.midpoints.length > 0 ? (
        <section className="mt-3">
          <h2 className="text-lg">Learned midpoints, this model's trims</h2>
          <ul className="list-disc pl-5">
            {answer.midpoints.map((m) => (
              <li key={m}>{m}</li>
            ))}
          </ul>
        </section>
      ) : null}
      <Proofs />
      {view.sortie_trims.length > 0 ? <BySortie /> : null}
    </div>
  );
}

const WAYS = [
  ["clevis", "Move it to the clevis"],
  ["sub_trim", "Move it to sub-trim"],
  ["midpoint", "Move it to the controller's midpoints"],
] as const;

function WaysOut() {
  const { modelId, revision, answer, setup } = useDesk();
  const { readOnly } = useEdit();
  const move = useMoveTrim(modelId);
  const controller = setup.stabiliser?.device === "controller";
  const rows = answer.surfaces.filter((s) => s.in_radio_m >= 0.00005);
  return (
    <>
      <h2 className="mt-3 text-lg">Out of the radio, each surface stays where it flew</h2>
      <ul className="list-disc pl-5" data-testid="ways-out">
        {rows.map((s) => (
          <li key={s.role}>
            <span className="font-semibold">{s.in_radio}</span>
            {s.stands === s.in_radio ? "" : ` by the radio; ${s.stands} in all`}. {s.clevis} {s.held}{" "}
            {s.clicks_per_turn > 0 ? `One turn is ${s.clicks_per_turn.toFixed(1)} clicks.` : ""}
          </li>
        ))}
      </ul>
      {readOnly ? null : (
        <div className="mt-2 flex flex-wrap gap-2">
          {WAYS.filter(([way]) => (controller ? way !== "sub_trim" : way !== "midpoint")).map(([way, words]) => (
            <button
              key={way}
              type="button"
              className="btn btn-sm"
              disabled={move.isPending}
              onClick={() => move.mutate({ base_revision: revision, way })}
            >
              {words}
            </button>
          ))}
        </div>
      )}
      {move.error ? <ProblemNote error={move.error} /> : null}
    </>
  );
}

/** What was to be found after trim was moved, and whether the cards that prove it are passed. */
function Proofs() {
  const { view, setup } = useDesk();
  return (
    <section className="mt-3" data-testid="zeroed">
      {setup.to_find.length > 0 && view.proofs.some((p) => p.card_id === "B2" && p.state !== "passed") ? (
        <>
          <h2 className="text-lg">To do and to find before the next flight</h2>
          <ol className="list-decimal pl-5">
            {setup.to_find.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ol>
        </>
      ) : null}
      <p className="mt-1 text-sm">
        {view.proofs
          .filter((p) => PROOF_WORDS[p.card_id])
          .map((p) => `${p.card_id} ${PROOF_WORDS[p.card_id]}: ${p.state}`)
          .join(" · ")}
      </p>
    </section>
  );
}

function BySortie() {
  const { view } = useDesk();
  return (
    <section className="mt-3">
      <h2 className="text-lg">Which trim belongs to which flight</h2>
      <div className="overflow-x-auto">
        <table className="table table-sm figures">
          <thead>
            <tr>
              <th>sortie</th>
              <th>configuration</th>
              <th>pitch</th>
              <th>roll</th>
              <th>yaw</th>
            </tr>
          </thead>
          <tbody>
            {[...new Set(view.sortie_trims.map((t) => t.sortie))].map((n) => {
              const row = view.sortie_trims.filter((t) => t.sortie === n);
              return (
                <tr key={n}>
                  <td>{n}</td>
                  <td>{row[0]?.configuration}</td>
                  {(["pitch", "roll", "yaw"] as const).map((a) => (
                    <td key={a}>{row.find((t) => t.axis === a)?.words}</td>
                  ))}
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </section>
  );
}

/** What a click is, how many may stay, and the trims of the other flight phases. */
export function TrimFields() {
  const { answer, setup } = useDesk();
  const put = usePut();
  const { setup: configuration, edit, readOnly } = useEditing();
  const KEY = { pitch: "elevator", roll: "aileron", yaw: "rudder" } as const;
  const ways = (axis: string): readonly [string, string] => {
    const w = answer.ways.find((x) => x.axis === axis);
    return [w?.positive ?? "", w?.negative ?? ""];
  };
  const clicksNow = (axis: "pitch" | "roll" | "yaw") => configuration[KEY[axis]].clicks ?? 0;
  return (
    <div>
      <Group title="Trim">
        <SetupNumber
          label="One click"
          quantity="pulse"
          extraDigits={1}
          value={setup.radio.click_us}
          words="trim click entered"
          change={(v) => (s) => ({ ...s, radio: { ...s.radio, click_us: v } })}
        />
        <SetupNumber
          label="Clicks that may stay in the radio"
          quantity="count"
          value={setup.threshold_clicks}
          words="threshold entered"
          change={(v) => (s) => ({ ...s, threshold_clicks: Math.round(v) })}
        />
      </Group>
      <Group title="Trims in the radio before the flight">
        {(["pitch", "roll", "yaw"] as const).map((axis) => (
          <WayField
            key={axis}
            label={`${AXIS[axis]} clicks`}
            quantity="count"
            ways={ways(axis)}
            value={clicksNow(axis)}
            disabled={readOnly}
            onCommit={(v) =>
              edit(
                (s) => ({ ...s, [KEY[axis]]: { ...s[KEY[axis]], clicks: Math.round(v) } }),
                `${AXIS[axis].toLowerCase()} trim entered`,
              )
            }
          />
        ))}
      </Group>
      {setup.phases.map((p, k) => (
        <TextField
          key={p.name}
          label={`${p.name} is trimmed at`}
          value={p.speed_words}
          onCommit={(speed_words) =>
            put(
              (s) => ({ ...s, phases: s.phases.map((q, j) => (j === k ? { ...q, speed_words } : q)) }),
              "trim speed noted",
            )
          }
        />
      ))}
      {setup.phases.slice(1).map((p, k) => (
        <Group key={p.name} title={`Trims in ${p.name}`}>
          {(["pitch", "roll", "yaw"] as const).map((axis) => (
            <WayNumber
              key={axis}
              label={`${AXIS[axis]} clicks, ${p.name}`}
              quantity="count"
              ways={ways(axis)}
              value={p[`${axis}_clicks`]}
              words={`${p.name}: trim entered`}
              change={(v) => (s) => ({
                ...s,
                phases: s.phases.map((q, j) => (j === k + 1 ? { ...q, [`${axis}_clicks`]: Math.round(v) } : q)),
              })}
            />
          ))}
        </Group>
      ))}
    </div>
  );
}
