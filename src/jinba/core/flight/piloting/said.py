"""What a pilot writes down, in the readings of a card."""

from __future__ import annotations

from jinba.core.cards.catalogue import card
from jinba.core.cards.incident import CLEAR, HIT, INCIDENT, PHASE_OF
from jinba.core.cards.model import CardRecord, Confidence, Outcome, Reading
from jinba.core.frames import Axis, response_of_deflection


def option(card_id: str, key: str, index: int) -> Reading:
    """Return the reading of a worded scale, its lowest word 0."""
    return Reading(key, choice=card(card_id).capture(key).options[index].key)


def mirrored(index: int, *, words: int = 5) -> int:
    """Return the word of the other side on a scale from left to right."""
    return words - 1 - index


def held(key: str, axis: Axis, surface: float, *, digits: int) -> Reading:
    """Return a stick or a count of clicks by the way its surface went, in the unit of the measure, never signed."""
    number = round(abs(surface), digits)
    return Reading(
        key, number=number, direction=response_of_deflection(axis, surface) if number else None, none=number == 0
    )


def done(card_id: str, *readings: Reading | None, left_alone: bool | None = None) -> CardRecord:
    """Return the record of a card that was flown; what was not seen is left out."""
    kept = tuple(r for r in readings if r is not None)
    return CardRecord(card_id, Outcome.DONE, kept, left_alone, Confidence.FAIR)


def aborted(card_id: str) -> CardRecord:
    """Return the record of a card that was broken off."""
    return CardRecord(card_id, Outcome.ABORTED, (), None, Confidence.FAIR)


def could_not_fly(card_id: str, because: str) -> CardRecord:
    """Return what is said of a card that could not be flown; ``because``: key of what it was short of."""
    phase = PHASE_OF.get(card_id, "height")
    said = (("phase", phase), ("ground", CLEAR), ("because", because))
    return done(INCIDENT, *(Reading(key, choice=choice) for key, choice in said))


def hit_the_ground(card_id: str, nose: int | None) -> CardRecord:
    """Return what is said of a crash in a card; ``nose``: index of the word for what it did by itself, None where hands held it."""
    said = [Reading("phase", choice=PHASE_OF.get(card_id, "height")), Reading("ground", choice=HIT)]
    return done(INCIDENT, *said, None if nose is None else option(INCIDENT, "nose", nose))
