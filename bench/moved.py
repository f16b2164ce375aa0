"""Whether a thing that has moved between two sorties is found, and how often it is said of a model on which nothing has.

``python -m bench.moved [MODELS] [seed=S]``: models of the independent simulation fly the default programme twice; between the two nothing moves,
or the pack slips by 5 % of the chord, the tail's or the wing's seat by 1.5 degrees, or one aileron's clevis by 2 degrees. Prints how often it is said, and how often of
the right thing.
"""

from __future__ import annotations

import math
import sys
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from functools import partial

from bench.loop.fleet import Case, draw_case
from jinba.core.cards.catalogue import CARDS
from jinba.core.diagnose.moved import SAID_FROM, chances_of
from jinba.core.diagnose.sorties import LoggedSortie, data_by_record
from jinba.core.diagnose.update import prior_of
from jinba.core.flight.piloting.sortie import Truth, fly_sortie
from jinba.core.flight.workshop import Blunders
from jinba.core.frames import Axis
from jinba.core.observe.parameters import P
from jinba.core.observe.situation import design_of, resting_trims

SEED = 4243
CARDS_FLOWN = ("F1", "F2", "F3", "F4", "F7", "F13", "F12", "F28", "F29")


def _pack(truth: Truth, case: Case) -> Truth:
    shift = 0.05 * design_of(case.bench).aero.planform.mac_m
    return replace(truth, wrong=replace(truth.wrong, cg_aft_m=truth.wrong.cg_aft_m - shift))


def _seat(truth: Truth, _: Case) -> Truth:
    return replace(
        truth, wrong=replace(truth.wrong, tail_incidence_rad=truth.wrong.tail_incidence_rad + math.radians(1.5))
    )


def _aileron(truth: Truth, _: Case) -> Truth:
    control = truth.real.control(Axis.ROLL)
    moved = replace(control, mechanical_rad=control.mechanical_rad + math.radians(2.0))
    return replace(truth, real=truth.real.with_control(moved))


MOVES: dict[str, tuple[P | None, Callable[[Truth, Case], Truth]]] = {
    "nothing": (None, lambda truth, _: truth),
    "pack 5 % of the chord forward": (P.STATIC_MARGIN, _pack),
    "a seat by 1.5 degrees": (P.PITCH_MOMENT, _seat),
    "an aileron by 2 degrees": (P.TWIST, _aileron),
}


def found(number: int, *, seed: int) -> dict[str, tuple[float, P | None]]:
    """Return for each move the chance that is said of any, and of which most."""
    case = draw_case(number, seed=seed, blunders=Blunders())
    design, start = design_of(case.bench), resting_trims(case.bench)
    motor = case.bench.airframe.motor is not None
    cards = tuple(c for c in CARDS_FLOWN if motor or not CARDS[c].powered)
    said: dict[str, tuple[float, P | None]] = {}
    for name, (_, move) in MOVES.items():
        truths = (case.truth, move(case.truth, case))
        log = tuple(
            LoggedSortie(
                case.bench, fly_sortie(t, cards, seed=2 * number + i, person=case.person, air=case.air).records, start
            )
            for i, t in enumerate(truths)
        )
        of_each = tuple(tuple(d for r in s for d in r) for s in data_by_record(log))
        chances = chances_of(prior_of(design), of_each, design)
        said[name] = (sum(chances.values()), max(chances, key=lambda p: chances[p]) if chances else None)
    return said


def main() -> None:
    """Fly the fleet and print the shares."""
    given = [a for a in sys.argv[1:] if not a.startswith("seed=")]
    seed = next((int(a[5:]) for a in sys.argv[1:] if a.startswith("seed=")), SEED)
    with ProcessPoolExecutor(2) as pool:
        fleet = list(pool.map(partial(found, seed=seed), range(int(given[0]) if given else 80), chunksize=2))
    for name, (wanted, _) in MOVES.items():
        said = [f[name] for f in fleet]
        over = [w for chance, w in said if chance >= SAID_FROM]
        right = sum(w is wanted for w in over)
        print(f"{name}: said of {len(over)} of {len(said)}, rightly named {right}")


if __name__ == "__main__":
    main()
