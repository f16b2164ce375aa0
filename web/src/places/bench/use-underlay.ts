import { useCallback, useEffect, useMemo, useState } from "react";
import type { Underlay } from "../../domain/underlay";
import { dropUnderlay, type KeptUnderlay, keepUnderlay, keptUnderlay } from "../../offline/underlays";

const LONGEST_SIDE = 2400;
const NO_ROOM = "This device has no room for the picture: it is shown until the page is left.";

/** The picture under the drawing of a model, its address for as long as the page shows it, and how to change it. */
export function useUnderlay(modelId: string) {
  const [kept, setKept] = useState<KeptUnderlay | null>(null);
  const [trouble, setTrouble] = useState("");
  const [url, setUrl] = useState("");
  useEffect(() => {
    let gone = false;
    void keptUnderlay(modelId).then(
      (found) => !gone && setKept(found),
      () => undefined,
    );
    return () => {
      gone = true;
    };
  }, [modelId]);
  const picture = kept?.picture;
  useEffect(() => {
    if (!picture) {
      setUrl("");
      return;
    }
    const made = URL.createObjectURL(picture);
    setUrl(made);
    return () => URL.revokeObjectURL(made);
  }, [picture]);
  const keep = useCallback(
    (next: KeptUnderlay) => {
      setKept(next);
      setTrouble("");
      void keepUnderlay(modelId, next).catch(() => setTrouble(NO_ROOM));
    },
    [modelId],
  );
  const read = useCallback(
    async (file: File) => {
      try {
        const found = await smaller(file);
        keep({ picture: found.picture, laid: untouched(found.width, found.height) });
        return true;
      } catch {
        setTrouble("This picture cannot be read here: choose a JPEG, PNG or WebP.");
        return false;
      }
    },
    [keep],
  );
  const drop = useCallback(() => {
    setKept(null);
    void dropUnderlay(modelId).catch(() => undefined);
  }, [modelId]);
  return useMemo(
    () => ({
      url,
      laid: kept?.laid ?? null,
      trouble,
      read,
      drop,
      change: (laid: Underlay) => kept && keep({ ...kept, laid }),
    }),
    [url, kept, trouble, read, drop, keep],
  );
}

/** A picture of which nobody has said yet how it lies. */
const untouched = (width: number, height: number): Underlay => ({
  width,
  height,
  first: { x: 0.1 * width, y: 0.5 * height },
  second: { x: 0.9 * width, y: 0.5 * height },
  anchor: "nose",
  along: "body",
  apart_m: 0,
  mirrored: false,
});

async function smaller(file: File): Promise<{ picture: Blob; width: number; height: number }> {
  const bitmap = await createImageBitmap(file);
  const scale = Math.min(1, LONGEST_SIDE / Math.max(bitmap.width, bitmap.height));
  const canvas = document.createElement("canvas");
  canvas.width = Math.round(bitmap.width * scale);
  canvas.height = Math.round(bitmap.height * scale);
  canvas.getContext("2d")?.drawImage(bitmap, 0, 0, canvas.width, canvas.height);
  bitmap.close();
  const picture = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/jpeg", 0.85));
  if (!picture) throw new Error("no picture");
  return { picture, width: canvas.width, height: canvas.height };
}
