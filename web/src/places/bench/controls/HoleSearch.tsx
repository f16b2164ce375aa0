import { useState } from "react";
import { QuantityField } from "../../../components/quantity/QuantityField";
import { useSettings } from "../../../components/settings-context";
import { ProblemNote } from "../../../components/ui/feedback";
import { useHoles } from "../../../queries/controls";
import { SmallButton, useEdit } from "../editing";
import { useDesk, usePut, withFitting } from "./desk";

const ARM = "7, 9, 11, 13, 15";
const HORN = "10, 12, 14, 16, 18, 20";

/** Holes in metres from a list in millimetres, or null where something in it is no hole; "7,5" is seven and a half. */
export function holes(text: string): number[] | null {
  const found = text
    .split(/,\s+|[;\s]+/)
    .filter((t) => t !== "")
    .map((t) => Number(t.replace(",", ".")) / 1000);
  return found.length > 0 && found.every((v) => Number.isFinite(v) && v > 0) ? found : null;
}

/** Which holes of arm and horn give a wanted throw with the finest resolution. */
export function HoleSearch() {
  const { modelId, fitting } = useDesk();
  const { readOnly } = useEdit();
  const { show } = useSettings();
  const put = usePut();
  const [wanted, setWanted] = useState(0.018);
  const [arm, setArm] = useState(ARM);
  const [horn, setHorn] = useState(HORN);
  const search = useHoles(modelId);
  if (fitting.linkage.drive === "direct") return null;
  const lists = [holes(arm), holes(horn)] as const;
  const run = () =>
    lists[0] &&
    lists[1] &&
    search.mutate({ role: fitting.role, arm_holes_m: lists[0], horn_holes_m: lists[1], wanted_m: wanted });
  return (
    <details className="mt-2">
      <summary className="min-h-9 font-semibold">Which holes give the throw I want?</summary>
      <div className="max-w-xl">
        <QuantityField label="Throw wanted, each way" quantity="length" value={wanted} onCommit={setWanted} />
        <Holes label="Holes of the servo arm, mm from its axis" value={arm} onChange={setArm} />
        <Holes label="Holes of the horn, mm from the hinge line" value={horn} onChange={setHorn} />
        {lists[0] && lists[1] ? null : (
          <p role="alert" className="text-sm font-semibold text-error">
            Write the holes in millimetres with a space between them: 7 9 11.5
          </p>
        )}
        <button
          type="button"
          className="btn btn-sm my-1"
          disabled={search.isPending || !lists[0] || !lists[1]}
          onClick={run}
        >
          {search.isPending ? "Trying the holes…" : "Find holes"}
        </button>
      </div>
      {search.error ? <ProblemNote error={search.error} /> : null}
      {search.data ? (
        <table className="table table-sm figures" data-testid="holes">
          <thead>
            <tr>
              <th>arm</th>
              <th>horn</th>
              <th>end points up / down</th>
              <th>a microsecond</th>
              <th>servo torque</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {search.data.slice(0, 8).map((h) => (
              <tr key={`${h.arm_m} ${h.horn_m}`} className={h.reaches ? "" : "text-secondary"}>
                <td>{show(h.arm_m, "length", 1)}</td>
                <td>{show(h.horn_m, "length", 1)}</td>
                <td>
                  {h.reaches
                    ? `${(h.end_point_up * 100).toFixed(0)} / ${(h.end_point_down * 100).toFixed(0)} %`
                    : `reaches only ${show(Math.min(h.up_m, h.down_m), "length")}`}
                </td>
                <td>{show(h.m_per_us, "length", 3)}</td>
                <td>{(h.torque_share * 100).toFixed(0)} %</td>
                <td>
                  {h.reaches && !readOnly ? (
                    <SmallButton
                      quiet
                      words="Use"
                      onClick={() =>
                        void put(
                          withFitting(fitting.role, (f) => ({
                            ...f,
                            linkage: { ...f.linkage, arm_m: h.arm_m, horn_m: h.horn_m },
                            end_point_up: h.end_point_up,
                            end_point_down: h.end_point_down,
                          })),
                          "holes chosen",
                        )
                      }
                    />
                  ) : null}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
    </details>
  );
}

function Holes({ label, value, onChange }: { label: string; value: string; onChange: (text: string) => void }) {
  return (
    <label className="flex items-center justify-between gap-2 py-1">
      <span>{label}</span>
      <input className="input input-sm w-52 text-base" value={value} onChange={(e) => onChange(e.target.value)} />
    </label>
  );
}
