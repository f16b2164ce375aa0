import type { Medium } from "../../offline/outbox";

const LONGEST_SIDE = 1280;
const QUALITY = 0.8;

/** A photo made small enough to wait on the device and to go over a poor line; as it came where this browser cannot. */
export async function smallPicture(file: File): Promise<Medium> {
  const made = await shrunk(file).catch(() => null);
  const kept = made ?? file;
  return { kind: "photo", type: kept.type || "image/jpeg", bytes: await kept.arrayBuffer() };
}

async function shrunk(file: File): Promise<Blob | null> {
  const picture = await createImageBitmap(file);
  const scale = Math.min(1, LONGEST_SIDE / Math.max(picture.width, picture.height));
  const canvas = document.createElement("canvas");
  canvas.width = Math.round(picture.width * scale);
  canvas.height = Math.round(picture.height * scale);
  canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
  picture.close();
  return new Promise((done) => canvas.toBlob(done, "image/jpeg", QUALITY));
}
