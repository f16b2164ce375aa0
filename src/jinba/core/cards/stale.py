"""What a change has invalidated: the table of change kinds, and what differs between two configurations."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.cards.catalogue import CARDS
from jinba.core.configuration import Configuration, balance_of
from jinba.core.declare import Change
from jinba.core.frames import forward_or_aft
from jinba.core.spoken import a_length, a_mass
from jinba.core.walks import changes, kinds_of_change

_TAIL_END = ("F11", "F21", "F23", "F24", "F25", "F28", "F29")
_FLIGHT = tuple(c for c in CARDS if c.startswith("F"))


def _some(*ids: str) -> frozenset[str]:
    return frozenset(i for i in ids if i in CARDS)


STALE: dict[Change, frozenset[str]] = {
    # Common practice, no source; cards outside the present catalogue are left out.
    Change.BALANCE: _some("B7", "F1", "F2", "F7", "F8", "F12", "F13", "F14", "F15", *_TAIL_END),
    Change.LATERAL: _some("B7", "F3", "F7", "F8", "F14", "F28", "F34"),
    Change.ELEVATOR: _some("B2", "B4", "B5", "F2", "F5", "F12", "F13", "F14", "F15", "F24"),
    Change.AILERON_RUDDER: _some("B2", "B4", "B5", "F3", "F4", "F7", "F21", "F24", "F28", "F34"),
    Change.FLAP: _some("B2", "B4", "B5", "F11", "F28", "F29"),
    Change.THRUST_LINE: _some("F2", "F3", "F4", "F5", "F12", "F15", "F28"),
    Change.THROWS: _some("B4", "B5", "F11", "F14", "F21", "F25", "F34"),
    Change.RADIO_MEMORY: _some("B4", "B6", "G1", "G2"),
    Change.FAIL_SAFE: _some("G2"),
    Change.STABILISER: _some("B11", "F23", "F24", "F25"),
    Change.GAINS: _some("F25"),
    Change.CONTROLS: _some("B4", "B5", "B6", "G1", "G2"),
    Change.POWER: _some("B1", "B7", "G1", "G2", "F2", "F3", "F5", "F28"),
    Change.AIRFRAME: _some("B1", "B2", "B7", *_FLIGHT),
    Change.EQUIPMENT: _some("B7", "F1", "F2", "F7", "F8"),
    Change.RADIO_TRIM: _some("B6", "F2", "F3", "F4"),
}

EVERY_SORTIE: frozenset[str] = _some("G7", "A1", "A2", "A3")
"""Cards that are done anew for each sortie, whatever has changed."""


_NOTHING_M = 0.0001


@dataclass(frozen=True, slots=True)
class Difference:
    """What differs between two configurations: kinds of change, sentences, and the cards made stale."""

    changes: frozenset[Change]
    words: tuple[str, ...]
    stale: frozenset[str]


def stale_between(before: Configuration, after: Configuration) -> frozenset[str]:
    """Return the cards that what changed between two configurations makes stale."""
    return _stale(kinds_of_change(before, after))


def _stale(kinds: frozenset[Change]) -> frozenset[str]:
    return frozenset[str]().union(*(STALE[c] for c in kinds))


def difference(before: Configuration, after: Configuration) -> Difference:
    """Return what changed between two configurations, in kinds, in words and as stale cards."""
    kinds, words = changes(before, after)
    return Difference(kinds, _with_swap(before, after, words), _stale(kinds))


def _with_swap(before: Configuration, after: Configuration, words: tuple[str, ...]) -> tuple[str, ...]:
    """Return the sentences with one pack taken off and another put on said as what it is: a swap, and what it does to the balance."""
    out, into = before.battery, after.battery
    if out is None or into is None or out.key == into.key:
        return words
    moved = balance_of(after).x_m - balance_of(before).x_m
    shift = (
        f"the balance moves {a_length(abs(moved), 1)} {forward_or_aft(moved)}"
        if abs(moved) > _NOTHING_M
        else "same balance"
    )
    swap = f"Pack swapped: {into.name}, {a_mass(into.mass_kg)}, for {out.name}; {shift}"
    rest = [w for w in words if not w.startswith((f"{out.name} taken off", f"{into.name} added"))]
    return (swap, *rest)
