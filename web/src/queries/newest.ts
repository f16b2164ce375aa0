import { replaceEqualDeep } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";

interface Newest<Question, Answer> {
  /** The newest answer there is, null before the first and when nothing is asked. */
  data: Answer | null;
  error: unknown;
  /** Whether the answer shown is of an earlier question. */
  behind: boolean;
  /** Ask at once what will be the question of the next rendering: the answer is on its way while the page is drawn. */
  ahead: (question: Question) => void;
}

/**
 * Ask for the newest question only: one request is under way, of those that come meanwhile the last one goes next. The answers
 * shown never go back to an earlier question. With no question nothing is asked and nothing shown. What is the same in two
 * answers is the very same object, so that nothing of it is drawn anew.
 */
export function useNewest<Question, Answer>(
  question: Question | null,
  ask: (question: Question) => Promise<Answer>,
): Newest<Question, Answer> {
  const [state, setState] = useState<State<Question, Answer>>(EMPTY);
  const asking = useRef(ask);
  asking.current = ask;
  const wanted = useRef<Question | null>(null);
  const asked = useRef<Question | null>(null);
  const busy = useRef(false);
  const ahead = useCallback((next: Question) => {
    wanted.current = next;
    if (busy.current) return;
    busy.current = true;
    void (async () => {
      while (wanted.current !== null && wanted.current !== asked.current) {
        const of = wanted.current;
        asked.current = of;
        try {
          const data = await asking.current(of);
          if (wanted.current !== null)
            setState((before) => ({ of, data: replaceEqualDeep(before.data, data), error: null }));
        } catch (error) {
          if (wanted.current !== null) setState((before) => ({ of, data: before.data, error }));
        }
      }
      busy.current = false;
    })();
  }, []);
  useEffect(() => {
    if (question !== null) {
      ahead(question);
      return;
    }
    wanted.current = asked.current = null;
    setState(EMPTY);
  }, [question, ahead]);
  return { data: state.data, error: state.error, behind: question !== null && state.of !== question, ahead };
}

interface State<Question, Answer> {
  of: Question | null;
  data: Answer | null;
  error: unknown;
}

const EMPTY = { of: null, data: null, error: null };
