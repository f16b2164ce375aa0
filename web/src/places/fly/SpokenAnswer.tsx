import { useState } from "react";
import type { Capture, Reading } from "../../api/client";
import { aReading } from "../../api/records";
import { SpeakButton } from "../../components/SpeakButton";
import { answerHeard } from "../../domain/heard";
import { say } from "./speech";

interface Props {
  capture: Capture;
  onReading: (reading: Reading) => void;
}

/** An answer said instead of tapped, where the device itself understands speech: said back, and undone like any other. */
export function SpokenAnswer({ capture, onReading }: Props) {
  const [missed, setMissed] = useState("");
  if (!capture.options?.length) return null;
  const hear = (heard: string) => {
    const meant = answerHeard(capture.options, heard);
    setMissed(meant ? "" : heard);
    say(meant ? meant.words : "Not understood: tap it.");
    if (meant) onReading(aReading({ key: capture.key, choice: meant.key }));
  };
  return (
    <div className="flex flex-wrap items-center gap-2">
      <SpeakButton what={capture.label} onText={hear} />
      {missed ? (
        <p role="status" className="text-lg">
          Heard “{missed}”: that is none of them, or two. Tap it.
        </p>
      ) : null}
    </div>
  );
}
