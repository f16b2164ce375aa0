import { useId, useState } from "react";
import { ProblemError } from "../api/client";
import { type PhotoOf, useAddPhoto, usePhotos, useTakePhotoBack } from "../queries/photos";
import { useTheModel } from "./model-context";

interface Props {
  of: PhotoOf;
  /** What is seen on them, for whoever does not see them. */
  what: string;
}

/** Photos of an incident or of work that was done: small, side by side, each opens whole; added from camera or album. */
export function Photos({ of, what }: Props) {
  const model = useTheModel();
  const photos = usePhotos(model.id);
  const add = useAddPhoto(model.id, of);
  const takeBack = useTakePhotoBack(model.id);
  const input = useId();
  const [sending, setSending] = useState("");
  const [refused, setRefused] = useState<string[]>([]);
  const shown = (photos.data ?? []).filter((p) =>
    "record_id" in of
      ? p.record_id === of.record_id
      : p.work_order_id === of.work_order_id && p.position === of.position,
  );
  const send = async (files: File[]) => {
    const failed: string[] = [];
    for (const [i, file] of files.entries()) {
      setSending(files.length > 1 ? `Adding ${i + 1} of ${files.length}…` : "Adding…");
      try {
        await add.mutateAsync(file);
      } catch (e) {
        failed.push(`${file.name}: ${e instanceof ProblemError ? e.problem.title : "not added; choose it again."}`);
      }
    }
    setSending("");
    setRefused(failed);
  };
  return (
    <div className="mt-1" data-testid="photos">
      {shown.length > 0 ? (
        <ul className="flex flex-wrap gap-2">
          {shown.map((p, i) => (
            <li key={p.id} className="w-28">
              <a href={`/api/v1/photos/${p.id}/image`} target="_blank" rel="noreferrer">
                <img
                  src={`/api/v1/photos/${p.id}/image`}
                  alt={`${what}, ${i + 1} of ${shown.length}${p.caption ? `: ${p.caption}` : ""}`}
                  className="h-24 w-28 border border-base-content object-cover"
                  loading="lazy"
                />
              </a>
              {model.read_only ? null : (
                <button
                  type="button"
                  className="no-print min-h-11 text-sm underline"
                  disabled={takeBack.isPending}
                  onClick={() => takeBack.mutate(p.id)}
                >
                  take back<span className="sr-only"> photo {i + 1}</span>
                </button>
              )}
            </li>
          ))}
        </ul>
      ) : null}
      {model.read_only ? null : (
        <div className="no-print mt-1">
          <label htmlFor={input} className={`btn btn-sm min-h-11 ${sending ? "btn-disabled" : ""}`}>
            {sending || "Add a photo"}
          </label>
          <input
            id={input}
            type="file"
            className="sr-only"
            accept="image/jpeg,image/png,image/webp"
            multiple
            aria-label={`Add a photo: ${what}`}
            disabled={sending !== ""}
            onChange={(e) => {
              const files = [...(e.target.files ?? [])];
              e.target.value = "";
              void send(files);
            }}
          />
        </div>
      )}
      {[...refused, ...(takeBack.error ? ["It is still there: try again."] : [])].map((words) => (
        <p key={words} role="alert" className="mt-1 font-semibold text-error">
          {words}
        </p>
      ))}
    </div>
  );
}
