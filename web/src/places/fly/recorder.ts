import { useCallback, useEffect, useRef, useState } from "react";
import type { Medium } from "../../offline/outbox";

/** A minute is enough: who needs more notes again. */
const LONGEST_MS = 60_000;
const BITS_PER_SECOND = 24_000;

/** Whether this device can record a voice: a microphone is let in behind a trusted certificate only. */
export const canRecord = (): boolean =>
  typeof MediaRecorder !== "undefined" && Boolean(globalThis.navigator?.mediaDevices?.getUserMedia);

/** A voice note being recorded: it begins at once, ends by a tap, by itself after a minute, or when the page is put away. */
export function useRecorder(onRecorded: (voice: Medium) => void) {
  const [since, setSince] = useState<number | null>(null);
  const [problem, setProblem] = useState("");
  const recorder = useRef<MediaRecorder | null>(null);
  const asking = useRef(false);
  const left = useRef(false);
  const stop = useCallback(() => {
    if (recorder.current?.state === "recording") recorder.current.stop();
  }, []);
  const start = useCallback(async () => {
    if (asking.current || recorder.current) return;
    asking.current = true;
    setProblem("");
    try {
      const sound = await navigator.mediaDevices.getUserMedia({ audio: true });
      // Whoever has gone back to flying meanwhile is not listened to.
      if (left.current) {
        for (const track of sound.getTracks()) track.stop();
        return;
      }
      const running = new MediaRecorder(sound, { audioBitsPerSecond: BITS_PER_SECOND });
      const parts: Blob[] = [];
      running.ondataavailable = (e) => parts.push(e.data);
      running.onstop = () => {
        for (const track of sound.getTracks()) track.stop();
        recorder.current = null;
        setSince(null);
        const whole = new Blob(parts, { type: running.mimeType });
        if (whole.size === 0) setProblem("Nothing was recorded. Try it once more, or type it.");
        else void whole.arrayBuffer().then((bytes) => onRecorded({ kind: "voice", type: running.mimeType, bytes }));
      };
      recorder.current = running;
      running.start();
      setSince(Date.now());
      setTimeout(() => running.state === "recording" && running.stop(), LONGEST_MS);
    } catch {
      setProblem("The microphone was not let in. Allow it for this page in the browser's settings, or type it.");
    } finally {
      asking.current = false;
    }
  }, [onRecorded]);
  useEffect(() => {
    left.current = false;
    const away = () => document.visibilityState === "hidden" && stop();
    document.addEventListener("visibilitychange", away);
    return () => {
      document.removeEventListener("visibilitychange", away);
      left.current = true;
      stop();
    };
  }, [stop]);
  return { since, problem, start, stop };
}
