import { useCallback, useEffect, useState } from "react";

/** Whether this device can speak. */
export const canSpeak = (): boolean => typeof window !== "undefined" && "speechSynthesis" in window;

/** Say something, cutting off what is still being said: a prompt that comes late is worse than none. */
export function say(words: string): void {
  if (!canSpeak()) return;
  window.speechSynthesis.cancel();
  window.speechSynthesis.speak(new SpeechSynthesisUtterance(words));
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
