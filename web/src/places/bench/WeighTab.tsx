import { useState } from "react";
import type { BenchAnswer } from "../../api/client";
import { QuantityField } from "../../components/quantity/QuantityField";
import { useSettings } from "../../components/settings-context";
import type { TabProps } from "./BenchPage";

/** The measured balance point and the published one; the jig counts, the disagreement with the items is shown. */
export function WeighTab({ setup, readOnly, save, answer }: TabProps & { answer: BenchAnswer | undefined }) {
  const { show } = useSettings();
  const [accuracy, setAccuracy] = useState(setup.jig?.sigma_m ?? 0.003);
  return (
    <div>
      <p className="mb-2 text-sm font-semibold text-accent">
        Pack fitted where it flies, propeller on but motor disconnected, gear as in flight.
      </p>
      <p className="mb-2 text-sm">
        Low wing upside down, high wing upright. Level to slightly nose-down is fine; a prompt tail drop means do not
        fly.
      </p>
      <QuantityField
        label="Balance point read, from the datum"
        quantity="length"
        extraDigits={1}
        value={setup.jig?.x_m ?? null}
        disabled={readOnly || !answer}
        onCommit={(v) =>
          save(
            { ...setup, jig: { x_m: v, sigma_m: accuracy, items_x_m: answer?.items_x_cg_m ?? v } },
            `balance read at ${show(v, "length")}`,
          )
        }
      />
      <QuantityField
        label="How well it was read"
        hint="a jig 2 mm, fingers 5 mm"
        quantity="length"
        extraDigits={1}
        value={accuracy}
        disabled={readOnly}
        onCommit={(v) => {
          setAccuracy(v);
          return setup.jig
            ? save({ ...setup, jig: { ...setup.jig, sigma_m: v } }, "accuracy of the reading changed")
            : undefined;
        }}
      />
      {setup.jig && !readOnly ? (
        <button
          type="button"
          className="btn btn-sm my-1"
          onClick={() => void save({ ...setup, jig: null }, "balance reading taken back")}
        >
          Take the reading back
        </button>
      ) : null}
      <hr className="my-2 border-base-300" />
      <QuantityField
        label="Published balance point"
        hint="plan or manual, from the same datum"
        quantity="length"
        value={setup.published?.x_m ?? null}
        disabled={readOnly}
        onCommit={(v) =>
          save({ ...setup, published: { x_m: v, source: setup.published?.source ?? "" } }, "published point entered")
        }
      />
      {answer ? (
        <div className="sheet mt-2 p-3">
          <p className="font-bold">
            Maiden balance point:{" "}
            {answer.maiden.x_m === null || answer.maiden.x_m === undefined
              ? "none is safe yet"
              : `${show(answer.maiden.x_m, "length")} from the datum`}
          </p>
          <p className="mt-1 text-sm">{answer.maiden.words}</p>
          <p className="label-small mt-1">
            Not behind {show(answer.maiden.aft_limit_m, "length")} (risk), not ahead of{" "}
            {show(answer.maiden.forward_limit_m, "length")} (elevator in the flare).
          </p>
          {answer.maiden.published_words ? (
            <p className="mt-1 text-sm font-semibold">{answer.maiden.published_words}</p>
          ) : null}
        </div>
      ) : null}
    </div>
  );
}
