"""What a record says nothing of, because of what it was flown in."""

from __future__ import annotations

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.model import CardRecord, Phase
from jinba.core.controls.stabiliser import masks
from jinba.core.controls.switches import MODE_WORDS, FlightMode


def masked(record: CardRecord) -> str:
    """Return why a flight record says nothing of the model itself, in words; empty when it does.

    A stabiliser that works flies it, and with flap another wing was flown. A card that is about the stabiliser or the flap is not
    masked by it. Common practice, no source.
    """
    kind, flown = CARDS.get(record.card_id), record.conditions
    if kind is None or kind.phase is not Phase.FLIGHT:
        return ""
    if flown.mode not in (None, FlightMode.PASS_THROUGH) and kind.requires != "stabiliser":
        return f"flown {MODE_WORDS[flown.mode]}: it says nothing of {', '.join(masks(flown.mode))}"
    if flown.flap and kind.requires != "flap":
        return "flown with flap: it says nothing of the balance and trim of the clean model"
    return ""
