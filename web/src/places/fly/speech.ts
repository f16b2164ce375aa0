import { useCallback, useEffect, useRef, useState } from "react";

/** Whether this device can speak. */
export const canSpeak = (): boolean => typeof window !== "undefined" && "speechSynthesis" in window;

/** Say something, cutting off what is still being said: a prompt that comes late is worse than none. */
export function say(words: string): void {
  if (!canSpeak()) return;
  window.speechSynthesis.cancel();
  window.speechSynthesis.speak(new SpeechSynthesisUtterance(words));
}

/** A short tone, where a voice is not there or not wanted. A device that lets no page sound stays silent. */
export function beep(times = 2): void {
  if (typeof AudioContext === "undefined") return;
  const audio = new AudioContext();
  for (let i = 0; i < times; i++) {
    const tone = audio.createOscillator();
    tone.frequency.value = 880;
    tone.connect(audio.destination);
    tone.start(audio.currentTime + 0.4 * i);
    tone.stop(audio.currentTime + 0.4 * i + 0.2);
    if (i === times - 1) tone.onended = () => void audio.close();
  }
}

const CALLS: readonly (readonly [number, string])[] = [
  [2, "Two minutes left."],
  [1, "One minute left."],
  [0, "Land now."],
];

/** Call the safe minutes that are left, each once: by voice where it is wanted and there, else by beeps, most at the end. */
export function useTimeCalls(left: number | null, aloud: boolean): void {
  const called = useRef(Number.POSITIVE_INFINITY);
  useEffect(() => {
    if (left === null) {
      called.current = Number.POSITIVE_INFINITY;
      return;
    }
    const due = CALLS.find(([at]) => left <= at && at < called.current && left > at - 1);
    if (!due) return;
    const [at, words] = due;
    called.current = at;
    if (aloud && canSpeak()) say(words);
    else beep(at === 0 ? 5 : 2);
  }, [left, aloud]);
}

/** A card as it is spoken. */
export function spoken(card: { title: string; steps: string[]; abort_when?: string | undefined }): string {
  return [card.title, ...card.steps, card.abort_when ?? ""].filter((s) => s !== "").join(" ");
}

interface Prompted {
  id: string;
  title: string;
  steps: string[];
  minutes: number;
}

/**
 * Prompts in flight for a pilot alone: each card is spoken, then the next one after the minutes it takes. Nothing needs a
 * hand; the sequence can be stopped, and ends by itself with the last card.
 */
export function usePrompter(cards: Prompted[]) {
  const [at, setAt] = useState<number | null>(null);
  const card = at === null ? undefined : cards[at];
  useEffect(() => {
    if (!card || at === null) return;
    say(spoken(card));
    const timer = setTimeout(() => setAt(at + 1 < cards.length ? at + 1 : null), card.minutes * 60_000);
    return () => clearTimeout(timer);
  }, [at, card, cards.length]);
  const stop = useCallback(() => {
    setAt(null);
    if (canSpeak()) window.speechSynthesis.cancel();
  }, []);
  return {
    card,
    start: () => setAt(0),
    next: () => setAt((i) => (i !== null && i + 1 < cards.length ? i + 1 : null)),
    stop,
  };
}
