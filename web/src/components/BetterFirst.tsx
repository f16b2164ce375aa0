import { Link } from "react-router";
import type { Said } from "../api/client";
import { useTheModel } from "./model-context";

/** Where on the bench a reading is taken, by what is asked for. */
const TOOL: Record<string, readonly [tool: string, words: string]> = {
  read_again: ["weigh", "Weigh it again"],
  incidence: ["airframe", "To the wing's incidence"],
};

/** What is better done first, each with what it adds and the tool it is done with; a proposal, never a stop. Nothing where nothing is. */
export function BetterFirst({ found, title }: { found: readonly Said[]; title: string }) {
  const model = useTheModel();
  if (found.length === 0) return null;
  return (
    <section className="sheet mb-3 p-2" data-testid="better-first">
      <p className="font-semibold">{title}</p>
      <ul className="list-disc pl-5">
        {found.map((s) => {
          const [tool, words] = TOOL[s.code] ?? [];
          return (
            <li key={s.code} className="my-1">
              <span className="flex flex-wrap items-center justify-between gap-2">
                <span className="max-w-prose">{s.words}</span>
                {tool ? (
                  <Link className="btn no-print min-h-11" to={`/m/${model.id}/bench?tool=${tool}`}>
                    {words}
                  </Link>
                ) : null}
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
