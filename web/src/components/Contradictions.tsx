import type { Said } from "../api/client";

/** What cannot both be true: which two, what each would mean, how to tell. Nothing where nothing contradicts. */
export function Contradictions({ found }: { found: readonly Said[] }) {
  if (found.length === 0) return null;
  return (
    <section className="sheet mb-3 border-l-4 border-l-accent p-2" data-testid="contradictions">
      <p className="font-bold text-accent">This does not go together</p>
      <ul className="list-disc pl-5">
        {found.map((c) => (
          <li key={c.words}>{c.words}</li>
        ))}
      </ul>
    </section>
  );
}
