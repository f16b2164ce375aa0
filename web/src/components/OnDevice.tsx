import { Link } from "react-router";
import { useOutbox } from "../offline/use-outbox";

/** How many entries are only on this device; always visible while there are any. */
export function OnDevice() {
  const { waiting, refused } = useOutbox();
  if (waiting.length + refused.length === 0) return null;
  return (
    <Link
      to="/waiting"
      role="status"
      data-testid="on-device"
      className={`flex min-h-11 items-center px-2 text-base font-bold ${refused.length > 0 ? "bg-accent text-accent-content" : "bg-base-content text-base-100"}`}
    >
      {[
        ...(waiting.length > 0 ? [`${waiting.length} only on this device`] : []),
        ...(refused.length > 0 ? [`${refused.length} not accepted`] : []),
      ].join(", ")}
    </Link>
  );
}
