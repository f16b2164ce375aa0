"""What one record speaks for: a nose-heavy model, a tail-heavy one, or neither, in words."""

from __future__ import annotations

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.incident import HIT, INCIDENT, OUTSIDE, PHASE_OF, because, stick_at_its_end
from jinba.core.cards.model import CardRecord, Outcome
from jinba.core.diagnose.ordinary import NONE_ORDINARY, Ordinary
from jinba.core.frames import Response

ENDED_BADLY = (Outcome.ABORTED, Outcome.FAILED)

FORWARD_STICK = 0.1
"""Forward stick held from here on, of full, speaks for tail-heavy: common practice, no source."""

MUCH_FORWARD_STICK = 0.3
"""From here on, of full, stick held forward in a climb is an alarm whatever power does: common practice, no source."""

PUSH_INVERTED = 0.15
"""Push held inverted from here on, of full, speaks for nose-heavy; a pull of :data:`FORWARD_STICK` for tail-heavy. Common
practice, no source."""

CLICKS_FASTER = 2.0
"""Clicks from cruise to a third faster that speak for one or the other: common practice, no source."""


RISING, _FALLING = ("rises", "rears"), ("sinks", "drops")


def could_not(record: CardRecord) -> bool:
    """Return whether a record says that the model could not be left alone."""
    return record.left_alone is False


def power_explains(record: CardRecord) -> bool:
    """Whether a climb held down is no more than a nose that power pulls up asks for."""
    climb = record.card_id == "F1" and record.outcome is Outcome.DONE
    return climb and _held(record, "stick_held", Response.NOSE_DOWN) < MUCH_FORWARD_STICK


def speaks_nose_heavy(
    record: CardRecord, ordinary: Ordinary = NONE_ORDINARY, happened: CardRecord | None = None
) -> str:
    """Return in words why a record speaks for a nose-heavy model, empty when it does not.

    What a model does at the least margin of its class, too, speaks for nothing: a small one pulls hard out of any dive.
    ``happened``: the incident of the same sortie.
    """
    if why_broken_off(record, happened) == "stick_back" and not _rears(record) and ordinary.back < _LITTLE_LEFT:
        return f"{record.card_id} was broken off with the stick fully back"
    if record.outcome is not Outcome.DONE or could_not(record):
        return ""
    card = record.card_id
    if card == "F12" and _beyond(record, "dive", ordinary.dive) in ("pulls_out", "rears_out"):
        return "F12: let go, it pulls out of the dive"
    few = max(CLICKS_FASTER, ordinary.clicks_faster)
    if card == "F13" and _wants(record, Response.NOSE_DOWN, RISING, _FALLING, few):
        return "F13: faster, it wants down trim"
    if card == "F14" and _held(record, "stick_held", Response.NOSE_DOWN) >= max(PUSH_INVERTED, ordinary.push):
        return "F14: inverted, it wants a lot of push"
    if card == "F15" and _beyond(record, "line", ordinary.line) in ("bends", "bends_fast"):
        return "F15: the inverted line bends to the ground"
    return ""


_LITTLE_LEFT = 0.8
"""Share of full stick that a model holds back at the least margin of its class, beyond which a stick at its end says nothing: common
practice, no source."""


def why_broken_off(record: CardRecord, happened: CardRecord | None) -> str:
    """Return why a card was broken off, empty where it was flown to its end or nobody said.

    A stick at its end is said of the model, in whichever part of the flight; a reason outside it only of the part it is said of.
    """
    if record.outcome not in ENDED_BADLY or happened is None or _incident(happened):
        return ""
    why = because(happened)
    if why in OUTSIDE and PHASE_OF.get(record.card_id, "height") != chosen(happened, "phase"):
        return ""
    return why


def _rears(record: CardRecord) -> bool:
    return could_not(record) or any(chosen(record, k) in RISING for k in ("lift_off", "left_over", "go_round"))


def tail_heavy(record: CardRecord, happened: CardRecord | None = None) -> str:
    """Return in words why a record speaks for a tail-heavy model, or forbids to think of a nose-heavy one; else empty."""
    found = alarm(record, happened)
    if found or record.card_id != "F13":
        return found
    wants = _wants(record, Response.NOSE_UP, _FALLING, RISING, CLICKS_FASTER)
    return "F13: faster, it wants up trim" if wants else ""


def alarm(record: CardRecord, happened: CardRecord | None = None) -> str:
    """Return in words what a record says of a tail-heavy model that nothing else explains; else empty.

    ``happened``: the incident of the same sortie, which may say why a card was broken off.
    """
    card = record.card_id
    if card == INCIDENT:
        return _incident(record)
    explained = why_broken_off(record, happened) in ("stick_back", *OUTSIDE) and not _rears(record)
    if record.outcome in ENDED_BADLY and card in ("F1", "F2", "F28", "F29") and not explained:
        return f"{card} was broken off"
    if could_not(record):
        return f"{card}: it could not be left alone"
    if card == "F12" and chosen(record, "dive") == "tucks":
        return "F12: let go, the dive steepens"
    if card in ("F1", "F7", "F29"):
        key = "stick_back" if card == "F29" else "stick_held"
        if _held(record, key, Response.NOSE_DOWN) >= FORWARD_STICK:
            return f"{card}: stick was held forward"
    if card == "F14" and _held(record, "stick_held", Response.NOSE_UP) >= FORWARD_STICK:
        return "F14: inverted, it wants to be pulled"
    return ""


def _wants(record: CardRecord, way: Response, more: tuple[str, ...], less: tuple[str, ...], few: float) -> bool:
    """Whether clicks and what was left over together ask for trim one way; trimmed past the middle they ask for neither.

    ``few``: fewer clicks than this ask for nothing.
    """
    clicks, left = _held(record, "clicks_fast", way), chosen(record, "left_over")
    against = Response.NOSE_UP if way is Response.NOSE_DOWN else Response.NOSE_DOWN
    if left in more:
        # What still goes that way is worth the clicks that would be asked for at least.
        return _held(record, "clicks_fast", against) < CLICKS_FASTER and clicks + CLICKS_FASTER >= few
    return clicks >= few and left not in less


def _incident(said: CardRecord) -> str:
    """Return why an incident forbids to think of a nose-heavy model: it reared, or it was lost near the ground."""
    record = stick_at_its_end(said)
    if chosen(record, "phase") == "standing":
        return ""
    if chosen(record, "nose") in RISING or _held(record, "stick_held", Response.NOSE_DOWN) >= FORWARD_STICK:
        return f"{INCIDENT}: it reared, or stick was held forward"
    return f"{INCIDENT}: it hit the ground" if chosen(record, "ground") == HIT else ""


def _beyond(record: CardRecord, key: str, ordinary: int) -> str:
    """Return the word of a balance card where it is beyond the ordinary one, else nothing."""
    word = chosen(record, key)
    words = [o.key for o in CARDS[record.card_id].capture(key).options]
    return word if word and words.index(word) > ordinary else ""


def chosen(record: CardRecord, key: str) -> str:
    """Return the key of what was chosen for a measure, empty where nothing was."""
    reading = record.reading(key)
    return "" if reading is None or reading.choice is None else reading.choice


def _held(record: CardRecord, key: str, way: Response) -> float:
    """Return how much was held or given one way [of full, clicks]; 0 when it was the other way or nothing."""
    reading = record.reading(key)
    return reading.number if reading is not None and reading.number and reading.direction is way else 0.0
