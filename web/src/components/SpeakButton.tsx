import { useEffect, useRef, useState } from "react";

/** The part of the Web Speech API that is used: recognition on the device itself, which needs no network. */
interface Recognizer {
  lang: string;
  processLocally: boolean;
  onresult: ((e: { results: ArrayLike<ArrayLike<object>> }) => void) | null;
  onerror: ((e: { error: string }) => void) | null;
  onend: (() => void) | null;
  start(): void;
  stop(): void;
  abort(): void;
}
interface RecognizerClass {
  new (): Recognizer;
  available?(asked: { langs: string[]; processLocally: boolean }): Promise<string>;
}

const recognizer = (): RecognizerClass | undefined =>
  (window as unknown as { SpeechRecognition?: RecognizerClass }).SpeechRecognition;

/** Whether this browser recognises speech by itself, without sending it anywhere. */
async function recognisesHere(lang: string): Promise<boolean> {
  try {
    return (await recognizer()?.available?.({ langs: [lang], processLocally: true })) === "available";
  } catch {
    return false;
  }
}

/** The words of what was understood: the one text it has; beside it stands only how sure it is. */
function wordsOf(heard: object | undefined): string {
  for (const key in heard ?? {}) {
    const value = (heard as Record<string, unknown>)[key];
    if (typeof value === "string") return value.trim();
  }
  return "";
}

const WHY_NOT: Record<string, string> = {
  "not-allowed": "The microphone is not allowed: type it, or allow it for this page.",
  "no-speech": "Nothing was heard: say it again, or type it.",
};

/** Say it instead of typing it: there only where the device itself understands speech; what was understood is shown as typed. */
export function SpeakButton({ what, onText }: { what: string; onText: (text: string) => void }) {
  const [here, setHere] = useState(false);
  const [listening, setListening] = useState(false);
  const [refused, setRefused] = useState("");
  const now = useRef<Recognizer | null>(null);
  useEffect(() => {
    let gone = false;
    void recognisesHere(navigator.language).then((yes) => !gone && setHere(yes));
    return () => {
      gone = true;
      now.current?.abort();
    };
  }, []);
  if (!here) return null;
  const start = () => {
    const Recognition = recognizer();
    if (!Recognition) return;
    const r = new Recognition();
    r.lang = navigator.language;
    r.processLocally = true;
    r.onresult = (e) => {
      const heard = Array.from(e.results, (one) => wordsOf(one[0]))
        .join(" ")
        .trim();
      if (heard) onText(heard);
    };
    r.onerror = (e) => setRefused(WHY_NOT[e.error] ?? "It was not understood: say it again, or type it.");
    r.onend = () => setListening(false);
    now.current = r;
    setRefused("");
    setListening(true);
    r.start();
  };
  return (
    <span className="block">
      <button
        type="button"
        className="btn mt-1 min-h-11"
        aria-pressed={listening}
        aria-label={`${listening ? "Listening" : "Say it"}: ${what}`}
        onClick={() => (listening ? now.current?.stop() : start())}
      >
        {listening ? "Listening… tap when said" : "Say it"}
      </button>
      {refused ? (
        <span role="alert" className="block font-semibold text-error">
          {refused}
        </span>
      ) : null}
    </span>
  );
}
