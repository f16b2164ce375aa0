import { useState } from "react";
import { useTheModel } from "../../components/model-context";
import { ProblemNote } from "../../components/ui/feedback";
import { useRename } from "../../queries/models";

/** Its name and its story; taken back by one tap. */
export function Rename() {
  const model = useTheModel();
  const rename = useRename(model.id);
  const [name, setName] = useState(model.name);
  const [story, setStory] = useState(model.story);
  const [before, setBefore] = useState<{ name: string; story: string } | null>(null);
  if (model.read_only) return null;
  const was = { name: model.name, story: model.story };
  const same = name.trim() === was.name && story.trim() === was.story;
  return (
    <form
      className="mt-5"
      id="name"
      onSubmit={(e) => {
        e.preventDefault();
        rename.mutate({ name, story }, { onSuccess: () => setBefore(was) });
      }}
    >
      <h2 className="mb-1 text-lg">Its name and its story</h2>
      <label className="flex max-w-xl flex-col gap-1">
        Name
        <input
          className="input min-h-11 w-full text-base"
          value={name}
          maxLength={60}
          onChange={(e) => setName(e.target.value)}
        />
      </label>
      <label className="mt-2 flex max-w-xl flex-col gap-1">
        What it is, in your words
        <textarea
          className="textarea w-full text-base"
          rows={3}
          value={story}
          maxLength={2000}
          onChange={(e) => setStory(e.target.value)}
        />
      </label>
      <p className="mt-2 flex flex-wrap items-center gap-2">
        <button type="submit" className="btn min-h-11" disabled={same || name.trim() === "" || rename.isPending}>
          Keep name and story
        </button>
        {before ? (
          <span role="status" className="flex items-center gap-2">
            Kept.
            <button
              type="button"
              className="btn btn-ghost min-h-11"
              onClick={() =>
                rename.mutate(before, {
                  onSuccess: () => {
                    setName(before.name);
                    setStory(before.story);
                    setBefore(null);
                  },
                })
              }
            >
              Undo
            </button>
          </span>
        ) : null}
      </p>
      {rename.error ? <ProblemNote error={rename.error} /> : null}
    </form>
  );
}
