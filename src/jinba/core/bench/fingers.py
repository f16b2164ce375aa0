"""Where fingers or jig go on the wing for the balance point of a design."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.airframe.planform import chord_at
from jinba.core.frames import station_words
from jinba.core.observe.situation import Design
from jinba.core.spoken import a_length

_CLEARANCE_M = 0.03


@dataclass(frozen=True, slots=True)
class Fingers:
    """Where fingers or jig go: ``y_m`` from the centre line, ``behind_le_m`` behind the leading edge *there*, in words."""

    x_m: float
    y_m: float
    behind_le_m: float
    words: str


def fingers_of(design: Design) -> Fingers:
    """Return where to hold the model: just outside the body, in words. Derived here."""
    wing, body = design.configuration.airframe.wing, design.configuration.airframe.body
    y = min(body.width_m / 2.0 + _CLEARANCE_M, 0.9 * wing.half_span_m)
    leading, chord = chord_at(wing, y)
    behind = design.balance.x_m - leading
    side = "behind" if behind >= 0 else "ahead of"
    words = f"Fingers {a_length(abs(behind))} {side} the leading edge, {a_length(y)} from the centre line: level there means this balance point."
    if behind < 0 or behind > chord:
        words = f"The balance point lies outside the wing chord; balance it on a jig {station_words(design.balance.x_m, design.configuration.datum)}."
    return Fingers(design.balance.x_m, y, behind, words)
