/** A sentence the core says about work done: plain when it is well, in the signal colour when it is not. */
export function ChangeNote({ words, good }: { words: string; good: boolean }) {
  return (
    <p role="status" className={`my-1 font-semibold ${good ? "text-success" : "text-accent"}`}>
      {words}
    </p>
  );
}
