"""How a behaviour is known: seen in its band, seen outside, seen and not sure, inferred from other cards, or not known."""

from __future__ import annotations

from enum import StrEnum

from jinba.core.cards.catalogue import card
from jinba.core.cards.model import CardRecord, Outcome
from jinba.core.diagnose.seen import Seen
from jinba.core.diagnose.speaks import could_not
from jinba.core.uncertainty import normal_cdf

KNOWN = 0.8
"""Chance from which on a behaviour is said to lie in its band; one less it, to lie outside. Common practice, no source."""

OWN_CARDS: dict[str, tuple[tuple[str, str], ...]] = {
    "static_margin": (("F13", "clicks_fast"), ("F12", "dive"), ("F14", "stick_held")),
    "asked_push": (("F14", "stick_held"),),
    "asked_dive": (("F12", "dive"),),
    "asked_touchdown": (("F29", "stick_back"),),
    "pitch_trim": (("F2", "left_over"),),
    "roll_cruise": (("F3", "left_over"),),
    "roll_slow": (("F7", "roll_slow"), ("F28", "roll_slow")),
    "power_pitch": (("F5", "pitch_full"), ("F28", "go_round")),
    "yaw": (("F4", "left_over"),),
    "stall_speed": (("F8", "entry_speed"),),
}
"""For each behaviour the cards that show it themselves, with the measure that does."""


_FIRST_COUNTS = ("roll_slow", "power_pitch")
"""Behaviours that are also looked at on the approach: where their own card was flown, it says more."""


class Shown(StrEnum):
    """How a behaviour is known."""

    IN_BAND = "in_band"
    BELOW = "below"
    ABOVE = "above"
    UNSURE = "unsure"
    INFERRED = "inferred"
    UNKNOWN = "unknown"


OUTSIDE = (Shown.BELOW, Shown.ABOVE)
"""Seen outside its band, towards the left or the right word of its rail."""


def chance_in_band(value: float, sigma: float, band: tuple[float, float]) -> float:
    """Return the chance that a behaviour lies in its band. [-] All in the unit of the behaviour; normal. Derived here."""
    low, high = band
    if sigma <= 0.0:
        return 1.0 if low <= value <= high else 0.0
    return normal_cdf((high - value) / sigma) - normal_cdf((low - value) / sigma)


def sure_side(value: float, sigma: float, band: tuple[float, float]) -> int:
    """Return -1 or +1 where a behaviour lies below or above its band with four chances in five, 0 where neither. All in its unit. Derived
    here."""
    low, high = band
    if sigma <= 0.0:
        return int(value > high) - int(value < low)
    return int(normal_cdf((value - high) / sigma) >= KNOWN) - int(normal_cdf((low - value) / sigma) >= KNOWN)


def how_shown(key: str, value: float, sigma: float, band: tuple[float, float], seen: Seen) -> Shown:
    """Return how a behaviour is known, all numbers in its unit.

    Seen on its own card it lies in its band when its chance is four in five or the pilot's own word was the middle one, and
    never beside a word at an end of the scale or "could not be left alone". Not seen it is inferred where the chance is four
    in five either way, else not known. Derived here (docs/methods/estimator.md).
    """
    low, high = band
    chance = chance_in_band(value, sigma, band)
    own = [(r, measure) for c, measure in OWN_CARDS[key] if (r := seen.of(c)) is not None and _says(r, measure)]
    if key in _FIRST_COUNTS:
        own = own[:1]
    if not own:
        return Shown.INFERRED if chance >= KNOWN or sure_side(value, sigma, band) else Shown.UNKNOWN
    if value < low or value > high:
        return Shown.BELOW if value < low else Shown.ABOVE
    words = [_word(r, m) for r, m in own]
    end = next((w for w in words if w is not None and abs(w) > 1), 0)
    if end:
        return Shown.BELOW if end < 0 else Shown.ABOVE
    if any(could_not(r) for r, _ in own):
        return Shown.UNSURE
    return Shown.IN_BAND if chance >= KNOWN or all(w == 0 for w in words) else Shown.UNSURE


def _says(record: CardRecord, measure: str) -> bool:
    return record.outcome is Outcome.DONE and (record.reading(measure) is not None or could_not(record))


def _word(record: CardRecord, measure: str) -> int | None:
    """Return how far a rating of drift lies from the middle of its scale, in words; None for any other measure."""
    reading = record.reading(measure)
    if reading is None or reading.choice is None or record.card_id in ("F12", "F15"):
        return None
    keys = [o.key for o in card(record.card_id).capture(measure).options]
    return keys.index(reading.choice) - len(keys) // 2
