import { useState } from "react";
import { inOwnUnits } from "../../api/client";
import { useTheModel } from "../../components/model-context";
import { ProblemNote } from "../../components/ui/feedback";
import { useHandOver, useSignOff, useTakeBackSignOff } from "../../queries/sorties";

/** The end: what is as it should be, what is missing, who hands the model over. Missing things need a reason. */
export function HandOver() {
  const model = useTheModel();
  const found = useHandOver(model.id);
  const sign = useSignOff(model.id);
  const takeBack = useTakeBackSignOff(model.id);
  const [by, setBy] = useState("");
  const [remark, setRemark] = useState("");
  if (!found.data) return found.error ? <ProblemNote error={found.error} /> : null;
  const { criteria, signed_off } = found.data;
  const missing = criteria.filter((c) => !c.met);
  return (
    <section className="mt-5" data-testid="hand-over">
      <h2 className="text-lg">
        Hand-over{" "}
        <span className="text-base font-normal">
          {criteria.length - missing.length} of {criteria.length} as they should be
        </span>
      </h2>
      <ul>
        {criteria.map((c) => (
          <li key={c.words} className={`flex gap-2 border-b border-base-300 py-1 ${c.met ? "" : "font-semibold"}`}>
            <span aria-hidden="true" className="w-4 shrink-0">
              {c.met ? "✓" : "–"}
            </span>
            <span className="sr-only">{c.met ? "as it should be:" : "missing:"}</span>
            <span className={c.met ? "" : "text-accent"}>{c.words}</span>
          </li>
        ))}
      </ul>
      <p className="my-2">
        <a className="underline" href={inOwnUnits(`/api/v1/models/${model.id}/hand-over.pdf`)}>
          Hand-over sheet, to print
        </a>
      </p>
      {signed_off ? (
        <div className="sheet border-l-4 border-l-success p-2">
          <p className="font-semibold">
            Signed off by {signed_off.signed_by} after sortie {signed_off.sortie}.
          </p>
          {signed_off.missing.length > 0 ? <p>Handed over all the same: {signed_off.remark}</p> : null}
          <button
            type="button"
            className="btn btn-sm mt-1"
            disabled={takeBack.isPending || model.read_only}
            onClick={() => takeBack.mutate(signed_off.id)}
          >
            Take it back
          </button>
        </div>
      ) : (
        <form
          className="sheet p-2"
          onSubmit={(e) => {
            e.preventDefault();
            sign.mutate({ signed_by: by.trim(), remark: remark.trim() });
          }}
        >
          <label className="block">
            <span className="block">Your name</span>
            <input
              className="input mt-1 w-full max-w-sm text-base"
              maxLength={80}
              value={by}
              onChange={(e) => setBy(e.target.value)}
            />
          </label>
          {missing.length > 0 ? (
            <label className="mt-2 block">
              {missing.length === 1
                ? "One thing is not as it should be."
                : `${missing.length} things are not as they should be.`}{" "}
              You hand it over all the same? Say why.
              <input
                className="input mt-1 w-full text-base"
                maxLength={300}
                value={remark}
                onChange={(e) => setRemark(e.target.value)}
              />
            </label>
          ) : null}
          {sign.error ? <ProblemNote error={sign.error} /> : null}
          <button
            type="submit"
            className="btn mt-2"
            disabled={
              sign.isPending || model.read_only || by.trim() === "" || (missing.length > 0 && remark.trim().length < 8)
            }
          >
            {missing.length > 0 ? "Hand it over as it is" : "Accept and sign off"}
          </button>
        </form>
      )}
    </section>
  );
}
