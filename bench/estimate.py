"""What a debrief costs to compute: belief, causes and correction after one and after eight sorties, and the next programme.

``python -m bench.estimate [models]``: models of as many layouts, flown in the independent simulation with one set of cards and corrected
after each sortie. The best of a few runs on one core counts, situations kept from the run before as they are between two debriefs;
beside it stands a loop of plain Python of the same run, for what the machine gave.
"""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from typing import Any

import numpy as np

from bench.loop.fleet import Case, draw_case
from jinba.core.cards.stale import EVERY_SORTIE
from jinba.core.configuration import Configuration
from jinba.core.correct.compose import as_flown, compose
from jinba.core.diagnose.causes import largest_fault
from jinba.core.diagnose.seen import seen_in
from jinba.core.diagnose.sorties import LoggedSortie, belief_after, trims_at_landing
from jinba.core.diagnose.update import Belief, prior_of
from jinba.core.flight.piloting.sortie import fly_sortie
from jinba.core.flight.workshop import Blunders, Hands, carried_out, flown_with
from jinba.core.observe.situation import design_of
from jinba.core.plan.programme import programme

CARDS = ("F1", "F2", "F3", "F4", "F5", "F13", "F28", "F29")
SORTIES, SEED, RUNS = 8, 91, 12


def _flown(case: Case) -> tuple[tuple[LoggedSortie, ...], Configuration]:
    """Return the log of eight sorties, corrected after each, and the bench after the last."""
    bench, truth, rng = case.bench, case.truth, np.random.default_rng(case.seed)
    log: tuple[LoggedSortie, ...] = ()
    for i in range(SORTIES):
        records = fly_sortie(truth, CARDS, seed=case.seed % 10**6 * 100 + i, person=case.person, air=case.air).records
        log = (*log, LoggedSortie(bench, records))
        landed = trims_at_landing(log[-1])
        before = as_flown(bench, landed)
        after = compose(bench, belief_after(log, configuration=bench), landed, seen_in(log, bench)).configuration
        truth = carried_out(flown_with(truth, bench, before), before, after, rng, Hands())
        bench = after
    return log, bench


def _debriefed(log: tuple[LoggedSortie, ...], bench: Configuration) -> Belief:
    belief = belief_after(log, configuration=bench)
    largest_fault(prior_of(design_of(bench)), belief)
    compose(bench, belief, trims_at_landing(log[-1]), seen_in(log, bench))
    return belief


def _planned(log: tuple[LoggedSortie, ...], bench: Configuration, belief: Belief) -> None:
    programme(
        bench,
        results={},
        stale=frozenset(),
        sorties_flown=len(log),
        fresh=frozenset(EVERY_SORTIE),
        seen=seen_in(log, bench),
        belief=belief,
    )


def _loop() -> float:
    return sum(i * 0.5 for i in range(1_000_000))


def _best_ms(run: Callable[[], Any]) -> float:
    took = []
    for _ in range(RUNS):
        begun = time.process_time()
        run()
        took.append(1000.0 * (time.process_time() - begun))
    return min(took)


def main() -> None:
    """Print a line a model, and the medians."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 6
    print("layout: debrief after one sortie, after eight, next programme [ms]; a million turns of plain Python [ms]")
    rows = []
    for n in range(count):
        case = draw_case(n, seed=SEED, blunders=Blunders())
        log, bench = _flown(case)
        belief = _debriefed(log, bench)
        row = (
            _best_ms(lambda log=log: _debriefed(log[:1], log[0].configuration)),  # type: ignore[misc]
            _best_ms(lambda log=log, bench=bench: _debriefed(log, bench)),  # type: ignore[misc]
            _best_ms(lambda log=log, bench=bench, belief=belief: _planned(log, bench, belief)),  # type: ignore[misc]
            _best_ms(_loop),
        )
        rows.append(row)
        print(f"{case.layout}: {row[0]:.0f}, {row[1]:.0f}, {row[2]:.0f}; {row[3]:.0f}", flush=True)
    once, eight, plan, loop = np.median(np.array(rows), axis=0)
    print(f"median: {once:.0f}, {eight:.0f}, {plan:.0f}; {loop:.0f}: {eight / loop:.1f} times the loop")


if __name__ == "__main__":
    main()
