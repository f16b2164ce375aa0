"""What would open or widen the room for the maiden point: a better reading, or more throw; never a thinner margin."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jinba.core.airframe.layout import pitch_control_of
from jinba.core.bench.maiden import MaidenPoint, maiden_point
from jinba.core.frames import Axis, control_name
from jinba.core.observe.situation import Design
from jinba.core.spoken import a_length

_BEST_READING_M = 0.001
_MORE_THROW = 1.25
_LARGEST_THROW_RAD = 0.61
_WORTH_SAYING_MM = 0.5


@dataclass(frozen=True, slots=True)
class Remedy:
    """One thing to do before the first flight and what it buys: both limits after it [m from the datum], in words.

    ``room_m``: aft limit minus forward limit after it, negative while they still cross. [m]
    """

    key: str
    name: str
    aft_limit_m: float
    forward_limit_m: float
    room_m: float
    words: str


def remedies(design: Design, maiden: MaidenPoint) -> tuple[Remedy, ...]:
    """Return what each remedy would buy, each alone, from the same computation with one thing changed. Derived here."""
    found = [_better_reading(design, maiden), _more_throw(design, maiden)]
    return tuple(r for r in found if r is not None)


def _remedy(key: str, name: str, after: MaidenPoint, words: str) -> Remedy:
    room = after.aft_limit_m - after.forward_limit_m
    closes = "" if room > 0 else f" The limits still cross by {a_length(-room)}."
    return Remedy(key, name, after.aft_limit_m, after.forward_limit_m, room, words + closes)


def _better_reading(design: Design, maiden: MaidenPoint) -> Remedy | None:
    if design.balance.sigma_m <= 1.5 * _BEST_READING_M:
        return None
    better = replace(design, balance=replace(design.balance, sigma_m=_BEST_READING_M))
    after = maiden_point(better)
    gained = (after.aft_limit_m - maiden.aft_limit_m) * 1000
    how = "the jig" if design.balance.from_jig else "a jig instead of the sum of items"
    words = f"Read the balance to {a_length(0.001)} with {how}: the rear limit moves {a_length(gained / 1000)} aft."
    return _remedy("measure", "Measure better first", after, words)


def _more_throw(design: Design, maiden: MaidenPoint) -> Remedy | None:
    c = design.configuration
    throw = min(design.elevator_throw_rad * _MORE_THROW, _LARGEST_THROW_RAD)
    if throw <= design.elevator_throw_rad * 1.02:
        return None
    after = maiden_point(replace(design, elevator_throw_rad=throw))
    gained = (maiden.forward_limit_m - after.forward_limit_m) * 1000
    if gained < _WORTH_SAYING_MM:
        # A foreplane that stalls in the flare lifts no more with more throw.
        return None
    control = control_name(Axis.PITCH, pitch_control_of(c.airframe))
    share = throw / design.elevator_throw_rad - 1.0
    words = f"{100 * share:.0f} % more throw of the {control}, linkage and servo allowing: the forward limit moves {a_length(gained / 1000)} forward."
    return _remedy("throw", f"More {control}", after, words)
