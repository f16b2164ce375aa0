import { type ReactNode, useState } from "react";
import { Loading, ProblemNote } from "../../../components/ui/feedback";
import { useControls } from "../../../queries/controls";
import { DirectionsBoard, DirectionsFields } from "./DirectionsSection";
import { DeskProvider, SECTIONS, type Section } from "./desk";
import { LinkageFields } from "./LinkageFields";
import { LinkageBoard } from "./LinkageSection";
import { MixesBoard, MixesFields } from "./MixesSection";
import { RadioBoard, RadioFields } from "./RadioSection";
import { SheetBoard, SheetFields } from "./SheetSection";
import { ShimsBoard, ShimsFields } from "./ShimsSection";
import { StabiliserBoard, StabiliserFields } from "./StabiliserSection";
import { ThrowsBoard, ThrowsFields } from "./ThrowsSection";
import { TrimBoard, TrimFields } from "./TrimSection";

const BOARDS: Record<Section, () => ReactNode> = {
  Linkage: LinkageBoard,
  Throws: ThrowsBoard,
  Mixes: MixesBoard,
  Trim: TrimBoard,
  Directions: DirectionsBoard,
  Radio: RadioBoard,
  Shims: ShimsBoard,
  Stabiliser: StabiliserBoard,
  Sheet: SheetBoard,
};
const FIELDS: Record<Section, () => ReactNode> = {
  Linkage: LinkageFields,
  Throws: ThrowsFields,
  Mixes: MixesFields,
  Trim: TrimFields,
  Directions: DirectionsFields,
  Radio: RadioFields,
  Shims: ShimsFields,
  Stabiliser: StabiliserFields,
  Sheet: SheetFields,
};

/** The controls desk: what is looked at on the left, its numbers on the right, one section at a time. */
export function ControlsDesk({ modelId, revision, tabs }: { modelId: string; revision: number; tabs: ReactNode }) {
  const [section, setSection] = useState<Section>("Linkage");
  const [role, setRole] = useState("");
  const controls = useControls(modelId, revision);
  const Board = BOARDS[section];
  const Fields = FIELDS[section];
  if (!controls.data)
    return (
      <div>
        {tabs}
        {controls.error ? (
          <ProblemNote error={controls.error} onRetry={() => void controls.refetch()} />
        ) : (
          <Loading words="Computing linkages, throws and mixes…" />
        )}
      </div>
    );
  return (
    <DeskProvider value={{ modelId, revision, view: controls.data, role, choose: setRole }}>
      <div className="grid gap-3 xl:grid-cols-[1.75fr_1fr]">
        <div className="min-w-0">
          <h1 className="sr-only">Bench: controls</h1>
          <nav
            aria-label="Sections of the controls"
            className="mb-2 flex flex-wrap gap-1"
            data-testid="control-sections"
          >
            {SECTIONS.map((s) => (
              <button
                key={s}
                type="button"
                aria-pressed={s === section}
                className={`btn btn-sm text-base ${s === section ? "btn-primary" : "btn-ghost"}`}
                onClick={() => setSection(s)}
              >
                {s}
              </button>
            ))}
          </nav>
          <Board />
        </div>
        <aside className="min-w-0">
          {tabs}
          <div className="max-h-[76dvh] overflow-y-auto pr-1" data-fields>
            <Fields />
          </div>
        </aside>
      </div>
    </DeskProvider>
  );
}
