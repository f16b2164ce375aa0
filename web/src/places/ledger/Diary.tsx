import { useId, useState } from "react";
import { LogEntry } from "../../components/LogEntry";
import { useTheModel } from "../../components/model-context";
import { useSettings } from "../../components/settings-context";
import { Loading, ProblemNote } from "../../components/ui/feedback";
import { type DiaryLine, useDiary } from "../../queries/diary";
import { useChooseRecord } from "../../queries/sorties";
import { byFlight, EVERYTHING, flownIn, found } from "./found";

/** So many lines are shown at first: the newest. */
const SHOWN = 60;

/** Everything that was said and seen, the newest first: found by words, flight or ground, corrected where it stands. */
export function Diary() {
  const model = useTheModel();
  const diary = useDiary(model.id);
  const [wanted, setWanted] = useState(EVERYTHING);
  const [all, setAll] = useState(false);
  const heading = useId();
  const lines = diary.data ? found(diary.data.lines, wanted) : [];
  const shown = all ? lines : lines.slice(0, SHOWN);
  return (
    <section className="mt-5" id="diary" aria-labelledby={heading} data-testid="diary">
      <div className="mb-1 flex flex-wrap items-baseline justify-between gap-2">
        <h2 id={heading} className="text-lg">
          What was said and seen
        </h2>
        <a className="btn min-h-11" href={`/api/v1/models/${model.id}/readings.csv`} download>
          All readings as a table (CSV)
        </a>
      </div>
      <div className="flex flex-wrap items-end gap-3">
        <label className="grow basis-56">
          Look for words
          <input
            type="search"
            className="input min-h-11 w-full text-base"
            value={wanted.words}
            onChange={(e) => setWanted({ ...wanted, words: e.target.value })}
          />
        </label>
        <label>
          <span className="mr-2">Of</span>
          <select
            className="select min-h-11 w-44 text-base"
            value={wanted.of}
            onChange={(e) => setWanted({ ...wanted, of: e.target.value })}
          >
            <option value="">everything</option>
            <option value="ground">bench and ground</option>
            {model.sorties.map((s) => (
              <option key={s.id} value={s.number}>
                sortie {s.number}
              </option>
            ))}
          </select>
        </label>
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="checkbox"
            checked={wanted.counting}
            onChange={(e) => setWanted({ ...wanted, counting: e.target.checked })}
          />
          only what counts
        </label>
      </div>
      {diary.isPending ? <Loading words="Reading the log…" /> : null}
      {diary.error && !diary.data ? <ProblemNote error={diary.error} onRetry={() => void diary.refetch()} /> : null}
      {diary.data ? (
        <p role="status" className="label-small mt-1">
          {counted(lines.length, diary.data.lines.length)}
        </p>
      ) : null}
      {byFlight(shown).map((group) => (
        <Group key={group.lines[0]?.id} of={group.of} lines={group.lines} />
      ))}
      {shown.length < lines.length ? (
        <button type="button" className="btn mt-2 min-h-11" onClick={() => setAll(true)}>
          Show all {lines.length}
        </button>
      ) : null}
    </section>
  );
}

function Group({ of, lines }: { of: string; lines: readonly DiaryLine[] }) {
  const model = useTheModel();
  const choose = useChooseRecord();
  const { show } = useSettings();
  const sortie = model.sorties.find((s) => String(s.number) === of);
  return (
    <>
      <h3 className="mt-3 font-bold">{of === "ground" ? "Bench and ground" : `Sortie ${of}`}</h3>
      {choose.error ? <ProblemNote error={choose.error} /> : null}
      <ol>
        {lines.map((line) => (
          <LogEntry
            key={line.id}
            line={line}
            title={line.title}
            flownIn={flownIn(line, show)}
            {...(sortie?.status === "landed"
              ? { correct: `/m/${model.id}/fly?sortie=${sortie.id}&entry=${line.id}` }
              : {})}
            readOnly={model.read_only}
            busy={choose.isPending}
            onChoose={() => choose.mutate(line.id)}
          />
        ))}
      </ol>
    </>
  );
}

function counted(few: number, all: number): string {
  if (all === 0) return "Nothing is logged yet.";
  if (few === 0) return "Nothing that is logged says that. Use fewer words, or look at everything.";
  return few === all ? `${all} entries` : `${few} of ${all} entries`;
}
