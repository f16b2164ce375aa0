"""The whole catalogue by id, in flying order."""

from __future__ import annotations

from jinba.core.cards.control_cards import CONTROL_CARDS
from jinba.core.cards.flight_cards import FLIGHT_CARDS
from jinba.core.cards.ground_cards import AFTER_CARDS, BENCH_CARDS, GROUND_CARDS
from jinba.core.cards.incident import INCIDENT_CARD
from jinba.core.cards.model import Card
from jinba.core.errors import UnknownKeyError

CATALOGUE_VERSION = "2026.1"

TAKE_OFF, LANDING = "F1", "F29"
"""What every sortie begins and ends with."""

CARDS: dict[str, Card] = {
    c.id: c for c in (*BENCH_CARDS, *GROUND_CARDS, *FLIGHT_CARDS, *CONTROL_CARDS, *AFTER_CARDS, INCIDENT_CARD)
}


def card(card_id: str) -> Card:
    """Return a card by its id. Raises: UnknownKeyError naming the id."""
    try:
        return CARDS[card_id]
    except KeyError:
        raise UnknownKeyError(f"There is no card {card_id!r} in the catalogue.", card=card_id) from None
