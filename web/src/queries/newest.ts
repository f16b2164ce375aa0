import { useEffect, useRef, useState } from "react";

interface Newest<Answer> {
  /** The newest answer there is, null before the first and when nothing is asked. */
  data: Answer | null;
  error: unknown;
  /** Whether the answer shown is of an earlier question. */
  behind: boolean;
}

/**
 * Ask for the newest question only: one request is under way, of those that come meanwhile the last one goes next. The answers
 * shown never go back to an earlier question. With no question nothing is asked and nothing shown.
 */
export function useNewest<Question, Answer>(
  question: Question | null,
  ask: (question: Question) => Promise<Answer>,
): Newest<Answer> {
  const [state, setState] = useState<{ of: Question | null; data: Answer | null; error: unknown }>(EMPTY);
  const asking = useRef(ask);
  asking.current = ask;
  const wanted = useRef<Question | null>(null);
  const busy = useRef(false);
  useEffect(() => {
    wanted.current = question;
    if (question === null) {
      setState(EMPTY);
      return;
    }
    if (busy.current) return;
    busy.current = true;
    void (async () => {
      let asked: Question | null = null;
      while (wanted.current !== null && wanted.current !== asked) {
        asked = wanted.current;
        const of = asked;
        try {
          const data = await asking.current(of);
          if (wanted.current !== null) setState({ of, data, error: null });
        } catch (error) {
          if (wanted.current !== null) setState((before) => ({ of, data: before.data, error }));
        }
      }
      busy.current = false;
    })();
  }, [question]);
  return { data: state.data, error: state.error, behind: question !== null && state.of !== question };
}

const EMPTY = { of: null, data: null, error: null };
