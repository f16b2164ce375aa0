import { useSearchParams } from "react-router";
import type { ModelDetail } from "../../api/client";
import { Tabs } from "../../components/ui/Tabs";
import type { useUndo } from "../../queries/models";
import { SECTIONS, type Section } from "./controls/desk";

export const TOOLS = ["Airframe", "Items", "Weigh", "Move", "Controls", "Check"] as const;
export type Tool = (typeof TOOLS)[number];

/** The tool, and the section of the controls, that stand in the address: back, reload and a link lead to the same. */
export function useBenchAddress() {
  const [address, setAddress] = useSearchParams();
  const named = <T extends string>(names: readonly T[], key: string) =>
    names.find((n) => n.toLowerCase() === address.get(key));
  return {
    tool: named(TOOLS, "tool") ?? "Airframe",
    section: named(SECTIONS, "section") ?? "Linkage",
    goTo: (tool: Tool) => setAddress({ tool: tool.toLowerCase() }),
    goToSection: (section: Section) => setAddress({ tool: "controls", section: section.toLowerCase() }),
  };
}

interface Props {
  model: ModelDetail;
  undo: ReturnType<typeof useUndo>;
  onTool: () => void;
}

/** The one ladder of the bench: its tools, below them the sections of the tool that has some, and undo. */
export function BenchNav({ model, undo, onTool }: Props) {
  const { tool, section, goTo, goToSection } = useBenchAddress();
  return (
    <div className="no-print mb-2 border-b border-base-300 pb-1">
      <div className="flex flex-wrap items-center gap-x-3">
        <Tabs
          label="Tools of the bench"
          names={TOOLS}
          chosen={tool}
          onChoose={(t) => {
            onTool();
            goTo(t);
          }}
        />
        <span className="ml-auto flex gap-1">
          <StepButton words="Undo" enabled={model.can_undo && !undo.isPending} onStep={() => undo.mutate("undo")} />
          <StepButton words="Redo" enabled={model.can_redo && !undo.isPending} onStep={() => undo.mutate("redo")} />
        </span>
      </div>
      {tool === "Controls" ? (
        <div className="border-l-2 border-l-base-content/40 pl-2" data-testid="control-sections">
          <Tabs label="Sections of the controls" names={SECTIONS} chosen={section} onChoose={goToSection} />
        </div>
      ) : null}
    </div>
  );
}

function StepButton({ words, enabled, onStep }: { words: string; enabled: boolean; onStep: () => void }) {
  return (
    <button type="button" className="btn btn-ghost min-h-11 px-2" disabled={!enabled} onClick={onStep}>
      {words}
    </button>
  );
}
