import { memo } from "react";
import type { BenchNumber } from "../../api/client";
import type { Quantity } from "../../domain/units";
import { useSettings } from "../settings-context";
import { OriginLine } from "./OriginLine";

const DIGITS: Partial<Record<string, number>> = { risk: 0, static_margin: 0 };

const ORIGINS = {
  guessed: "guessed",
  measured: "measured",
  computed: "computed from what is measured",
  inferred: "inferred from flight",
};

/** What the words mean, as one pilot tells another. */
const TERMS: Partial<Record<string, string>> = {
  mass: "Everything aboard, ready to fly.",
  neutral_point: "Where it may balance at the very most: behind it, it will not come back to level by itself.",
  balance: "Where it balances: held there it stays level.",
  static_margin:
    "How far ahead of the neutral point it balances, as a share of the mean chord: more is calmer, less twitchier.",
  risk: "How likely it balances further aft than a model of its class should, for all that is not known exactly.",
  wing_loading: "What each square decimetre of wing carries: more flies and lands faster.",
  stall_speed: "Below it the wing lets go, however far the stick is back.",
};
const SIGMA = "± is one sigma: two times of three the truth lies within it, nineteen of twenty within twice as much.";

/** A computed number as a button that opens its reason: inputs, formula, source and how sure it is. */
export const ReasonNumber = memo(function ReasonNumber({ number }: { number: BenchNumber }) {
  const { show } = useSettings();
  const quantity = number.quantity as Quantity;
  const extra = DIGITS[number.key] ?? 0;
  // No sign is lost, and none has to be read: the core says in words what a negative one means.
  const below = number.value < 0;
  const plain = show(below ? -number.value : number.value, quantity, extra) + (below ? ` ${number.below_zero}` : "");
  const value = number.key === "risk" && number.value < 0.001 ? "< 0.1 %" : plain;
  return (
    <details className="group relative" name="reason">
      <summary className="list-none rounded border border-base-300 px-2 py-1 hover:bg-base-200 group-open:bg-base-200">
        <span className="label-small block leading-tight">{number.label}</span>
        <span className="text-lg font-semibold leading-tight">{value}</span>
        {number.sigma ? <span className="ml-1 text-sm">± {show(number.sigma, quantity, extra)}</span> : null}
        <span className="sr-only">, {ORIGINS[number.origin]}</span>
      </summary>
      <div className="sheet absolute bottom-full left-0 z-20 mb-1 w-80 bg-base-100 p-3 text-sm shadow-sm">
        <p className="font-semibold">{number.label}</p>
        <p>
          <OriginLine origin={number.origin} />
          {ORIGINS[number.origin]}
        </p>
        {TERMS[number.key] ? <p className="mb-1">{TERMS[number.key]}</p> : null}
        <p>{number.reason.method}</p>
        {number.reason.formula ? <p className="my-1 font-mono text-xs">{number.reason.formula}</p> : null}
        <ul>
          {number.reason.inputs.map((i) => (
            <li key={i.name} className="flex justify-between gap-3 border-b border-base-300 py-0.5">
              <span>{i.name}</span>
              <span className="text-right">{i.words}</span>
            </li>
          ))}
        </ul>
        {number.sigma ? <p className="mt-1">{SIGMA}</p> : null}
        {number.reason.source ? <p className="label-small mt-1">Source: {number.reason.source}</p> : null}
        {number.caveats.map((c) => (
          <p key={c.code} className="mt-1 font-semibold text-error">
            {c.words}
          </p>
        ))}
      </div>
    </details>
  );
});
