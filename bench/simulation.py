"""How fast the simulated flight is: seconds flown in a second, a whole sortie, against the same step in plain Python.

``python -m bench.simulation`` flies every layout; the reference is the same compiled code run by the interpreter. "Runs" is the
compiled flying of a sortie alone, "sortie" with the model made, its steady flights found and everything put into words.
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from typing import Any
from unittest.mock import patch

import numpy as np

from jinba.core.flight.piloting import aloft
from jinba.core.flight.piloting.aloft import Air
from jinba.core.flight.piloting.person import Person, draw_person
from jinba.core.flight.piloting.sortie import Truth, fly_sortie
from jinba.core.flight.simulation import motion
from jinba.core.flight.simulation.craft import Craft, craft_of
from jinba.core.flight.simulation.gusts import STILL
from jinba.core.flight.simulation.hands import Hand, begin, run
from jinba.core.flight.simulation.steady import Steady, steady
from jinba.core.observe.situation import design_of
from jinba.core.silhouettes import SILHOUETTES, silhouette_configuration

TWELVE = ("F1", "F2", "F3", "F4", "F32", "F5", "F13", "F7", "F12", "F14", "F28", "F29")


def best(work: Callable[[], object], times: int = 5) -> float:
    """Return the shortest time of a piece of work. [s]"""
    found = []
    for _ in range(times):
        begun = time.perf_counter()
        work()
        found.append(time.perf_counter() - begun)
    return min(found)


def flown(craft: Craft, at: Steady, seconds: float) -> Callable[[], object]:
    """Return a run of hands that hold the flight."""
    hand = Hand(float(at.surfaces[0]), hold_path=0.6, hold_bank=0.8, throttle=at.throttle)
    return lambda: run(craft, begin(at.state, at.circulation, at.surfaces, at.throttle), hand, STILL, seconds)


def interpreted_step_s(craft: Craft, at: Steady) -> float:
    """Return how long one evaluation of the loads takes the interpreter. [s]"""
    force, moment, wanted = np.zeros(3), np.zeros(3), np.zeros_like(at.circulation)
    given = (
        craft,
        at.state[3:6],
        at.state[10:13],
        np.zeros(4),
        at.circulation,
        at.circulation,
        at.surfaces,
        at.throttle,
        1.0,
    )
    return best(lambda: motion.loads.py_func(*given, force, moment, wanted))


def timed_sortie(truth: Truth, person: Person) -> tuple[float, float]:
    """Return the time of a sortie of twelve cards and of the runs in it. [s]"""
    spent = 0.0

    def clocked(*given: Any) -> Any:
        nonlocal spent
        begun = time.perf_counter()
        track = run(*given)
        spent += time.perf_counter() - begun
        return track

    begun = time.perf_counter()
    with patch.object(aloft, "run", clocked):
        fly_sortie(truth, TWELVE, seed=1, person=person, air=Air(2.0))
    return time.perf_counter() - begun, spent


def main() -> None:
    """Print seconds flown in a second, by layout, and the time of a sortie of twelve cards."""
    rates, sorties, flying, ratios = [], [], [], []
    for key in SILHOUETTES:
        c = silhouette_configuration(key, span_m=1.5)
        craft = craft_of(c)
        at = steady(craft, speed_mps=design_of(c).cruise_speed_mps)
        flown(craft, at, 1.0)()
        taken = best(flown(craft, at, 20.0))
        person, truth = draw_person(np.random.default_rng(1)), Truth(c)
        fly_sortie(truth, TWELVE[:2], seed=1)
        sortie, runs = min(timed_sortie(truth, person) for _ in range(3))
        rates.append(20.0 / taken)
        sorties.append(sortie)
        flying.append(runs)
        ratios.append(interpreted_step_s(craft, at) / (taken / (20.0 * craft.substeps / motion.STEP_S)))
        print(
            f"{key:18s} {len(craft.row):3d} strips, {craft.substeps} to a step  {rates[-1]:5.0f} s flown a second  "
            f"runs {1000 * runs:4.0f} ms of a sortie's {1000 * sortie:4.0f}"
        )
    print(
        f"median {statistics.median(rates):.0f} s a second (wanted 500), runs {1000 * statistics.median(flying):.0f} ms (wanted 100) "
        f"of a sortie's {1000 * statistics.median(sorties):.0f}; one step {statistics.median(ratios):.0f} times as fast as the interpreter's loads alone"
    )


if __name__ == "__main__":
    main()
