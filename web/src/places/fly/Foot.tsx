import { useEffect, useRef } from "react";
import { Link } from "react-router";
import type { SortieDetail } from "../../api/client";
import { ShownCode } from "../../components/ShownCode";
import { ProblemNote } from "../../components/ui/feedback";
import { useField, useShowCode } from "../../queries/pairing";
import { canSpeak } from "./speech";

interface QuestionProps {
  count: number;
  onLand: () => void;
  onLeave: () => void;
}

/** Landing while the program has not accepted something: the debrief would lack it. What only waits is sent before the landing. */
export function LandingQuestion({ count, onLand, onLeave }: QuestionProps) {
  const shown = useRef<HTMLElement>(null);
  // Asked from the foot of a long card: it must not come up out of sight.
  useEffect(() => {
    shown.current?.scrollIntoView({ block: "center" });
  }, []);
  return (
    <section
      ref={shown}
      role="alert"
      className="sheet my-2 border-l-4 border-l-accent p-3 text-lg"
      data-testid="landing-question"
    >
      <p className="font-semibold">
        {count} {count === 1 ? "entry of this sortie was" : "entries of this sortie were"} not accepted.
      </p>
      <p>Landed now, the debrief lacks them; mended later they are taken and it is computed anew.</p>
      <div className="mt-2 grid gap-2 sm:grid-cols-3">
        <Link className="field-choice flex items-center justify-center" to="/waiting">
          Mend them first
        </Link>
        <button type="button" className="field-choice" onClick={onLand}>
          Land all the same
        </button>
        <button type="button" className="field-choice" onClick={onLeave}>
          Not yet
        </button>
      </div>
    </section>
  );
}

interface FootProps {
  sortie: SortieDetail;
  busy: boolean;
  flying: boolean;
  aloud: boolean;
  onAloud: (aloud: boolean) => void;
  onStandIn: (() => void) | null;
  onLand: (() => void) | null;
  /** It is down: what is left are the cards after landing. */
  onTheGround: boolean;
  onHappened: (() => void) | null;
  onCallOff: (() => void) | null;
}

export function Foot(props: FootProps) {
  const { sortie, busy, flying, aloud, onAloud, onStandIn, onLand, onTheGround, onHappened, onCallOff } = props;
  return (
    <div className="mt-3 space-y-2 pb-2">
      {canSpeak() ? (
        <label className="flex min-h-14 items-center gap-3 text-lg">
          <input
            type="checkbox"
            className="toggle toggle-lg"
            checked={aloud}
            onChange={(e) => onAloud(e.target.checked)}
          />
          Read cards and minutes aloud
        </label>
      ) : null}
      <div className="flex flex-wrap gap-2">
        {onCallOff ? (
          <button
            type="button"
            className="btn h-auto min-h-14 flex-1 basis-40 py-2 text-lg"
            onClick={onCallOff}
            disabled={busy}
          >
            Call this sortie off
          </button>
        ) : onLand ? (
          <button
            type="button"
            className="btn h-auto min-h-14 flex-1 basis-40 py-2 text-lg"
            onClick={onLand}
            disabled={busy}
          >
            {onTheGround ? "To the debrief at once" : "It has landed"}
          </button>
        ) : null}
        {onHappened ? (
          <button
            type="button"
            className="btn h-auto min-h-14 flex-1 basis-40 py-2 text-lg"
            onClick={onHappened}
            disabled={busy}
          >
            Something went wrong
          </button>
        ) : null}
        {onStandIn ? (
          <button
            type="button"
            className="btn h-auto min-h-14 flex-1 basis-40 py-2 text-lg"
            onClick={onStandIn}
            disabled={busy}
          >
            {flying ? "The stand-in is flying…" : "Let the stand-in fly this sortie"}
          </button>
        ) : null}
      </div>
      {onLand ? <HelperWanted sortieId={sortie.id} /> : null}
      <p className="label-small">
        {onStandIn
          ? `Rehearsal: the stand-in is a simulated model with hidden faults; it logs what a pilot would. Sortie ${sortie.number}.`
          : !onLand
            ? `Sortie ${sortie.number}, logged by a helper.`
            : `Sortie ${sortie.number}. To try it out first, make a rehearsal copy in the ledger.`}
      </p>
    </div>
  );
}

/** A helper with a phone of his own: a code that opens this sortie to him, for logging and nothing else. */
function HelperWanted({ sortieId }: { sortieId: string }) {
  const field = useField();
  const show = useShowCode();
  if (!field.data?.serving) return null;
  return (
    <div>
      {show.data ? (
        <ShownCode
          code={show.data}
          words="The helper's camera reads it; his phone then logs this sortie and opens nothing else."
        />
      ) : (
        <button
          type="button"
          className="btn min-h-14 w-full text-lg"
          onClick={() => show.mutate(sortieId)}
          disabled={show.isPending}
        >
          A helper logs with his own phone
        </button>
      )}
      {show.error ? <ProblemNote error={show.error} /> : null}
    </div>
  );
}
