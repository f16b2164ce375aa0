"""Readings of a measure: kept apart, averaged, known the better the more there are, left against right."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import StrEnum
from statistics import fmean, stdev
from typing import Any

from jinba.core.airframe.measuring import MeasuringStep, Path, measuring_steps
from jinba.core.airframe.parts import Airframe
from jinba.core.declare import AsMeasured, Share, Station
from jinba.core.errors import JinbaError, UnknownKeyError, check_range, check_text

RULER_SIGMA_M = 0.001
"""One reading by ruler on the model, one sigma [m]: common practice, no source."""

_RULER_SHARE = 0.002
"""The same of a long way, of what is measured [-]: a tape sags, a square is not quite square; common practice, no source."""

_PLAN_SIGMA_M = 0.0007
"""One reading on a plan, on the paper [m]; the scale of the plan widens it. Common practice, no source."""

_BUILT_SHARE = 0.01
"""How far a model is from its plan or its picture, of what is measured [-]: common practice, no source."""

METER_SIGMA_RAD = math.radians(0.3)
"""One reading of an incidence meter, one sigma [rad]: common practice, no source."""

_USEFUL = 4
"""More readings with the same tool than this teach nothing new: what is wrong with the tool stays. Common practice, no source."""

_APART_SIGMAS = 3.0
"""Readings of one half further apart than this, of the sigma of their difference, are not of one thing: common practice, no source."""

_MOST = 12
_AS_KEPT = 1e-6


class How(StrEnum):
    """What a measure was taken on."""

    MODEL = "model"
    PLAN = "plan"
    PICTURE = "picture"


_COARSER = (How.MODEL, How.PLAN, How.PICTURE)


@dataclass(frozen=True, slots=True)
class Readings:
    """The readings of one measure of the airframe.

    ``key``: of the measure ("surfaces.0.sections.1.chord_m"). ``off``, ``off_left``: each reading less the value that is kept [m,
    rad for an angle], of the right half or the middle, and of the left half; so they stay true when the datum is moved. ``on``:
    day of the last one, ISO 8601. ``scale``: millimetres on the model for one on the plan, 1 on the model itself.
    ``guess_off``: what the silhouette had guessed, less the value that is kept [m, rad for an angle]; None where it had guessed nothing.
    ``datum_x_m``: station of the datum it was read from last [m aft of the present one]; it moves with every station.
    """

    key: str
    off: tuple[AsMeasured, ...]
    off_left: tuple[AsMeasured, ...] = ()
    on: str = ""
    how: How = How.MODEL
    scale: Share = 1.0
    guess_off: AsMeasured | None = None
    datum_x_m: Station = 0.0

    def __post_init__(self) -> None:
        check_text("measure", self.key, longest=80)
        check_text("day of a reading", self.on, longest=10)
        if not self.off and not self.off_left:
            raise JinbaError("A measure that was taken has at least one reading.", name="readings")
        if len(self.off) > _MOST or len(self.off_left) > _MOST:
            raise JinbaError(f"At most {_MOST} readings of one measure are kept; begin it anew.", name="readings")
        for off in (*self.off, *self.off_left, *(() if self.guess_off is None else (self.guess_off,))):
            check_range("reading less its mean", off, unit="m", low=-24.0, high=24.0)
        check_range("datum of a reading", self.datum_x_m, unit="m", low=-100.0, high=100.0)
        check_range("scale of the plan", self.scale, unit="to 1", low=0.05, high=200.0)

    @property
    def count(self) -> int:
        """How many readings there are."""
        return len(self.off) + len(self.off_left)

    def sigma(self, value: float, *, angle: bool) -> float:
        """Return how well the measure is known by its readings, one sigma [m, rad for an angle].

        The larger of the tool's sigma and the readings' own spread (sample standard deviation about each half's mean), over the
        root of their number. Derived here.
        """
        one = self.tool_sigma(value, angle=angle)
        spread = math.sqrt(fmean([_variance(side) for side in (self.off, self.off_left) if len(side) > 1] or [0.0]))
        known = max(one, spread) / math.sqrt(min(self.count, _USEFUL))
        # A model is not its plan, however often the plan is read.
        return known if self.how is How.MODEL or angle else math.hypot(known, _BUILT_SHARE * abs(value))

    def tool_sigma(self, value: float, *, angle: bool) -> float:
        """Return the sigma of one reading by its tool [m, rad for an angle]: ruler or tape, plan, meter. Derived here."""
        if angle:
            return METER_SIGMA_RAD
        if self.how is How.MODEL:
            return max(RULER_SIGMA_M, _RULER_SHARE * abs(value))
        return _PLAN_SIGMA_M * max(self.scale, 1.0)

    @property
    def left_less_right(self) -> float | None:
        """What the left half reads more than the right one [m], None where one of them was not read. Derived here."""
        return fmean(self.off_left) - fmean(self.off) if self.off and self.off_left else None

    def apart(self, value: float, *, angle: bool) -> float | None:
        """Return how far readings of one half lie apart where that is more than the tool explains [m, rad], else None. Derived here."""
        widest = max(max(side) - min(side) for side in (self.off, self.off_left) if side)
        return widest if widest > _APART_SIGMAS * math.sqrt(2.0) * self.tool_sigma(value, angle=angle) else None


def _variance(readings: tuple[float, ...]) -> float:
    return stdev(readings) ** 2


def key_of(path: Path) -> str:
    """Return the name of a measure: "surfaces.0.sections.1.chord_m"."""
    return ".".join(str(p) for p in path)


def value_at(airframe: Airframe, path: Path) -> Any:
    """Return what stands at a measure [m or rad], None where there is no such part."""
    value: Any = airframe
    for part in path:
        try:
            value = value[part] if isinstance(part, int) else getattr(value, part)
        except (IndexError, AttributeError):
            return None
    return value


def step_of(airframe: Airframe, key: str) -> MeasuringStep:
    """Return the step of a measure. Raises: UnknownKeyError."""
    found = next((s for s in measuring_steps(airframe) if key_of(s.path) == key), None)
    if found is None:
        raise UnknownKeyError("This model has no such measure any more: its list has changed. Open the bench again.")
    return found


def with_value(airframe: Airframe, path: Path, value: float) -> Airframe:
    """Return the airframe with one measure [m or rad] set. Raises: GeometryError, OutOfRangeError."""
    changed: Airframe = _set(airframe, path, value)
    return changed


def _set(record: Any, path: Path, value: float) -> Any:
    if not path:
        return value
    head, rest = path[0], path[1:]
    if isinstance(head, int):
        return tuple(_set(part, rest, value) if i == head else part for i, part in enumerate(record))
    return replace(record, **{head: _set(getattr(record, head), rest, value)})


@dataclass(frozen=True, slots=True)
class Reading:
    """One reading: ``value`` [m or rad], of the left half or not, besides those there are or instead of them, on what."""

    value: float
    left: bool = False
    again: bool = False
    how: How = How.MODEL
    scale: float = 1.0


def read(
    value: float | None,
    known: Readings | None,
    reading: Reading,
    *,
    key: str,
    on: str,
    guess: float | None = None,
) -> tuple[float, Readings]:
    """Return the value of a measure [m or rad] and its readings once one more was taken.

    The value is the mean of both halves, each the mean of its own readings; of readings on different things the coarser one is kept,
    so that a plan is not made a ruler by one look at the model. ``guess``: what the silhouette has there, None where it was measured
    [m or rad]; it is remembered. Derived here.
    """
    kept = 0.0 if value is None else value
    right = [kept + o for o in known.off] if known else []
    left = [kept + o for o in known.off_left] if known else []
    side = left if reading.left else right
    if not reading.again:
        side.clear()
    side.append(reading.value)
    mean = fmean([fmean(s) for s in (right, left) if s])
    off, off_left = (tuple(r - mean for r in s) for s in (right, left))
    how, scale = reading.how, reading.scale
    if known is not None and len(off) + len(off_left) > 1:
        how, scale = max(how, known.how, key=_COARSER.index), max(scale, known.scale)
    return mean, Readings(key, off, off_left, on, how, scale, None if guess is None else guess - mean)


def still_taken(before: Airframe, after: Airframe, taken: tuple[Readings, ...]) -> tuple[Readings, ...]:
    """Return the readings that still belong to what stands there: a value entered otherwise, or a part that is gone, has none."""
    paths = {key_of(s.path): s.path for s in measuring_steps(after)}
    return tuple(t for t in taken if t.key in paths and _same(before, after, paths[t.key]))


def _same(before: Airframe, after: Airframe, path: Path) -> bool:
    was, now = value_at(before, path), value_at(after, path)
    return was == now or (was is not None and now is not None and abs(was - now) < _AS_KEPT)
