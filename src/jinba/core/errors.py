"""Typed errors of the job. Every error carries what was wrong, in which unit and what is allowed.

They know nothing of the web: the interface translates ``code`` and ``context`` into its own shape.
"""

from __future__ import annotations

import math

from jinba.core.spoken import spoken


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
        bounds = _bounds_in_words(low, high, unit)
        title = f"{name} is {value:g} {unit}".rstrip() + f"; it must be {bounds}." + (f" {hint}" if hint else "")
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


def _bounds_in_words(low: float | None, high: float | None, unit: str) -> str:
    if low is not None and high is not None:
        return f"between {low:g} and {high:g} {unit}".rstrip()
    if low is not None:
        return f"at least {low:g} {unit}".rstrip()
    return f"at most {high:g} {unit}".rstrip()


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
    if any((ord(c) < 32 and c not in "\n\t") or ord(c) == 127 for c in text):
        raise JinbaError(f"{name} holds a control character; remove it and try again.", name=name)
    return text
