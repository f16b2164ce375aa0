"""What a record says nothing of, because of what it was flown in."""

from __future__ import annotations

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.model import CardRecord, GearState, Phase
from jinba.core.controls.stabiliser import masks
from jinba.core.controls.switches import MODE_WORDS, FlightMode

STEPS_ITSELF = ("F5", "F11", "F28", "F32")
"""Cards that move the throttle themselves, or do not mind it: what the lever did is what they say."""

FLOWN_WITH_FLAP = ("F7", "F28", "F29")
"""Cards that are predicted for the flap they were flown with, where the flaps are described."""

SIDEWAYS = ("roll_slow", "bank_wing", "bank_time", "wing", "sharpness")
"""Readings of slow flight and stall that flap leaves what they are: it lowers both wings alike."""


def half_seen(record: CardRecord) -> bool:
    """Return whether a record with flap still says something: what it is predicted for, or which wing goes down."""
    flown = record.conditions
    hands = flown.mode in (None, FlightMode.PASS_THROUGH)
    kind = CARDS.get(record.card_id)
    return bool(flown.flap) and hands and kind is not None and bool(kind.with_flap)


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
        if half_seen(record) and record.card_id in FLOWN_WITH_FLAP:
            return ""
        still = f"; {kind.with_flap}" if half_seen(record) else ""
        return f"flown with flap: it says nothing of the balance and trim of the clean model{still}"
    return ""


def flown_otherwise(record: CardRecord) -> str:
    """Return what a record was flown at where its card wants another throttle or no flap, and what that leaves out, in words; else
    empty."""
    return "; ".join(w for w in (_flap_words(record), _gear_words(record), _lever_words(record)) if w)


def _flap_words(record: CardRecord) -> str:
    flap = record.conditions.flap
    if not flap or record.card_id not in FLOWN_WITH_FLAP or not half_seen(record):
        return ""
    return f"flown with {'full' if flap == 1.0 else f'{100 * flap:.0f} %'} flap: {CARDS[record.card_id].with_flap}"


def gear_otherwise(record: CardRecord) -> bool:
    """Return whether a gear that folds stood where the card does not want it."""
    kind, gear = CARDS.get(record.card_id), record.conditions.gear
    return kind is not None and gear is not None and (gear is GearState.DOWN) is not kind.gear_down


def _gear_words(record: CardRecord) -> str:
    if not gear_otherwise(record):
        return ""
    if record.conditions.gear is GearState.UP:
        return "flown with the gear up: what the nose does is believed half as much"
    return "flown with the gear down, whose drag below the model lowers the nose: what the nose does is believed half as much"


def _lever_words(record: CardRecord) -> str:
    lever = record.conditions.throttle
    if lever is None:
        return ""
    at = (
        "at idle" if lever == 0.0 else "at full throttle" if lever == 1.0 else f"at {100 * lever:.0f} % of the throttle"
    )
    read = record.reading("entry_speed")
    if record.card_id == "F8" and lever > 0.0 and read is not None:
        return f"flown {at}: the speed of the break is not that of a stall without power"
    return f"flown {at}: predicted for that"
