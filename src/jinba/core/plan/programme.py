"""The programme: which cards a configuration still needs, packed into the next sortie from safe to bold."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.model import Card, Outcome, Phase
from jinba.core.cards.stale import EVERY_SORTIE
from jinba.core.configuration import Configuration
from jinba.core.controls.fitting import Command

FIRST_SORTIE = ("F1", "F2", "F3", "F4", "F7", "F32", "F28", "F29")
FROM_SECOND = ("F5", "F8", "F11", "F12", "F13", "F23", "F25")
FROM_THIRD = ("F14", "F15", "F21", "F24")
_ORDER = {
    card_id: i
    for i, card_id in enumerate(
        (
            *("F1", "F2", "F3", "F4", "F32", "F5", "F13", "F7", "F23", "F25", "F24"),
            *("F8", "F11", "F12", "F14", "F15", "F21", "F28", "F29"),
        )
    )
}
_FRAME = ("F1", "F28", "F29")
"""Flown in every sortie: it has to take off and land anyway, with a practised approach."""

_RESERVE = 0.25
"""Share of the pack's safe minutes kept back: common practice, no source."""


class CardState(StrEnum):
    """Where a card stands for the present configuration."""

    OPEN = "open"
    STALE = "stale"
    DONE = "done"
    FAILED = "failed"
    LATER = "later"
    NOT_FOR_THIS_MODEL = "not_for_this_model"


@dataclass(frozen=True, slots=True)
class PlannedCard:
    """A card with its state, why it stands so, and whether it is proposed for the next sortie."""

    card_id: str
    state: CardState
    reason: str
    proposed: bool


@dataclass(frozen=True, slots=True)
class Programme:
    """The state of every card and the proposal for the next sortie in flying order, with its minutes and gates."""

    sortie_number: int
    cards: tuple[PlannedCard, ...]
    gates: tuple[str, ...]
    flight: tuple[str, ...]
    minutes: float
    safe_minutes: float
    note: str


def programme(
    configuration: Configuration,
    *,
    results: Mapping[str, Outcome],
    stale: frozenset[str],
    sorties_flown: int,
    refused: frozenset[str] = frozenset(),
    fresh: frozenset[str] = frozenset(),
    asked: tuple[tuple[str, ...], ...] = (),
) -> Programme:
    """Return the programme for the next sortie.

    Parameters
    ----------
    configuration : the present one.
    results : latest outcome of each card, any configuration.
    stale : cards that changes since have made stale.
    sorties_flown : with this model. ``refused``: cards that the weather rules out.
    fresh : cards of every sortie that have been done since the last landing.
    asked : for each change that is held back, the cards of which one opens it, the better one first.

    The maiden holds first acquaintance only; F5, F8, F12, F13 from the second, inverted cards from the third and only for
    models flown inverted. Bold cards (risk 3 and more) at most two a sortie. Common practice, no source.
    """
    number = sorties_flown + 1
    states = {c.id: _state(c, configuration, results, stale, number, fresh) for c in CARDS.values()}
    flight = _pack(states, configuration, refused, asked)
    planned = tuple(
        PlannedCard(
            c.id, *states[c.id], proposed=c.id in flight or (c.phase is not Phase.FLIGHT and _needed(states[c.id][0]))
        )
        for c in CARDS.values()
    )
    gates = tuple(c.id for c in CARDS.values() if c.phase in (Phase.BENCH, Phase.GROUND) and _needed(states[c.id][0]))
    minutes = sum(CARDS[c].minutes for c in flight)
    note = "A maiden holds first acquaintance only: no stalls, no dives." if number == 1 else ""
    return Programme(number, planned, gates, flight, minutes, (1.0 - _RESERVE) * configuration.pack_minutes, note)


def _needed(state: CardState) -> bool:
    return state in (CardState.OPEN, CardState.STALE, CardState.FAILED)


def _state(
    card: Card,
    c: Configuration,
    results: Mapping[str, Outcome],
    stale: frozenset[str],
    number: int,
    fresh: frozenset[str] = frozenset(),
) -> tuple[CardState, str]:
    if card.inverted and not c.flown_inverted:
        return CardState.NOT_FOR_THIS_MODEL, "not flown inverted"
    if card.powered and c.airframe.motor is None:
        return CardState.NOT_FOR_THIS_MODEL, "no motor"
    missing = _missing(card, c)
    if missing:
        return CardState.NOT_FOR_THIS_MODEL, missing
    first = 2 if card.id in FROM_SECOND else 3 if card.id in FROM_THIRD else 1
    if number < first:
        return CardState.LATER, f"from sortie {first}"
    outcome = results.get(card.id)
    if card.id in EVERY_SORTIE and card.id not in fresh:
        return CardState.OPEN, "each sortie anew"
    if outcome is Outcome.FAILED or outcome is Outcome.ABORTED:
        return CardState.FAILED, "not passed last time"
    if outcome is None or outcome is Outcome.SKIPPED:
        return CardState.OPEN, "not done yet"
    if card.id in stale:
        return CardState.STALE, "a change since then"
    return CardState.DONE, "done in this configuration"


def _missing(card: Card, c: Configuration) -> str:
    setup = c.controls
    if card.requires == "flap" and (setup is None or not setup.moving(Command.FLAP)):
        return "no flaps"
    if card.requires == "stabiliser" and (setup is None or setup.stabiliser is None):
        return "no stabiliser"
    return ""


def _pack(
    states: Mapping[str, tuple[CardState, str]],
    c: Configuration,
    refused: frozenset[str],
    asked: tuple[tuple[str, ...], ...],
) -> tuple[str, ...]:
    budget = (1.0 - _RESERVE) * c.pack_minutes
    wanted = [k for k in sorted(_ORDER, key=lambda k: CARDS[k].risk) if _needed(states[k][0]) and k not in refused]
    chosen: set[str] = {k for k in _FRAME if states[k][0] is not CardState.NOT_FOR_THIS_MODEL}
    chosen |= {k for k in ("F2",) if _needed(states[k][0])}
    # What a change waits for comes before what is merely open.
    opening = [next((k for k in cards if k in wanted), None) for cards in asked]
    wanted = (
        [*(k for k in opening if k is not None), "F3", *wanted]
        if "F3" in wanted
        else [*(k for k in opening if k), *wanted]
    )
    bold = 0
    for card_id in wanted:
        if card_id in chosen:
            continue
        card = CARDS[card_id]
        minutes = sum(CARDS[k].minutes for k in chosen) + card.minutes
        is_bold = card.risk >= 3
        if minutes > budget or (is_bold and bold >= 2) or not _open_needs(card, chosen, states):
            continue
        chosen.add(card_id)
        bold += is_bold
    return tuple(sorted(chosen, key=lambda k: _ORDER[k]))


def _open_needs(card: Card, chosen: set[str], states: Mapping[str, tuple[CardState, str]]) -> bool:
    return all(
        n in chosen or states[n][0] in (CardState.DONE, CardState.STALE)
        for n in card.needs
        if CARDS[n].phase is Phase.FLIGHT
    )


def refusal(order: tuple[str, ...], *, configuration: Configuration, sortie_number: int) -> str | None:
    """Return why a flying order is refused, or None. Take-off first, landing last, needs before the card, nothing early."""
    if not order or order[0] != "F1":
        return "F1 comes first: it has to take off."
    if order[-1] != "F29":
        return "F29 comes last: it has to land."
    if len(set(order)) != len(order):
        return "A card stands twice in this sortie."
    for i, card_id in enumerate(order):
        card = CARDS.get(card_id)
        if card is None or card.phase is not Phase.FLIGHT:
            return f"{card_id} is not a flight card."
        state, reason = _state(card, configuration, {}, frozenset(), sortie_number)
        if state in (CardState.LATER, CardState.NOT_FOR_THIS_MODEL):
            return f"{card_id} {card.title}: {reason}."
        late = [n for n in card.needs if n in order[i:]]
        if late:
            return f"{card_id} needs {late[0]} before it."
    return None
