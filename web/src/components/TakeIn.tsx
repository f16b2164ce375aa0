import { useRef, useState } from "react";
import { Link } from "react-router";
import { NoLogError, type TakenIn, takeIn } from "../offline/hand-over";
import { useOutbox } from "../offline/use-outbox";

/** A log that another device has handed over by file: taken in here, and sent from here. */
export function TakeIn() {
  const input = useRef<HTMLInputElement>(null);
  const [done, setDone] = useState<TakenIn | null>(null);
  const [trouble, setTrouble] = useState("");
  const { waiting, refused } = useOutbox();
  const read = (file: File) => {
    setDone(null);
    setTrouble("");
    void takeIn(file).then(setDone, (e: unknown) =>
      setTrouble(e instanceof NoLogError ? e.message : "It could not be kept on this device. Nothing was taken in."),
    );
  };
  return (
    <section className="sheet p-3" data-testid="take-in">
      <h2 className="text-xl font-semibold">A phone that reaches no program</h2>
      <p className="mt-1">
        It hands over what it has logged as a file, under “only on this device”. Taken in twice, or sent by the phone as
        well, it still counts once.
      </p>
      <button type="button" className="btn mt-2 min-h-11" onClick={() => input.current?.click()}>
        Take in a log file
      </button>
      <input
        ref={input}
        type="file"
        accept=".json,application/json"
        className="hidden"
        aria-label="log file"
        onChange={(e) => {
          const file = e.target.files?.[0];
          if (file) read(file);
          e.target.value = "";
        }}
      />
      {done ? (
        <p role="status" className="mt-2 font-semibold" data-testid="taken-in">
          {taken(done)}{" "}
          {waiting.length > 0
            ? "They are being sent."
            : refused.length > 0
              ? "Some were not accepted."
              : done.taken > 0
                ? "They are in the program."
                : ""}{" "}
          {waiting.length + refused.length > 0 ? (
            <Link className="underline" to="/waiting">
              See what is on this device
            </Link>
          ) : null}
        </p>
      ) : null}
      {trouble ? (
        <p role="alert" className="mt-2 font-semibold text-accent">
          {trouble}
        </p>
      ) : null}
    </section>
  );
}

function taken({ taken, known }: TakenIn): string {
  const words = `${taken} ${taken === 1 ? "entry" : "entries"} taken in`;
  return known > 0 ? `${words}, ${known} ${known === 1 ? "was" : "were"} here already.` : `${words}.`;
}
