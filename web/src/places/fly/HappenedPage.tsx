import { useNavigate } from "react-router";
import { useTheModel } from "../../components/model-context";
import { ProblemNote } from "../../components/ui/feedback";
import { useLogGroundCard } from "../../queries/sorties";
import { CardConsole } from "./CardConsole";

/** Something went wrong outside a running sortie: found after the landing, or on the ground. */
export default function HappenedPage() {
  const model = useTheModel();
  const navigate = useNavigate();
  const log = useLogGroundCard(model.id);
  const back = () => void navigate(`/m/${model.id}`);
  return (
    <div className="mx-auto max-w-2xl">
      {log.error ? <ProblemNote error={log.error} /> : null}
      <CardConsole
        sortieId={`happened-${model.id}-${model.log_order}`}
        card={model.incident_card}
        before={null}
        busy={log.isPending || model.read_only}
        onLog={(record) => log.mutateAsync(record).then(back)}
        onLeave={back}
        inTheAir={false}
      />
    </div>
  );
}
