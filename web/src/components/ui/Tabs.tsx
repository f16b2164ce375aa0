import { type KeyboardEvent, useEffect, useRef } from "react";

interface Props<T extends string> {
  /** What they choose between, in words. */
  label: string;
  names: readonly T[];
  chosen: T;
  onChoose: (name: T) => void;
}

/** Chosen by a key: a tool may bring a row of its own, and the focus goes along into that one. */
let byKey = false;

/** One of several tools: the chosen one is in the order of Tab, the others are reached by arrow keys, Home and End. */
export function Tabs<T extends string>({ label, names, chosen, onChoose }: Props<T>) {
  const list = useRef<HTMLDivElement>(null);
  const goTo = (at: number) => {
    const name = names[(at + names.length) % names.length];
    if (!name) return;
    byKey = true;
    onChoose(name);
  };
  useEffect(() => {
    if (!byKey) return;
    byKey = false;
    list.current?.querySelector<HTMLElement>(`[data-tab="${chosen}"]`)?.focus();
  }, [chosen]);
  const onKey = (e: KeyboardEvent) => {
    const at = names.indexOf(chosen);
    const to = { ArrowRight: at + 1, ArrowLeft: at - 1, Home: 0, End: names.length - 1 }[e.key];
    if (to === undefined) return;
    e.preventDefault();
    goTo(to);
  };
  return (
    <div ref={list} role="tablist" aria-label={label} className="tabs tabs-border flex-wrap" onKeyDown={onKey}>
      {names.map((name) => (
        <button
          key={name}
          type="button"
          role="tab"
          data-tab={name}
          aria-selected={name === chosen}
          tabIndex={name === chosen ? 0 : -1}
          className={`tab h-11 px-1.5 text-base text-base-content ${name === chosen ? "tab-active font-bold" : ""}`}
          onClick={() => onChoose(name)}
        >
          {name}
        </button>
      ))}
    </div>
  );
}
