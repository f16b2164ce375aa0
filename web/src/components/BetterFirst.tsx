import type { ReactNode } from "react";
import type { Said } from "../api/client";

/** What is better done first, each with what it adds; a proposal, never a stop. Nothing where nothing is. */
export function BetterFirst({
  found,
  title,
  children,
}: {
  found: readonly Said[];
  title: string;
  children?: ReactNode;
}) {
  if (found.length === 0) return null;
  return (
    <section className="sheet mb-3 flex flex-wrap items-center justify-between gap-2 p-2" data-testid="better-first">
      <div className="max-w-prose">
        <p className="font-semibold">{title}</p>
        <ul className="list-disc pl-5">
          {found.map((s) => (
            <li key={s.code}>{s.words}</li>
          ))}
        </ul>
      </div>
      {children}
    </section>
  );
}
