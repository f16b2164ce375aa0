"""The programme: which cards a configuration still needs, packed into the next sortie from safe to bold."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from enum import StrEnum

from jinba.core.cards.catalogue import CARDS, LANDING, TAKE_OFF
from jinba.core.cards.fitted import axes_of
from jinba.core.cards.flight_cards import RUDDER_ROLLS
from jinba.core.cards.incident import AFTER_REPAIR, ONLY_THEN
from jinba.core.cards.model import Card, Outcome, Phase
from jinba.core.cards.stale import EVERY_SORTIE
from jinba.core.configuration import Configuration
from jinba.core.controls.fitting import Command
from jinba.core.diagnose.ordinary import tells_apart
from jinba.core.diagnose.seen import NOTHING, Seen, could_not
from jinba.core.frames import Axis

FIRST_SORTIE = ("F1", "F2", "F3", "F4", "F7", "F32", "F28", "F29")
FROM_SECOND = ("F5", "F8", "F11", "F12", "F13", "F23", "F25")
FROM_THIRD = ("F14", "F15", "F21", "F24")
_ORDER = {
    card_id: i
    for i, card_id in enumerate(
        (
            *("F1", "F2", "F3", "F4", "F34", "F32", "F5", "F13", "F7", "F23", "F25", "F24"),
            *("F8", "F11", "F12", "F14", "F15", "F21", "F28", "F29"),
        )
    )
}
_FRAME = ("F1", "F28", "F29")
"""Flown in every sortie: it has to take off and land anyway, with a practised approach."""

BOLD = 3
MOST_BOLD = 2
"""From this risk on a card is bold; so many of them in one sortie. Common practice, no source."""

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
class Since:
    """What an incident has re-opened and nobody has done again since; ``flown``: sorties since one after which the model is to
    be flown as new, None when there was none."""

    opened: frozenset[str] = frozenset()
    flown: int | None = None


UNTOUCHED = Since()


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
    seen: Seen = NOTHING,
    since: Since = UNTOUCHED,
) -> Programme:
    """Return the programme for the next sortie.

    Parameters
    ----------
    configuration : the present one.
    results : latest outcome of each card, any configuration.
    stale : cards that changes since have made stale.
    sorties_flown : with this model. ``refused``: cards that the weather rules out.
    fresh : cards of every sortie that have been done since the last landing.
    seen : what the newest record of each card says of the model as it stands.
    since : what an incident has re-opened, and how often it has flown since it was to be flown as new.
    asked : for each change that is held back, the cards of which one opens it, the better one first; flown already and not enough, the
        first is flown again.

    The maiden holds first acquaintance only; F5, F8, F12, F13 from the second, inverted cards from the third and only for
    models flown inverted. Bold cards (risk 3 and more) at most two a sortie. Common practice, no source.
    """
    number = sorties_flown + 1
    stage = number if since.flown is None else since.flown + 1
    states = {c.id: _state(c, configuration, results, stale, stage, fresh, since.opened) for c in CARDS.values()}
    flight = _pack(states, configuration, refused, asked, seen)
    planned = tuple(
        PlannedCard(
            c.id, *states[c.id], proposed=c.id in flight or (c.phase is not Phase.FLIGHT and _needed(states[c.id][0]))
        )
        for c in CARDS.values()
    )
    gates = tuple(c.id for c in CARDS.values() if c.phase in (Phase.BENCH, Phase.GROUND) and _needed(states[c.id][0]))
    minutes = sum(CARDS[c].minutes for c in flight)
    note = ""
    if stage == 1:
        what = "A maiden" if number == 1 else "The first flight after an incident is a maiden: it"
        note = f"{what} holds first acquaintance only: no stalls, no dives."
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
    opened: frozenset[str] = frozenset(),
) -> tuple[CardState, str]:
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
        return CardState.OPEN, "not done yet"
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


def _pack(
    states: Mapping[str, tuple[CardState, str]],
    c: Configuration,
    refused: frozenset[str],
    asked: tuple[tuple[str, ...], ...],
    seen: Seen,
) -> tuple[str, ...]:
    budget = (1.0 - _RESERVE) * c.pack_minutes
    wanted = [k for k in sorted(_ORDER, key=lambda k: CARDS[k].risk) if _needed(states[k][0]) and k not in refused]
    chosen: set[str] = {k for k in _FRAME if states[k][0] is not CardState.NOT_FOR_THIS_MODEL}
    # An approach with power needs both trims flown once; a roll trim that is only stale may wait for what a change waits for.
    chosen |= {k for k in ("F2", "F3") if _needed(states[k][0]) and (k == "F2" or states[k][0] is not CardState.STALE)}
    # What a change waits for comes before what is merely open; where all of it was flown, the better of it is flown again.
    opening = (
        next((k for k in cards if k in wanted), next((k for k in cards if _again(k, states, refused)), None))
        for cards in asked
    )
    wanted = [*(k for k in opening if k is not None), *(k for k in ("F3",) if k in wanted), *wanted]
    bold = 0
    for card_id in wanted:
        if card_id in chosen:
            continue
        card = CARDS[card_id]
        minutes = sum(CARDS[k].minutes for k in chosen) + card.minutes
        is_bold = card.risk >= BOLD
        if minutes > budget or (is_bold and (bold >= MOST_BOLD or too_bold(card_id, chosen, states, seen))):
            continue
        if not _open_needs(card, chosen, states):
            continue
        chosen.add(card_id)
        bold += is_bold
    return tuple(sorted(chosen, key=lambda k: _ORDER[k]))


def _again(card_id: str, states: Mapping[str, tuple[CardState, str]], refused: frozenset[str]) -> bool:
    return states[card_id][0] is CardState.DONE and card_id not in refused


def _open_needs(card: Card, chosen: set[str], states: Mapping[str, tuple[CardState, str]]) -> bool:
    return all(n in chosen or _flown(states[n][0]) for n in card.needs if CARDS[n].phase is Phase.FLIGHT)


def too_bold(
    card_id: str, before: Collection[str], states: Mapping[str, tuple[CardState, str]], seen: Seen
) -> str | None:
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
    flown_slowly = states["F7"][0] in (CardState.DONE, CardState.STALE, CardState.NOT_FOR_THIS_MODEL)
    if "F7" not in before and not flown_slowly:
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
    stage = sortie_number if since.flown is None else since.flown + 1
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
        state, reason = _state(card, configuration, {}, frozenset(), stage)
        if state in (CardState.LATER, CardState.NOT_FOR_THIS_MODEL):
            return f"{card_id} {card.title}: {reason}."
        late = [n for n in card.needs if n in order[i:]]
        if late:
            return f"{card_id} needs {late[0]} before it."
    states = {c.id: _state(c, configuration, results, stale, stage, opened=since.opened) for c in CARDS.values()}
    for i, card_id in enumerate(order):
        missing = [
            n
            for n in CARDS[card_id].needs
            if CARDS[n].phase is Phase.FLIGHT and n not in order[:i] and not _flown(states[n][0])
        ]
        if missing:
            return f"{card_id} needs {missing[0]}, which was never flown: fly it first."
        why = too_bold(card_id, order[:i], states, seen)
        if why is not None:
            return f"{card_id} {CARDS[card_id].title}: {why}."
    bold = [c for c in order if CARDS[c].risk >= BOLD]
    if len(bold) > MOST_BOLD:
        return f"{', '.join(bold)}: at most two bold cards in one sortie. Take one out."
    return None


def _flown(state: CardState) -> bool:
    return state in (CardState.DONE, CardState.STALE, CardState.NOT_FOR_THIS_MODEL)
