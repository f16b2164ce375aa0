import { useTheModel } from "../../components/model-context";
import { isOpen } from "../../queries/sorties";
import { EmergencyCards } from "./EmergencyCards";

/** The emergency cards of a model, one tap from its console. */
export default function EmergencyPage() {
  const model = useTheModel();
  const open = model.sorties.some(isOpen);
  return (
    <EmergencyCards
      modelId={model.id}
      back={`/m/${model.id}/${open ? "fly" : "plan"}`}
      backWords={open ? "Back to the sortie" : "Back to the plan"}
      happened={`/m/${model.id}/happened`}
    />
  );
}
