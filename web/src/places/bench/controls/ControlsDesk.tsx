import type { ReactNode } from "react";
import { useSearchParams } from "react-router";
import { Loading, ProblemNote } from "../../../components/ui/feedback";
import { useControls } from "../../../queries/controls";
import { DirectionsBoard, DirectionsFields } from "./DirectionsSection";
import { DeskProvider, type Section } from "./desk";
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
export default function ControlsDesk({
  modelId,
  revision,
  section,
}: {
  modelId: string;
  revision: number;
  section: Section;
}) {
  const [address, setAddress] = useSearchParams();
  const setRole = (role: string) =>
    setAddress(
      (now) => {
        now.set("surface", role);
        return now;
      },
      { replace: true },
    );
  const controls = useControls(modelId, revision);
  const Board = BOARDS[section];
  const Fields = FIELDS[section];
  if (!controls.data)
    return (
      <div>
        <h1 className="sr-only">Bench: controls</h1>
        {controls.error ? (
          <ProblemNote error={controls.error} onRetry={() => void controls.refetch()} />
        ) : (
          <Loading words="Computing linkages, throws and mixes…" />
        )}
      </div>
    );
  return (
    <DeskProvider
      value={{ modelId, revision, view: controls.data, role: address.get("surface") ?? "", choose: setRole }}
    >
      <div className="grid gap-3 xl:grid-cols-[1.75fr_1fr]">
        <div className="min-w-0">
          <h1 className="sr-only">Bench: controls</h1>
          <Board />
        </div>
        <aside className="min-w-0">
          {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached by keys, where it holds no field as well */}
          <section className="max-h-[76dvh] overflow-y-auto pr-1" data-fields tabIndex={0} aria-label="Its numbers">
            <Fields />
          </section>
        </aside>
      </div>
    </DeskProvider>
  );
}
