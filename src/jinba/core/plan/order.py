"""The order of a sortie: what may follow what, and why an order is refused."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from jinba.core.cards.catalogue import CARDS, LANDING, TAKE_OFF
from jinba.core.cards.model import Outcome, Phase
from jinba.core.configuration import Configuration
from jinba.core.diagnose.seen import LOOKED_AT_IN, NOTHING, Seen
from jinba.core.diagnose.speaks import could_not
from jinba.core.plan.states import (
    NOT_DONE,
    UNTOUCHED,
    CardState,
    Since,
    States,
    flown_once,
    stage_of,
    state_of,
    states_of,
)

BOLD = 3
MOST_BOLD = 2
"""From this risk on a card is bold; so many of them in one sortie. Common practice, no source."""

FLYING_ORDER = (
    *("F1", "F2", "F3", "F4", "F34", "F32", "F5", "F13", "F7", "F23", "F25", "F24"),
    *("F8", "F11", "F12", "F14", "F15", "F21", "F28", "F29"),
)


def unmet(card_id: str, before: Collection[str], states: States, seen: Seen) -> str | None:
    """Return the card that has to be flown before this one, None when none is missing; ``before``: cards flown earlier in the sortie."""
    for need in CARDS[card_id].needs:
        if CARDS[need].phase is Phase.FLIGHT and need not in before and not looked_at(need, states, seen):
            return need
    return None


def looked_at(card_id: str, states: States, seen: Seen) -> bool:
    """Return whether what a card looks at was seen once, on its own card or on one that is flown anyway, or never can be.

    Nothing that was seen before an incident stands for a card that it has opened.
    """
    carrier = LOOKED_AT_IN.get(card_id)
    if carrier is not None and states[card_id] == (CardState.OPEN, NOT_DONE) and card_id in seen.ever:
        return flown_once(states[carrier[0]][0])
    return flown_once(states[card_id][0])


def too_bold(card_id: str, before: Collection[str], states: States, seen: Seen) -> str | None:
    """Return why a bold card may not be flown yet, None when it may: in trim, left alone, and flown slowly first.

    ``before``: cards flown earlier in the same sortie. Common practice, no source.
    """
    if CARDS[card_id].risk < BOLD:
        return None
    trim = seen.of("F2")
    if "F2" not in before and trim is not None and could_not(trim):
        return "it could not be left alone: fly F2 first"
    left = None if trim is None else trim.reading("left_over")
    if "F2" not in before and left is not None and left.choice in ("drops", "rears"):
        return "it was left out of trim: fly F2 first"
    if "F7" not in before and not looked_at("F7", states, seen):
        return "slow flight comes first: fly F7"
    return None


def refusal(
    order: tuple[str, ...],
    *,
    configuration: Configuration,
    sortie_number: int,
    results: Mapping[str, Outcome],
    stale: frozenset[str],
    seen: Seen = NOTHING,
    since: Since = UNTOUCHED,
) -> str | None:
    """Return why a flying order is refused, or None.

    Take-off first, landing last, needs before the card or flown, nothing early, at most two bold cards and those only on a
    model that can be left alone.
    """
    stage = stage_of(sortie_number, since)
    if not order or order[0] != TAKE_OFF:
        return "F1 comes first: it has to take off."
    if order[-1] != LANDING:
        return "F29 comes last: it has to land."
    if len(set(order)) != len(order):
        return "A card stands twice in this sortie."
    for i, card_id in enumerate(order):
        card = CARDS.get(card_id)
        if card is None or card.phase is not Phase.FLIGHT:
            return f"{card_id} is not a flight card."
        state, reason = state_of(card, configuration, {}, frozenset(), stage)
        if state in (CardState.LATER, CardState.NOT_FOR_THIS_MODEL):
            return f"{card_id} {card.title}: {reason}."
        late = [n for n in card.needs if n in order[i:]]
        if late:
            return f"{card_id} needs {late[0]} before it."
    states = states_of(configuration, results=results, stale=stale, number=stage, opened=since.opened)
    for i, card_id in enumerate(order):
        missing = unmet(card_id, order[:i], states, seen)
        if missing is not None:
            return f"{card_id} needs {missing}, which was never flown: fly it first."
        why = too_bold(card_id, order[:i], states, seen)
        if why is not None:
            return f"{card_id} {CARDS[card_id].title}: {why}."
    bold = [c for c in order if CARDS[c].risk >= BOLD]
    if len(bold) > MOST_BOLD:
        return f"{', '.join(bold)}: at most two bold cards in one sortie. Take one out."
    return None
