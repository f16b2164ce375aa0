"""What a record says nothing of, because of what it was flown in."""

from __future__ import annotations

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.model import CardRecord, Phase
from jinba.core.controls.stabiliser import masks
from jinba.core.controls.switches import MODE_WORDS, FlightMode

STEPS_ITSELF = ("F5", "F11", "F28", "F32")
"""Cards that move the throttle themselves, or do not mind it: what the lever did is what they say."""

SIDEWAYS = ("roll_slow", "bank_wing", "bank_time", "wing", "sharpness")
"""Readings of slow flight and stall that flap leaves what they are: it lowers both wings alike."""


def half_seen(record: CardRecord) -> bool:
    """Return whether a record with flap still says which wing goes down, if nothing of pitch, trim and speeds."""
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
        still = f"; {kind.with_flap}" if half_seen(record) else ""
        return f"flown with flap: it says nothing of the balance and trim of the clean model{still}"
    return ""


def flown_otherwise(record: CardRecord) -> str:
    """Return what a record was flown at where its card wants another throttle, and what that leaves out, in words; else empty."""
    lever = record.conditions.throttle
    if lever is None:
        return ""
    at = "at idle" if lever == 0.0 else "at full throttle" if lever == 1.0 else f"at {lever:.0%} of the throttle"
    read = record.reading("entry_speed")
    if record.card_id == "F8" and lever > 0.0 and read is not None:
        return f"flown {at}: the speed of the break is not that of a stall without power"
    return f"flown {at}: predicted for that"
