import type { ReactNode } from "react";
import { ProblemError } from "../../api/client";

/** What went wrong, in words, with a way to try again. */
export function ProblemNote({ error, onRetry }: { error: unknown; onRetry?: (() => void) | undefined }) {
  const problem = error instanceof ProblemError ? error.problem : null;
  return (
    <div role="alert" className="sheet my-2 border-l-4 border-l-error p-3">
      <p className="font-semibold">{problem?.title ?? "Something went wrong on this page. Load it again."}</p>
      {problem && problem.violations.length > 1 ? (
        <ul className="mt-1 list-disc pl-5 text-sm">
          {problem.violations.map((v) => (
            <li key={v.pointer + v.detail}>{v.detail}</li>
          ))}
        </ul>
      ) : null}
      {onRetry ? (
        <button type="button" className="btn btn-sm mt-2" onClick={onRetry}>
          Try again
        </button>
      ) : null}
    </div>
  );
}

/** Something is being fetched or computed. */
export function Loading({ words }: { words: string }) {
  return (
    <p className="flex items-center gap-3 p-6 text-secondary" aria-live="polite">
      <span className="loading loading-sm" aria-hidden="true" /> {words}
    </p>
  );
}

/** A heading with room for actions. */
export function Heading({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="mb-3 flex flex-wrap items-end justify-between gap-2">
      <h1 className="text-2xl">{title}</h1>
      <div className="no-print flex flex-wrap gap-2">{children}</div>
    </div>
  );
}
