/** Pictures laid under the drawing, one a model, kept on this device alone: an aid of the bench, nothing of the model. */
import { type DBSchema, openDB } from "idb";
import type { Underlay } from "../domain/underlay";

export interface KeptUnderlay {
  picture: Blob;
  laid: Underlay;
}

interface UnderlaySchema extends DBSchema {
  pictures: { key: string; value: { type: string; bytes: ArrayBuffer; laid: Underlay } };
}

const open = () =>
  openDB<UnderlaySchema>("jinba-underlays", 1, { upgrade: (db) => void db.createObjectStore("pictures") });

/** Keep a picture; rejects where the device has no room. */
export async function keepUnderlay(modelId: string, { picture, laid }: KeptUnderlay): Promise<void> {
  const db = await open();
  await db.put("pictures", { type: picture.type, bytes: await picture.arrayBuffer(), laid }, modelId);
  db.close();
}

/** The picture of a model, null without one. */
export async function keptUnderlay(modelId: string): Promise<KeptUnderlay | null> {
  const db = await open();
  const found = await db.get("pictures", modelId);
  db.close();
  return found ? { picture: new Blob([found.bytes], { type: found.type }), laid: found.laid } : null;
}

export async function dropUnderlay(modelId: string): Promise<void> {
  const db = await open();
  await db.delete("pictures", modelId);
  db.close();
}
