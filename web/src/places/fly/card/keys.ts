/** The console by a helper's keys: figures answer, Enter goes on, Backspace back, U takes the last answer back, Space the watch. */
import { type RefObject, useEffect, useRef } from "react";

interface Acts {
  primary: () => void;
  back: () => void;
  undo: () => void;
}

export function useConsoleKeys(section: RefObject<HTMLElement | null>, acts: Acts): void {
  const newest = useRef(acts);
  newest.current = acts;
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement;
      // Something else stands in the card's place, what is noted for one: no key answers behind it.
      if (!section.current) return;
      if (e.ctrlKey || e.metaKey || e.altKey || e.repeat) return;
      if (["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName) || document.querySelector("dialog[open]")) return;
      // A button that is focused by hand does what it says.
      const onButton = ["BUTTON", "A", "SUMMARY"].includes(target.tagName);
      const act = actOf(e.key, onButton, section.current, newest.current);
      if (!act) return;
      e.preventDefault();
      act();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [section]);
}

function actOf(key: string, onButton: boolean, section: HTMLElement | null, acts: Acts): (() => void) | null {
  if (/^[1-9]$/.test(key)) {
    const answer = section?.querySelectorAll<HTMLElement>("[data-answer]")[Number(key) - 1];
    return answer ? () => answer.click() : null;
  }
  if (key === " " && !onButton) {
    const watch = section?.querySelector<HTMLElement>("[data-watch]");
    return watch ? () => watch.click() : null;
  }
  if (key === "Enter" && !onButton) return acts.primary;
  if (key === "Backspace") return acts.back;
  return key.toLowerCase() === "u" ? acts.undo : null;
}
