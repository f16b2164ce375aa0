"""Typed errors of the job. Every error carries what was wrong, in which unit and what is allowed.

They know nothing of the web: the interface translates ``code`` and ``context`` into its own shape.
"""

from __future__ import annotations

import math

from jinba.core.spoken import a_distance, a_length, a_mass, a_speed, spoken


class JinbaError(ValueError):
    """Base of every error the job can raise.

    ``code`` is stable and machine readable, ``title`` is one line for a person, ``context`` holds typed facts.
    """

    code = "error"

    def __init__(self, title: str, **context: object) -> None:
        super().__init__(title)
        self.title = title
        self.context: dict[str, object] = context

    def __str__(self) -> str:
        """The line as it stands in logs and on a terminal, in metric units."""
        return spoken(self.title)


class OutOfRangeError(JinbaError):
    """A value outside the range in which a method or a record makes sense."""

    code = "out-of-range"

    def __init__(
        self, name: str, value: float, *, unit: str, low: float | None = None, high: float | None = None, hint: str = ""
    ) -> None:
        far = max(abs(low or 0.0), abs(high or 0.0))
        bounds = _bounds_in_words(low, high, unit, far)
        meant = _meant(value, low, high)
        also = (f" Did you mean {amount_words(meant, unit, far)}?" if meant is not None else "") + (
            f" {hint}" if hint else ""
        )
        title = f"{name} is {amount_words(value, unit, far)}; it must be {bounds}.{also}"
        super().__init__(title, name=name, value=value, unit=unit, low=low, high=high)
        self.name = name


class GeometryError(JinbaError):
    """An outline that no aeroplane can have (crossed panels, chord of zero, ...)."""

    code = "impossible-geometry"


class UnreachableTargetError(JinbaError):
    """A correction that the means of this airframe cannot bring about."""

    code = "unreachable-target"


class NotConvergedError(JinbaError):
    """An iterative solution that did not settle; it is never returned as if it had."""

    code = "not-converged"


class UnknownKeyError(JinbaError):
    """A key that no table of the job knows (card, measure, silhouette, ...)."""

    code = "unknown-key"


class RefusedError(JinbaError):
    """A step the rules of the job do not allow now; the title says why and what would open it."""

    code = "refused"


_FAR_M = 50.0
"""Lengths of no model reach this far: what may be as large is a height or a way over ground, and is said in its units."""

_SHARES = {
    "share": "%",
    "of full": "% of full",
    "of the chord": "% of the chord",
    "of the half span": "% of the half span",
}
_PLAIN = {"-": "", "C": "C", "°": "°"}
_ZERO_CELSIUS_K = 273.15

SLIPS = (10.0, 0.1, 1000.0, 0.001, 100.0, 0.01, 25.4, 1.0 / 25.4)
"""What a slip multiplies by: a digit too many or too few, metres or centimetres for millimetres, inches. Derived here."""


def amount_words(value: float, unit: str, far: float = 0.0) -> str:
    """Return an amount in ``unit`` as a pilot reads it, in his own units where he has some: no radians, no coefficients.

    ``far``: the largest it may be; lengths that may be as large as no model are heights, or ways over ground.
    """
    if not math.isfinite(value):
        return "no number"
    if unit == "m":
        return a_distance(value, _digits(value)) if far >= _FAR_M else a_length(value, _digits(1000.0 * value))
    if unit == "kg":
        return a_mass(value, _digits(1000.0 * value))
    if unit == "m/s":
        return a_speed(value, 1)
    if unit == "rad":
        return f"{math.degrees(value):.{_digits(math.degrees(value))}f}°"
    if unit == "K":
        return f"{value - _ZERO_CELSIUS_K:.0f} °C"
    if unit == "Pa":
        return f"{value / 100.0:.0f} hPa"
    if unit in _SHARES:
        return f"{100.0 * value:g} {_SHARES[unit]}"
    return f"{value:g} {_PLAIN.get(unit, unit)}".rstrip()


def _digits(value: float) -> int:
    size = abs(value)
    return 0 if size >= 10.0 or size == 0.0 else 1 if size >= 1.0 else 2 if size >= 0.1 else 3


def _bounds_in_words(low: float | None, high: float | None, unit: str, far: float) -> str:
    if low is not None and high is not None:
        return f"between {amount_words(low, unit, far)} and {amount_words(high, unit, far)}"
    if low is not None:
        return f"at least {amount_words(low, unit, far)}"
    return f"at most {amount_words(0.0 if high is None else high, unit, far)}"


_MODEST = 0.8
_SLIPPED = 1.5
"""Times the bound: what is hardly beyond it is no slip, but what was measured. Derived here."""


def _meant(value: float, low: float | None, high: float | None) -> float | None:
    """Return what a slip made of this value: the first that lies well within the bounds, None where no slip explains it."""
    if not math.isfinite(value) or low is None or high is None:
        return None
    far = max(abs(low), abs(high))
    if low <= value <= _SLIPPED * far:
        return None
    wide = _MODEST * far
    if low >= 0.0 > value and low <= -value <= high:
        return -value
    return next((value / slip for slip in SLIPS if low <= value / slip <= high and abs(value / slip) <= wide), None)


def check_range(
    name: str, value: float, *, unit: str, low: float | None = None, high: float | None = None, hint: str = ""
) -> float:
    """Return ``value`` when it is finite and within ``[low, high]``.

    Raises: OutOfRangeError otherwise, with the name, the unit and the allowed range.
    """
    bad = not math.isfinite(value) or (low is not None and value < low) or (high is not None and value > high)
    if bad:
        raise OutOfRangeError(name, value, unit=unit, low=low, high=high, hint=hint)
    return value


def check_text(name: str, text: str, *, longest: int = 400) -> str:
    """Return ``text`` when it is short enough and holds no control characters (tab and newline are allowed).

    Raises: JinbaError with code ``bad-text``.
    """
    if len(text) > longest:
        raise JinbaError(f"{name} has {len(text)} characters; at most {longest} are kept.", name=name)
    # What is printable holds none: asked first, for every name of a setup is asked at every move of a pointer.
    if not text.isprintable() and any((ord(c) < 32 and c not in "\n\t") or ord(c) == 127 for c in text):
        raise JinbaError(f"{name} holds a control character; remove it and try again.", name=name)
    return text
