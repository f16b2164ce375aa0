"""Quantities in sentences: each stands there with its SI value, and the one renderer here writes it in the reader's units.

A sentence is put together where its rule is, with its typed arguments in place: ``f"Move it {a_length(0.012)} aft."``. The
sentence stays so in answers, in the data base and in project files; :func:`spoken` writes it for a reader, at the edge.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

# Interlinear annotation marks: made for what stands in a text and is not text; no keyboard types them.
_OPEN, _CLOSE = "\ufff9", "\ufffb"
MARKS = (_OPEN, "\ufffa", _CLOSE)
_ARGUMENT = re.compile(rf"{_OPEN}(\w+) (-?\d+(?:\.\d+)?(?:e[+-]?\d+)?) (\d){_CLOSE}")
_STRAY = re.compile(f"[{''.join(MARKS)}]")


class Quantity(StrEnum):
    """What a reader has units of his own for; angles, shares, seconds, turns and clicks read the same for all."""

    LENGTH = "length"
    DISTANCE = "distance"
    MASS = "mass"
    SPEED = "speed"


@dataclass(frozen=True, slots=True)
class Unit:
    """A unit a reader may choose: its SI size, and how many places it needs more than the first of its quantity."""

    key: str
    si: float
    more_digits: int = 0


UNITS: dict[Quantity, tuple[Unit, ...]] = {
    Quantity.LENGTH: (
        Unit("mm", 1e-3),
        Unit("in", 0.0254, 2),
        Unit("cm", 0.01, 1),
        Unit("m", 1.0, 3),
        Unit("ft", 0.3048, 3),
    ),
    Quantity.DISTANCE: (Unit("m", 1.0), Unit("ft", 0.3048)),
    Quantity.MASS: (Unit("g", 1e-3), Unit("oz", 0.028349523125, 2), Unit("kg", 1.0, 3), Unit("lb", 0.45359237, 3)),
    Quantity.SPEED: (
        Unit("m/s", 1.0),
        Unit("mph", 0.44704),
        Unit("km/h", 1 / 3.6),
        Unit("kt", 0.514444444444444),
        Unit("ft/s", 0.3048),
    ),
}
"""Exact by definition: international foot, pound and knot (NIST SP 811, 2008, appendix B.8). The first is written unless chosen."""

Units = Mapping[Quantity, Unit]
METRIC: Units = {quantity: units[0] for quantity, units in UNITS.items()}


@dataclass(frozen=True, slots=True)
class Argument:
    """A typed argument of a sentence: its quantity, its SI value [m, kg or m/s], and the places it is worth in the first unit."""

    quantity: Quantity
    value: float
    digits: int


def a_length(value_m: float, digits: int = 0) -> str:
    """Return a length of the model [m] as an argument of a sentence, worth ``digits`` places in millimetres."""
    return _argument(Quantity.LENGTH, value_m, digits)


def a_distance(value_m: float, digits: int = 0) -> str:
    """Return a height or a way over ground [m] as an argument of a sentence, worth ``digits`` places in metres."""
    return _argument(Quantity.DISTANCE, value_m, digits)


def a_mass(value_kg: float, digits: int = 0) -> str:
    """Return a mass [kg] as an argument of a sentence, worth ``digits`` places in grams."""
    return _argument(Quantity.MASS, value_kg, digits)


def a_speed(value_mps: float, digits: int = 0) -> str:
    """Return a speed [m/s] as an argument of a sentence, worth ``digits`` places in metres per second."""
    return _argument(Quantity.SPEED, value_mps, digits)


_TYPED = {"m/s": (Quantity.SPEED, 1.0), "mm": (Quantity.LENGTH, 1e-3)}


def an_amount(value: float, unit: str, digits: int = 1) -> str:
    """Return a value in a unit of the rails and the log as it stands in a sentence; typed where a reader may have his own.

    ``value`` in ``unit``.
    """
    typed = _TYPED.get(unit)
    return f"{value:.{digits}f} {unit}".rstrip() if typed is None else _argument(typed[0], value * typed[1], digits)


def plus_minus(value: float, sigma: float, unit: str, digits: int = 1) -> str:
    """Return a value with one sigma as it stands in a sentence; both in ``unit``."""
    return f"{an_amount(value, unit if unit in _TYPED else '', digits)} ± {an_amount(sigma, unit, digits)}"


def _argument(quantity: Quantity, value: float, digits: int) -> str:
    return f"{_OPEN}{quantity.value} {value:.6g} {digits}{_CLOSE}"


def arguments(words: str) -> tuple[Argument, ...]:
    """Return the typed arguments that stand in a sentence, in its order."""
    return tuple(Argument(Quantity(q), float(v), int(d)) for q, v, d in _ARGUMENT.findall(words) if q in set(Quantity))


def spoken(words: str, units: Units = METRIC) -> str:
    """Return a sentence with every argument written in the reader's units: "Move it 12 mm aft.".

    Marks that hold no argument are dropped. A zero has no sign.
    """
    return _STRAY.sub("", _ARGUMENT.sub(lambda found: _written(found, units), words))


def _written(found: re.Match[str], units: Units) -> str:
    quantity, value, digits = found.groups()
    if quantity not in set(Quantity):
        return found.group()
    unit = units[Quantity(quantity)]
    text = f"{float(value) / unit.si:.{int(digits) + unit.more_digits}f}"
    return f"{text.removeprefix('-') if not float(text) else text} {unit.key}"


def units_chosen(choices: Mapping[str, str]) -> Units:
    """Return the units for the names a reader chose, {"length": "in"}; what is not chosen is metric.

    A quantity or unit that is not known here raises KeyError with the sentence to show.
    """
    chosen = dict(METRIC)
    for name, key in choices.items():
        if name not in set(Quantity):
            raise KeyError(f"'{name}' has no units to choose; known: {', '.join(Quantity)}.")
        known = {unit.key: unit for unit in UNITS[Quantity(name)]}
        if key not in known:
            raise KeyError(f"'{key}' is no unit of {name}; known: {', '.join(known)}.")
        chosen[Quantity(name)] = known[key]
    return chosen


def article(words: str) -> str:
    """Return words with their indefinite article: "an aerobatic model", "a trainer"."""
    return f"{'an' if words[:1].lower() in 'aeiou' else 'a'} {words}"
