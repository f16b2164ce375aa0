"""One adequacy check: a value against the range in which it is sane, and what it means."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Adequacy:
    """One check: value in ``unit`` against its range (None: open), whether it passes, and what it means in words."""

    key: str
    label: str
    value: float
    unit: str
    low: float | None
    high: float | None
    passes: bool
    words: str


def in_range(
    key: str, label: str, value: float, unit: str, band: tuple[float, float], words: tuple[str, str, str]
) -> Adequacy:
    """Return the check of a value against a band, with the words for below, inside and above it.

    ``value`` and ``band`` in one unit, whatever it is.
    """
    low, high = band
    said = words[0] if value < low else words[2] if value > high else words[1]
    return Adequacy(key, label, value, unit, low, high, low <= value <= high, said)
