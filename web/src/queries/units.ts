import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { speakIn } from "../api/client";
import { useSettings } from "../components/settings-context";
import { spokenUnits } from "../domain/settings";

/** Sentences come in the pilot's own units; when these change, everything shown is asked for anew. */
export function useSpokenUnits(): void {
  const { settings } = useSettings();
  const units = spokenUnits(settings);
  const shown = useRef(units);
  const cache = useQueryClient();
  // Before anything below asks: effects of what is shown run before those of the application.
  speakIn(units);
  useEffect(() => {
    if (shown.current === units) return;
    shown.current = units;
    void cache.invalidateQueries();
  }, [units, cache]);
}
