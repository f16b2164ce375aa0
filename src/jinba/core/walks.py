"""Walks over a setup that read what its fields declare: another datum, what changed, the same model built again."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from typing import Any, TypeVar

from jinba.core.configuration import Configuration
from jinba.core.controls.surface_control import Control
from jinba.core.declare import (
    OPENS_NOTHING,
    CameOrWent,
    Change,
    Keyed,
    Opens,
    Sister,
    declared,
    default_of,
    is_record,
    mark,
    unit_of,
)
from jinba.core.mass.items import ItemKind

T = TypeVar("T")


def shift_datum(configuration: Configuration, dx_m: float, words: str) -> Configuration:
    """Return the same model described from a datum ``dx_m`` [m] further aft; every station falls by ``dx_m``.

    Which numbers are stations stands on the fields (``core.declare``). Derived here.
    """
    return replace(_shifted(configuration, dx_m), datum=words)


def _shifted(value: T, dx_m: float) -> T:
    if isinstance(value, tuple):
        return tuple(_shifted(v, dx_m) for v in value)  # type: ignore[return-value]
    if not is_record(value):
        return value
    moved, kind = {}, _class_of(value)
    for field in fields(value):  # type: ignore[arg-type]
        part = getattr(value, field.name)
        unit = unit_of(kind, field.name)
        moved[field.name] = _fallen(part, dx_m) if unit is not None and unit.station else _shifted(part, dx_m)
    return replace(value, **moved)  # type: ignore[type-var]


def _class_of(value: object) -> type:
    return type(value)


def _fallen(station: Any, dx_m: float) -> Any:
    if isinstance(station, tuple):
        return tuple(_fallen(s, dx_m) for s in station)
    return None if station is None else station - dx_m


def built_again(configuration: Configuration) -> Configuration:
    """Return the setup of a model built again with the same airframe, to be weighed and balanced anew.

    What belongs to the one airframe is left out, as its fields declare; ballast too. Where a surface was found to rest is set
    at the clevis of the new one, with nothing in the radio. Derived here.
    """
    c: Configuration = _without_the_one(configuration)
    kept = tuple(i for i in c.items if i.kind is not ItemKind.BALLAST)
    elevator, aileron, rudder = (_untrimmed(k) for k in (c.elevator, c.aileron, c.rudder))
    return replace(c, items=kept, elevator=elevator, aileron=aileron, rudder=rudder)


def _without_the_one(value: Any) -> Any:
    if isinstance(value, tuple):
        return tuple(_without_the_one(v) for v in value)
    if not is_record(value):
        return value
    kept = {}
    for field, _, marks in declared(_class_of(value)):
        anew = mark(marks, Sister) is Sister.ANEW
        kept[field.name] = default_of(field) if anew else _without_the_one(getattr(value, field.name))
    return replace(value, **kept)


def _untrimmed(control: Control) -> Control:
    return replace(control, mechanical_rad=control.mechanical_rad + control.sub_trim_rad, sub_trim_rad=0.0, clicks=0)


@dataclass(frozen=True, slots=True)
class _Said:
    """A field that differs: what it opens, and the record that declares it, by its place, before and after."""

    place: str
    path: str
    opens: Opens
    before: Any
    after: Any

    @property
    def kinds(self) -> tuple[Change, ...]:
        return self.opens.kinds(self.before, self.after)

    def covers(self, other: _Said, kind: Change) -> bool:
        """Whether a kind need not be said of another field: it lies beside this one or within it."""
        beside = other.place == self.place or f"{other.place}.".startswith(f"{self.path}.")
        return kind in self.opens.covers and beside


@dataclass(frozen=True, slots=True)
class Told:
    """One difference: its kinds, in words, and the place of the field (".items.battery.x_m")."""

    kinds: tuple[Change, ...]
    words: str
    path: str


def differences(before: Configuration, after: Configuration) -> tuple[Told, ...]:
    """Return what differs between two setups, as their fields declare it; what another difference covers is left out.

    A setup described from another datum is the same model: the stations are compared from one datum. Derived here.
    """
    return tuple(Told(kinds, s.opens.words(s.before, s.after), s.path) for s, kinds in _said(before, after))


def kinds_of_change(before: Configuration, after: Configuration) -> frozenset[Change]:
    """Return the kinds of change between two setups, without a word of them. Derived here."""
    return frozenset(k for _, kinds in _said(before, after) for k in kinds)


def _said(before: Configuration, after: Configuration) -> list[tuple[_Said, tuple[Change, ...]]]:
    said: list[_Said] = []
    _compare(_from_one_datum(before, after), after, "", None, said)
    own = ((s, tuple(k for k in s.kinds if not any(o.covers(s, k) for o in said if o is not s))) for s in said)
    return [(s, kinds) for s, kinds in own if kinds]


def changes(before: Configuration, after: Configuration) -> tuple[frozenset[Change], tuple[str, ...]]:
    """Return what differs between two setups as kinds of change and in words, each once. Derived here."""
    found = differences(before, after)
    words = dict.fromkeys(t.words for t in found if t.words)
    return frozenset(k for t in found for k in t.kinds), tuple(words)


def _from_one_datum(before: Configuration, after: Configuration) -> Configuration:
    if before.datum == after.datum:
        return before
    return shift_datum(before, before.airframe.body.nose_x_m - after.airframe.body.nose_x_m, after.datum)


def _compare(before: Any, after: Any, place: str, inherited: _Said | None, said: list[_Said]) -> None:
    """Compare two records of one class field by field; a field without a mark says what its owner says."""
    for field, _, marks in declared(_class_of(before)):
        a, b = getattr(before, field.name), getattr(after, field.name)
        # Most of two setups is alike, and is not gone through.
        if a == b:
            continue
        opens, here = mark(marks, Opens), f"{place}.{field.name}"
        own = inherited if opens is None else _Said(place, here, opens, before, after)
        fitted = mark(marks, CameOrWent)
        if fitted is not None and (a is None) != (b is None):
            own = _Said(place, here, fitted.opens, before, after)
        keyed = mark(marks, Keyed)
        if keyed is not None:
            _compare_keyed(a, b, keyed, here, said)
        else:
            _compare_values(_class_of(before), field.name, a, b, here, own, said)


def _compare_values(kind: type, name: str, a: Any, b: Any, place: str, own: _Said | None, said: list[_Said]) -> None:
    if is_record(a) and type(a) is type(b):
        _compare(a, b, place, own, said)
    elif isinstance(a, tuple) and isinstance(b, tuple) and len(a) == len(b):
        for i, (x, y) in enumerate(zip(a, b, strict=True)):
            _compare_values(kind, name, x, y, f"{place}.{i}", own, said)
    elif not _same(kind, name, a, b) and own is not None and own.opens is not OPENS_NOTHING:
        said.append(own)


def _same(kind: type, name: str, a: Any, b: Any) -> bool:
    if isinstance(a, float | int) and isinstance(b, float | int) and not isinstance(a, bool):
        unit = unit_of(kind, name)
        return a == b or (unit is not None and abs(a - b) <= unit.same_within)
    return bool(a == b)


def _compare_keyed(a: Any, b: Any, keyed: Keyed, place: str, said: list[_Said]) -> None:
    old, new = (
        {getattr(part, keyed.by): part for part in parts if not keyed.counts or getattr(part, keyed.counts)}
        for parts in (a, b)
    )
    for key in dict.fromkeys((*old, *new)):
        one, other = old.get(key), new.get(key)
        if one is not None and other is not None:
            _compare(one, other, f"{place}.{key}", None, said)
        elif keyed.came_or_went is not None:
            said.append(_Said(place, f"{place}.{key}", keyed.came_or_went, one, other))
