"""Where each card stands for the present configuration: open, stale, done, failed, later, or not for this model."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.fitted import axes_of
from jinba.core.cards.flight_cards import RUDDER_ROLLS
from jinba.core.cards.incident import AFTER_REPAIR, ONLY_THEN
from jinba.core.cards.model import Card, Outcome, Phase
from jinba.core.cards.stale import EVERY_SORTIE
from jinba.core.configuration import Configuration
from jinba.core.controls.fitting import Command
from jinba.core.diagnose.ordinary import tells_apart
from jinba.core.frames import Axis

FIRST_SORTIE = ("F1", "F2", "F3", "F4", "F7", "F32", "F28", "F29")
FROM_SECOND = ("F5", "F8", "F11", "F12", "F13", "F23", "F25")
FROM_THIRD = ("F14", "F15", "F21", "F24")


NOT_DONE = "not done yet"


class CardState(StrEnum):
    """Where a card stands for the present configuration."""

    OPEN = "open"
    STALE = "stale"
    DONE = "done"
    FAILED = "failed"
    LATER = "later"
    NOT_FOR_THIS_MODEL = "not_for_this_model"


@dataclass(frozen=True, slots=True)
class Since:
    """What an incident has re-opened and nobody has done again since; ``flown``: sorties since one after which the model is to
    be flown as new, None when there was none."""

    opened: frozenset[str] = frozenset()
    flown: int | None = None


UNTOUCHED = Since()


def stage_of(number: int, since: Since) -> int:
    """Return which sortie of a new model the next one is like: its number, counted anew after what makes it new again."""
    return number if since.flown is None else since.flown + 1


States = Mapping[str, tuple[CardState, str]]
"""State and reason of each card, by its id."""


def needed(state: CardState) -> bool:
    """Return whether a card is still to be done."""
    return state in (CardState.OPEN, CardState.STALE, CardState.FAILED)


def flown_once(state: CardState) -> bool:
    """Return whether a card was flown once, or cannot be flown: what needs it may come."""
    return state in (CardState.DONE, CardState.STALE, CardState.NOT_FOR_THIS_MODEL)


def states_of(
    configuration: Configuration,
    *,
    results: Mapping[str, Outcome],
    stale: frozenset[str],
    number: int,
    fresh: frozenset[str] = frozenset(),
    opened: frozenset[str] = frozenset(),
) -> States:
    """Return where every card stands and why; ``number``: of the sortie, counted anew after an incident. Common practice, no source."""
    return {c.id: state_of(c, configuration, results, stale, number, fresh, opened) for c in CARDS.values()}


def gates_of(states: States) -> tuple[str, ...]:
    """Return the cards on bench and ground that have to be done before the next sortie."""
    return tuple(c.id for c in CARDS.values() if c.phase in (Phase.BENCH, Phase.GROUND) and needed(states[c.id][0]))


def state_of(
    card: Card,
    c: Configuration,
    results: Mapping[str, Outcome],
    stale: frozenset[str],
    number: int,
    fresh: frozenset[str] = frozenset(),
    opened: frozenset[str] = frozenset(),
) -> tuple[CardState, str]:
    """Return where a card stands and why, in words; ``number``: of the sortie, counted anew after an incident. Common practice, no source."""
    if card.requires in (AFTER_REPAIR, ONLY_THEN) and card.id not in opened and card.id not in results:
        return CardState.NOT_FOR_THIS_MODEL, "only after an incident"
    if card.inverted and not c.flown_inverted:
        return CardState.NOT_FOR_THIS_MODEL, "not flown inverted"
    if card.powered and c.airframe.motor is None:
        return CardState.NOT_FOR_THIS_MODEL, "no motor"
    missing = not_on(card, c)
    if missing:
        return CardState.NOT_FOR_THIS_MODEL, missing
    if not tells_apart(c, card.id):
        return CardState.NOT_FOR_THIS_MODEL, "it answers any balance with the same word"
    first = 2 if card.id in FROM_SECOND else 3 if card.id in FROM_THIRD else 1
    if number < first:
        return CardState.LATER, f"from sortie {first}"
    if card.id in opened:
        return CardState.OPEN, "the incident has re-opened it"
    outcome = results.get(card.id)
    if card.id in EVERY_SORTIE and card.id not in fresh:
        return CardState.OPEN, "each sortie anew"
    if outcome is Outcome.FAILED or outcome is Outcome.ABORTED:
        return CardState.FAILED, "not passed last time"
    if outcome is None or outcome is Outcome.SKIPPED:
        return CardState.OPEN, NOT_DONE
    if card.id in stale:
        return CardState.STALE, "a change since then"
    return CardState.DONE, "done in this configuration"


def not_on(card: Card, c: Configuration) -> str:
    """Return what a card asks for that the model does not have, empty when it has it. Derived here."""
    setup = c.controls
    if card.requires == "flap" and (setup is None or not setup.moving(Command.FLAP)):
        return "no flaps"
    if card.requires == "rudder" and Axis.YAW not in axes_of(c):
        return "no rudder"
    if card.requires == RUDDER_ROLLS and (Axis.ROLL in axes_of(c) or Axis.YAW not in axes_of(c)):
        return "rolls by its ailerons"
    if card.requires == "stabiliser" and (setup is None or setup.stabiliser is None):
        return "no stabiliser"
    return ""
