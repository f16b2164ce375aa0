import type { BenchAnswer, Configuration } from "../../api/client";
import { stationWords } from "../../components/quantity/station";
import { useSettings } from "../../components/settings-context";
import { ChangeNote } from "./ChangeNote";
import { Measure, SmallButton, useEditing } from "./editing";

const TYPICAL_JIG_M = 0.002;

/** The bench's work order: steps to tick, the reading to expect with its tolerance, and the place for it. */
export function OrderSheet({ answer }: { answer: BenchAnswer | undefined }) {
  const { setup, edit, readOnly } = useEditing();
  const { show } = useSettings();
  const order = setup.order;
  if (!order) return null;
  const tick = (at: number, done: boolean) => (s: Configuration) =>
    s.order ? { ...s, order: { ...s.order, steps: s.order.steps.map((q, i) => (i === at ? { ...q, done } : q)) } } : s;
  const read = (s: Configuration, x_m: number): Configuration =>
    s.order
      ? {
          ...s,
          order: { ...s.order, reading_m: x_m },
          jig: {
            x_m,
            sigma_m: s.jig?.sigma_m ?? TYPICAL_JIG_M,
            items_x_m: answer?.items_x_cg_m ?? x_m,
            how: "read after the work order",
          },
        }
      : s;
  const open = order.steps.some((s) => !s.done) || order.reading_m == null;
  return (
    <section className="sheet mb-3 p-3" aria-label="Work order">
      <h2 className="text-lg font-bold">Work order</h2>
      <p className="text-sm font-semibold text-accent">Propeller off, pack out while you work.</p>
      <ol>
        {order.steps.map((step, i) => (
          <li key={step.words} className="border-b border-base-300">
            <label className="flex min-h-11 items-center gap-3 py-1">
              <input
                type="checkbox"
                className="checkbox"
                checked={step.done ?? false}
                disabled={readOnly}
                onChange={(e) =>
                  void edit(
                    tick(i, e.target.checked),
                    `${e.target.checked ? "done" : "not done"}: ${step.words}`.slice(0, 290),
                  )
                }
              />
              <span>{step.words}</span>
            </label>
          </li>
        ))}
      </ol>
      <p className="mt-2">
        Then it should read <strong>{stationWords(show, order.expected_m, 1)}</strong>, within{" "}
        {show(order.tolerance_m, "length", 1)}.
      </p>
      <p className="label-small">{order.place_words}</p>
      <Measure
        label="Balance point read, from the datum"
        quantity="length"
        extraDigits={1}
        value={order.reading_m ?? null}
        words="balance read after the work"
        change={read}
      />
      {answer?.order ? <ChangeNote words={answer.order.words} good={answer.order.severity === "good"} /> : null}
      <SmallButton
        words={open ? "Give the work order up" : "Put it away"}
        quiet={open}
        onClick={() => void edit((s) => ({ ...s, order: null }), open ? "work order given up" : "work order put away")}
      />
    </section>
  );
}
