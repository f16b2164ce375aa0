import { useEffect, useRef, useState } from "react";
import type { BenchAnswer } from "../../api/client";
import { useSettings } from "../../components/settings-context";
import type { Quantity } from "../../domain/units";

const SAID = ["balance", "neutral_point", "static_margin", "mass"];
/** Numbers follow every move of a pointer: what they come to is said, not each on the way. */
const SETTLED_MS = 900;

interface Props {
  answer: BenchAnswer;
  /** What was done last, in words: "Undone". */
  done: string;
}

/** What a change has come to, for whoever does not see the numbers. */
export function SpokenNumbers({ answer, done }: Props) {
  const { show } = useSettings();
  const [said, setSaid] = useState("");
  const first = useRef(true);
  const words = answer.numbers
    .filter((n) => SAID.includes(n.key))
    .map((n) => `${n.label} ${show(Math.abs(n.value), n.quantity as Quantity)}${n.value < 0 ? ` ${n.below_zero}` : ""}`)
    .join(", ");
  useEffect(() => {
    if (first.current) {
      first.current = false;
      return;
    }
    const settled = setTimeout(() => setSaid(`${done ? `${done}. ` : ""}${words}.`), SETTLED_MS);
    return () => clearTimeout(settled);
  }, [words, done]);
  return (
    <p className="sr-only" role="status" data-testid="spoken-numbers">
      {said}
    </p>
  );
}
