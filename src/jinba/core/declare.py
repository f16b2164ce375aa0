"""What a change of a field means, said once, on the field itself.

A field of a setup says its unit and whether it moves with the datum (:class:`Unit`, by the aliases below), which kind of change
it is (:class:`Opens`; a field without one is part of what its owner says), and whether a sister inherits it
(:class:`Sister`; likewise). Walkers read these: datum shift, what became stale, words of difference, the sister. One test
fails when a field is not classified.
"""

from __future__ import annotations

import types
from collections.abc import Callable, Iterator
from dataclasses import MISSING, Field, fields, is_dataclass
from enum import Enum, StrEnum
from functools import lru_cache
from typing import Annotated, Any, Union, get_args, get_origin, get_type_hints


class Change(StrEnum):
    """Kinds of change that make results stale."""

    BALANCE = "balance"
    LATERAL = "lateral"
    ELEVATOR = "elevator"
    AILERON_RUDDER = "aileron_rudder"
    THRUST_LINE = "thrust_line"
    THROWS = "throws"
    POWER = "power"
    AIRFRAME = "airframe"
    EQUIPMENT = "equipment"
    RADIO_TRIM = "radio_trim"
    FLAP = "flap"
    RADIO_MEMORY = "radio_memory"
    FAIL_SAFE = "fail_safe"
    STABILISER = "stabiliser"
    GAINS = "gains"
    CONTROLS = "controls"


class Unit:
    """Unit of a number, how close two values are the same, and whether it is a station that moves with the datum."""

    def __init__(self, symbol: str, same_within: float, *, station: bool = False) -> None:
        self.symbol, self.same_within, self.station = symbol, same_within, station


Metres = Annotated[float, Unit("m", 1e-6)]
Station = Annotated[float, Unit("m", 1e-6, station=True)]
"""A place along the body, aft of the datum: falls by as much as the datum moves aft. [m]"""

Radians = Annotated[float, Unit("rad", 1e-7)]
Kilograms = Annotated[float, Unit("kg", 1e-7)]
AsMeasured = Annotated[float, Unit("m or rad", 1e-9)]
"""A length or an angle, whichever the measure is that a record names. [m or rad]"""

KilogramMetresSquared = Annotated[float, Unit("kg m2", 1e-9)]
MetresPerSecond = Annotated[float, Unit("m/s", 1e-6)]
Newtons = Annotated[float, Unit("N", 1e-6)]
NewtonMetres = Annotated[float, Unit("N m", 1e-7)]
Microseconds = Annotated[float, Unit("us", 1e-6)]
Minutes = Annotated[float, Unit("min", 1e-6)]
Kelvin = Annotated[float, Unit("K", 1e-6)]
Share = Annotated[float, Unit("1", 1e-9)]
"""A number without unit: a share, a coefficient, a device's own figure."""

Count = Annotated[int, Unit("", 0.0)]
"""A whole number: clicks, channels, places."""

Words = str | Callable[[Any, Any], str]
Kinds = Change | tuple[Change, ...] | Callable[[Any, Any], tuple[Change, ...]]


class Opens:
    """Which kinds of change it is when a field differs, and the words for it.

    ``kinds`` may depend on the record that holds the field. ``words``: a sentence, or made of that record before and after
    (None where it is fitted or taken out). ``covers``: kinds that are not reported of the same record beside this one.
    """

    def __init__(self, kinds: Kinds, words: Words = "", *, covers: tuple[Change, ...] = ()) -> None:
        self._kinds, self._words, self.covers = kinds, words, covers

    def kinds(self, before: Any, after: Any) -> tuple[Change, ...]:
        """Return the kinds of change for a record before and after; none when it is no change after all."""
        if isinstance(self._kinds, Change):
            return (self._kinds,)
        return self._kinds if isinstance(self._kinds, tuple) else self._kinds(before, after)

    def words(self, before: Any, after: Any) -> str:
        """Return the words for a record before and after; empty when there is nothing to say."""
        return self._words if isinstance(self._words, str) else self._words(before, after)


OPENS_NOTHING = Opens(())
"""Known better, planned otherwise or named anew: nothing about the model has changed."""


class Keyed:
    """Parts of a tuple are the same part when this field of theirs is equal; ``counts`` says which are there at all."""

    def __init__(self, by: str, *, counts: str = "", came_or_went: Opens | None = None) -> None:
        self.by, self.counts, self.came_or_went = by, counts, came_or_went


class CameOrWent:
    """What it is when a record comes where there was none, or goes: a change of everything it says."""

    def __init__(self, opens: Opens) -> None:
        self.opens = opens


class Sister(Enum):
    """What a model built again with the same airframe does with a field."""

    INHERITS = "inherits"
    ANEW = "anew"


@lru_cache(maxsize=512)
def declared(kind: type) -> tuple[tuple[Field[Any], Any, tuple[object, ...]], ...]:
    """Return (field, type without marks, marks) of each field of a dataclass."""
    hints = get_type_hints(kind, include_extras=True)
    return tuple((f, *_unwrapped(hints[f.name])) for f in fields(kind))


def _unwrapped(hint: Any) -> tuple[Any, tuple[object, ...]]:
    if get_origin(hint) is Annotated:
        inner, *marks = get_args(hint)
        return inner, tuple(marks)
    return hint, ()


def mark(marks: tuple[object, ...], kind: type[Any]) -> Any:
    """Return the mark of a kind among the marks of a field, or None."""
    return next((m for m in marks if isinstance(m, kind)), None)


def hinted(hint: Any) -> Iterator[tuple[type, tuple[object, ...]]]:
    """Yield (plain type, marks) of every type inside a hint: through optional ones and tuples."""
    inner, marks = _unwrapped(hint)
    origin = get_origin(inner)
    if origin in (Union, types.UnionType, tuple):
        for part in get_args(inner):
            if part not in (type(None), Ellipsis):
                yield from hinted(part)
    else:
        yield inner, marks


@lru_cache(maxsize=512)
def unit_of(kind: type, name: str) -> Unit | None:
    """Return the unit of a numeric field of a dataclass, None when it is no number or says none."""
    hint = get_type_hints(kind, include_extras=True)[name]
    found = [u for _, marks in hinted(hint) if (u := mark(marks, Unit)) is not None]
    _, own = _unwrapped(hint)
    return mark(own, Unit) or (found[0] if found else None)


def default_of(field: Field[Any]) -> Any:
    """Return what a field is when nothing is said. Raises: TypeError for a field that must be given."""
    if field.default is not MISSING:
        return field.default
    if field.default_factory is not MISSING:
        return field.default_factory()
    raise TypeError(f"{field.name} has no default")


def is_record(value: object) -> bool:
    """Return whether a value is a record of the core, not its class."""
    return is_dataclass(value) and not isinstance(value, type)
