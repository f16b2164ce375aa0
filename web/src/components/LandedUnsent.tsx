import { Link } from "react-router";
import { landedUnsent } from "../offline/overlay";
import { useOnDevice } from "../offline/use-outbox";
import { useTheModel } from "./model-context";

/** A sortie that has landed on this device and is not in the program yet: what is shown was computed without it. */
export function LandedUnsent() {
  const model = useTheModel();
  if (!landedUnsent(useOnDevice(), model.id)) return null;
  return (
    <p
      className="sheet mb-2 flex flex-wrap items-center justify-between gap-2 border-l-4 border-l-accent p-2"
      data-testid="landed-unsent"
    >
      <span>
        <span className="font-semibold">The last sortie is only on this device.</span> What is shown here was computed
        without it; the next one waits until the program has answered.
      </span>
      <Link className="btn btn-sm min-h-11" to="/waiting">
        What is on this device
      </Link>
    </p>
  );
}
