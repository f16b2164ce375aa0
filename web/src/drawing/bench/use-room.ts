import { type RefObject, useEffect, useState } from "react";

const UNKNOWN = { width: 820, tallest: 640 };
const TALLEST = 640;
const LEAST = 400;
/** What stands above and below the drawing on a laptop: shell, the numbers and what they say. */
const AROUND = 306;
const WIDE = 1280;

/** How much room a drawing has: as wide as its sheet, and on a laptop no taller than leaves its numbers in view. */
export function useRoom(sheet: RefObject<HTMLElement | null>) {
  const [room, setRoom] = useState(UNKNOWN);
  useEffect(() => {
    const element = sheet.current;
    if (!element) return;
    const measure = () => {
      const width = Math.round(element.clientWidth);
      if (!width) return;
      const laptop = window.innerWidth >= WIDE;
      const tallest = laptop ? Math.max(LEAST, Math.min(TALLEST, window.innerHeight - AROUND)) : TALLEST;
      setRoom((now) => (now.width === width && now.tallest === tallest ? now : { width, tallest }));
    };
    measure();
    const watch = new ResizeObserver(measure);
    watch.observe(element);
    window.addEventListener("resize", measure);
    return () => {
      watch.disconnect();
      window.removeEventListener("resize", measure);
    };
  }, [sheet]);
  return room;
}
