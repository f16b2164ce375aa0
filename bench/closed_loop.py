"""Closed loop in a truth of its own: fleets flown by pilots, corrected by the estimator or by hand, flown again.

``python -m bench.closed_loop [MODELS] [seed=S] [--quick] [--short]``: the plant, the pilots and the mechanics of ``core.flight`` share no
aerodynamics with the estimator; cards are the planner's own in the default pack. ``--quick``: one small fleet, two ways; ``--short``: without other benches, other pilots and cards left out.
``--diagram=FILE``: what was said to be likely against how often it was so, drawn.
The seed of the published figures is drawn after the last change of anything that is judged, and used once; every other is for
tuning.
"""

from __future__ import annotations

import sys
import time
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from functools import partial
from pathlib import Path

import numpy as np

from bench.loop import report
from bench.loop.diagram import svg
from bench.loop.fleet import LAYOUTS, draw_case
from bench.loop.judge import margins
from bench.loop.trial import Method, Trial, trial
from jinba.core.flight.simulation.craft import craft_of
from jinba.core.flight.simulation.spread import draw_spread
from jinba.core.flight.workshop import NONE, Blunders
from jinba.core.observe.situation import design_of

WORKERS = 2
TUNING_SEED = 20261127

PLANNED = Method("estimator, planned cards")
FIXED_CARDS = Method("estimator, fixed good cards", planned=False)
FOLK = Method("by hand, proportional", estimator=False)
FOLK_STEPS = Method("by hand, fixed steps", estimator=False, proportional=False)
LEFT_OUT = ("F5", "F7", "F8", "F12", "F13", "F14", "F15", "F28", "F32")


def one(number: int, *, method: Method, seed: int, blunders: Blunders, gain_spread: float = 0.25) -> Trial:
    """Return what became of one model of a fleet."""
    case = draw_case(number, seed=seed, blunders=blunders, gain_spread=gain_spread)
    return trial(case, method, blunders=blunders)


def fleet(
    pool: ProcessPoolExecutor, count: int, method: Method, *, seed: int, blunders: Blunders, gain_spread: float = 0.25
) -> list[Trial]:
    """Return what became of a fleet, corrected in one way."""
    job = partial(one, method=method, seed=seed, blunders=blunders, gain_spread=gain_spread)
    return list(pool.map(job, range(count), chunksize=1))


def neutral_points(count: int = 12) -> list[str]:
    """Return by layout how the simulation's margin differs from the bench's when nothing is wrong: mean and scatter."""
    lines = []
    for k, layout in enumerate(LAYOUTS):
        off = []
        for i in range(count):
            case = draw_case(k + i * len(LAYOUTS), seed=5, blunders=NONE)
            craft = craft_of(case.bench, draw_spread(np.random.default_rng(i)))
            off.append(margins(craft, design_of(case.bench).cruise_speed_mps)[0] - design_of(case.bench).static_margin)
        lines.append(f"{layout:18s} {100 * np.mean(off):+.1f} % MAC, scatter {100 * np.std(off):.1f}")
    return lines


def _print(title: str, lines: list[str] | str) -> None:
    print(f"\n{title}")
    print(*([lines] if isinstance(lines, str) else lines), sep="\n", flush=True)


def _study(pool: ProcessPoolExecutor, count: int, seed: int) -> None:
    blunders = Blunders()
    runs = {}
    for method in (PLANNED, FIXED_CARDS, FOLK, FOLK_STEPS):
        begun = time.perf_counter()
        runs[method.name] = fleet(pool, count, method, seed=seed, blunders=blunders)
        print(report.headline(method.name, runs[method.name]), f"  {time.perf_counter() - begun:.0f} s", flush=True)
        if method.estimator:
            _print(f"Honesty, {method.name.removeprefix('estimator, ')}", report.honesty(runs[method.name]))
    planned, folk = runs[PLANNED.name], runs[FOLK.name]
    ratio = report.counted(planned).mean() / report.counted(folk).mean()
    print(f"mean over proportional folk steps on the same models: {ratio:.2f}")
    _print("Stated risk", report.reliability(planned))
    _print("By layout", report.by_layout(planned))
    _print("By limit", report.by_limit(planned))
    for file in (a.removeprefix("--diagram=") for a in sys.argv if a.startswith("--diagram=")):
        Path(file).write_text(svg(planned), encoding="utf-8")
    _print("Cards flown", report.proposals(planned))


def _variations(pool: ProcessPoolExecutor, count: int, seed: int) -> None:
    usual = Blunders()
    print(f"\nOther benches and pilots, {count} models")
    for words, blunders, gain in (
        ("no blunders", NONE, 0.25),
        ("10 % misread", replace(usual, misread=0.10), 0.25),
        ("25 % misread", usual, 0.25),
        ("40 % misread", replace(usual, misread=0.40), 0.25),
        ("25 % misread, twice as far", replace(usual, least=0.05, most=0.13), 0.25),
        ("pilots' gain spread 40 %", usual, 0.40),
    ):
        trials = fleet(pool, count, PLANNED, seed=seed, blunders=blunders, gain_spread=gain)
        print(report.headline(words, trials), flush=True)
        print("   ", report.honesty(trials)[0], flush=True)
    trials = fleet(pool, count, PLANNED, seed=seed, blunders=replace(usual, ahead=0.10))
    _print(report.headline("every balance read 10 % MAC too far forward", trials), report.tail_heavy(trials))
    print(f"\nOne card left out, {count} models")
    for card in LEFT_OUT:
        method = replace(PLANNED, name=f"without {card}", without=frozenset({card}))
        print(report.headline(method.name, fleet(pool, count, method, seed=seed, blunders=usual)), flush=True)


def main() -> None:
    """Run the study and print its figures."""
    quick = "--quick" in sys.argv
    asked = [int(a) for a in sys.argv[1:] if a.isdecimal()]
    seeds = [int(a.removeprefix("seed=")) for a in sys.argv[1:] if a.startswith("seed=")]
    count, seed = asked[0] if asked else 30 if quick else 500, seeds[0] if seeds else TUNING_SEED
    print(f"{count} models, seed {seed}{' (tuning)' if seed == TUNING_SEED else ''}")
    with ProcessPoolExecutor(WORKERS) as pool:
        if quick:
            for method in (PLANNED, FOLK):
                trials = fleet(pool, count, method, seed=seed, blunders=Blunders())
                print(report.headline(method.name, trials), flush=True)
                if method.estimator:
                    _print("Honesty", report.honesty(trials))
            return
        _print("Neutral point, simulation over bench", neutral_points())
        _study(pool, count, seed)
        if "--short" not in sys.argv:
            _variations(pool, max(count // 8, 10), seed)


if __name__ == "__main__":
    main()
