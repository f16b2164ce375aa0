import { Link } from "react-router";
import type { LogLine } from "../api/client";

interface Props {
  line: LogLine;
  /** Of its card. */
  title: string | undefined;
  /** What it was flown in, in words; left out where that stands elsewhere. */
  flownIn?: string;
  /** Where it is corrected; left out where it can only be chosen. */
  correct?: string;
  readOnly: boolean;
  busy: boolean;
  onChoose: () => void;
}

/** An entry of the log: what was said, whether it counts, who logged it and when. */
export function LogEntry({ line, title, flownIn, correct, readOnly, busy, onChoose }: Props) {
  const { record } = line;
  const state = line.replaced
    ? "corrected by a later entry"
    : line.contested
      ? line.counts
        ? "counts, another device says otherwise"
        : "does not count, another device says otherwise"
      : line.counts
        ? ""
        : "said again later";
  return (
    <li className="border-b border-base-300 py-2" data-entry={record.card_id} data-counts={line.counts}>
      <div className="flex flex-wrap items-baseline justify-between gap-2">
        <p className={line.counts ? "font-semibold" : "text-secondary line-through"}>
          {record.card_id} {title}, {record.outcome}
        </p>
        {line.replaced || readOnly ? null : (
          <span className="no-print flex gap-2">
            {line.contested ? (
              <button type="button" className="btn btn-sm min-h-11" disabled={busy} onClick={onChoose}>
                This one counts
              </button>
            ) : null}
            {correct ? (
              <Link className="btn btn-ghost btn-sm min-h-11" to={correct}>
                Correct
              </Link>
            ) : null}
          </span>
        )}
      </div>
      <p className="text-sm">{line.said.join("; ") || "nothing measured"}</p>
      <p className="label-small">
        {[state, line.replaces ? "a correction" : "", flownIn, who(line)].filter((part) => part).join("; ")}
      </p>
    </li>
  );
}

function who(line: LogLine): string {
  const by = line.logged_by || line.device_name || "";
  const when = new Date(line.flown_at ?? line.recorded_at).toLocaleString();
  return by ? `${by}, ${when}` : when;
}
