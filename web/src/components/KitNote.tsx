import { Link } from "react-router";
import { when } from "../domain/time";
import { usePage } from "../offline/worker";
import { useKit } from "../queries/field";
import { useTheModel } from "./model-context";

/** What of this model is on this device, and since when: what opens at a field where no program answers. */
export function KitNote() {
  const kit = useKit(useTheModel());
  const page = usePage();
  const ready = kit.asOf !== null && page.kept === "kept" && !kit.refused;
  return (
    <div
      className={`sheet flex flex-wrap items-center justify-between gap-x-4 p-2 ${ready ? "" : "border-dashed"}`}
      data-testid="kit"
      data-ready={ready}
    >
      <p>
        <span className="block font-semibold">
          {ready
            ? `On this device for the field, as of ${kit.asOf ? when(kit.asOf) : ""}`
            : "Not ready for the field without a network"}
        </span>
        {ready
          ? "Plan, gates, cards, emergency cards, direction walk, work order and debrief open and log where no program answers."
          : lacking(kit.missing, kit.refused, page.kept)}
      </p>
      <span className="mt-1 flex flex-wrap gap-2">
        <Link to="/phones" className="btn min-h-11">
          Phones
        </Link>
        <button type="button" className="btn min-h-11" onClick={kit.fetch} disabled={kit.busy}>
          {kit.busy ? "Fetching…" : "Fetch it anew"}
        </button>
      </span>
    </div>
  );
}

function lacking(missing: readonly string[], refused: boolean, kept: "not yet" | "kept" | "refused"): string {
  if (refused)
    return "This browser has no room left, or keeps nothing in a private window: open it in an ordinary one.";
  if (kept === "refused")
    return "This browser keeps no pages at this address. While the page stays open, everything that is logged is kept.";
  if (missing.length > 0) return `Still missing: ${missing.join(", ")}.`;
  return "The page itself is being kept.";
}
