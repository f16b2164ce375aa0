"""Minutes in the air: what the pack gives, what cards take together, and which trims only have to be proved."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.proof import PROOF_MINUTES
from jinba.core.configuration import Configuration, balance_of
from jinba.core.correct.balance import LARGEST_STEP
from jinba.core.declare import Change
from jinba.core.observe.situation import design_of
from jinba.core.walks import kinds_of_change

GUESS_RESERVE = 0.25
"""Share of the minutes till a pack is empty that is kept back where they are only guessed: common practice, no source."""

LEG = ("F2", "F3", "F4")
LEG_MINUTES = 2.0
"""The trims are one leg, flown to and fro, of two minutes at most: common practice, no source."""

_REWORK = frozenset(
    {
        Change.BALANCE,
        Change.LATERAL,
        Change.ELEVATOR,
        Change.AILERON_RUDDER,
        Change.THRUST_LINE,
        Change.RADIO_TRIM,
        Change.THROWS,
    }
)


@dataclass(frozen=True, slots=True)
class LastSortie:
    """The sortie before: the setup as it landed, and the cards that were flown to their end in it."""

    landed: Configuration
    done: frozenset[str] = frozenset()


def proofs(last: LastSortie | None, present: Configuration) -> frozenset[str]:
    """Return the trims that only have to be proved: trimmed in the sortie before, and nothing but a small rework since.

    Small: what hands trim and shift on the bench, the balance by no more than a step of rework. Derived here.
    """
    if last is None or not kinds_of_change(last.landed, present) <= _REWORK:
        return frozenset()
    moved = abs(balance_of(present).x_m - balance_of(last.landed).x_m) / design_of(present).aero.planform.mac_m
    return last.done & frozenset(LEG) if moved <= LARGEST_STEP + _ROUNDED else frozenset()


def washers_put_in(last: LastSortie | None, present: Configuration) -> bool:
    """Return whether the thrust line was changed since the sortie before: what power does now is what has to be seen of it. Derived here."""
    return last is not None and Change.THRUST_LINE in kinds_of_change(last.landed, present)


_ROUNDED = 0.005
"""How far rounding to hands may lead beyond a step [fraction of MAC]."""


def minutes_of(card_ids: Collection[str], proved: frozenset[str] = frozenset()) -> float:
    """Return the minutes that flight cards take together [min]: trims as one leg, those of ``proved`` by a proof alone.

    Derived here.
    """
    whole = sum(CARDS[c].minutes for c in card_ids if c in LEG and c not in proved)
    short = PROOF_MINUTES * sum(1 for c in card_ids if c in LEG and c in proved)
    return min(whole, LEG_MINUTES) + short + sum(CARDS[c].minutes for c in card_ids if c not in LEG)


def guessed_minutes(configuration: Configuration) -> float:
    """Return what is planned where nobody has named the pack that flies [min]. Common practice, no source."""
    return (1.0 - GUESS_RESERVE) * configuration.pack_minutes
