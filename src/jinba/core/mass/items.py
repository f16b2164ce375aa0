"""Items of mass on a model and their sum."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from typing import Annotated

from jinba.core.declare import OPENS_NOTHING, Change, Keyed, Opens, Station, Unit
from jinba.core.errors import JinbaError, check_range, check_text
from jinba.core.frames import forward_or_aft
from jinba.core.spoken import a_length, a_mass

MOST_ITEMS = 80


class ItemKind(StrEnum):
    """What an item is, which decides what a correction may do with it; fuel weighs what is in the tank at take-off, and burns."""

    AIRFRAME = "airframe"
    BATTERY = "battery"
    PART = "part"
    BALLAST = "ballast"
    FUEL = "fuel"


def _mass_kinds(_: Item, after: Item) -> tuple[Change, ...]:
    return (Change.BALANCE, Change.POWER if after.kind is ItemKind.BATTERY else Change.EQUIPMENT)


def _mass_words(_: Item, after: Item) -> str:
    return f"{after.name} now {a_mass(after.mass_kg)}"


def _moved_words(before: Item, after: Item) -> str:
    move = (after.x_m - before.x_m) * 1000
    return f"{after.name} moved {a_length(abs(move) / 1000)} {forward_or_aft(move)}"


def _raised_words(before: Item, after: Item) -> str:
    rise = (after.z_m - before.z_m) * 1000
    return f"{after.name} moved {a_length(abs(rise) / 1000)} {'up' if rise > 0 else 'down'}"


def _came_or_went(before: Item | None, after: Item | None) -> tuple[Change, ...]:
    lateral = (Change.LATERAL,) if before is None and after is not None and abs(after.y_m) > 0.01 else ()
    return (Change.EQUIPMENT, Change.BALANCE, *lateral)


def _came_or_went_words(before: Item | None, after: Item | None) -> str:
    if after is not None:
        return f"{after.name} added, {a_mass(after.mass_kg)}"
    return "" if before is None else f"{before.name} taken off"


ITEMS = Keyed("key", counts="fitted", came_or_went=Opens(_came_or_went, _came_or_went_words))
"""Items are the same by their key; one that is not on board counts as not there."""


@dataclass(frozen=True, slots=True)
class Item:
    """One mass. ``x_m`` aft of the datum, ``y_m`` right, ``z_m`` up; ``bay_m``: stations its centre may take.

    ``fitted``: on board now; a pack that is not is an alternative, and counts in no sum. ``to_come``: equipment the mission
    needs and the test flights do without; it is not fitted yet.
    """

    key: Annotated[str, OPENS_NOTHING]
    name: Annotated[str, OPENS_NOTHING]
    mass_kg: Annotated[float, Unit("kg", 1e-5), Opens(_mass_kinds, _mass_words)]
    x_m: Annotated[float, Unit("m", 1e-4, station=True), Opens(Change.BALANCE, _moved_words)]
    y_m: Annotated[float, Unit("m", 1e-4), Opens(Change.LATERAL, lambda _, b: f"{b.name} moved sideways")] = 0.0
    z_m: Annotated[float, Unit("m", 1e-4), Opens((Change.BALANCE, Change.THRUST_LINE), _raised_words)] = 0.0
    kind: Annotated[ItemKind, OPENS_NOTHING] = ItemKind.PART
    bay_m: Annotated[tuple[Station, Station] | None, OPENS_NOTHING] = None
    fitted: Annotated[bool, OPENS_NOTHING] = True
    to_come: Annotated[bool, OPENS_NOTHING] = False

    def __post_init__(self) -> None:
        check_text("item key", self.key, longest=60)
        check_text("item name", self.name, longest=80)
        check_range("mass", self.mass_kg, unit="kg", low=0.0, high=1e6)
        for axis, value in (("station", self.x_m), ("offset to the side", self.y_m), ("height", self.z_m)):
            check_range(f"{axis} of {self.name}", value, unit="m", low=-100.0, high=100.0)
        if self.bay_m is not None:
            low, high = self.bay_m
            check_range(f"forward end of the bay of {self.name}", low, unit="m", low=-100.0, high=100.0)
            check_range(f"aft end of the bay of {self.name}", high, unit="m", low=low, high=100.0)
        if self.fitted and self.to_come:
            raise JinbaError(f"{self.name} is on board and still to come at once: choose one.")


@dataclass(frozen=True, slots=True)
class MassSum:
    """Total mass [kg], balance point [m from the datum, right, up] and moments of inertia about it [kg m2]."""

    mass_kg: float
    x_m: float
    y_m: float
    z_m: float
    ixx_kg_m2: float
    iyy_kg_m2: float
    izz_kg_m2: float


@lru_cache(maxsize=256)
def sum_items(items: tuple[Item, ...]) -> MassSum:
    """Return total mass, balance point and point-mass inertia of items.

    Mass-weighted mean of the positions; inertias about the balance point by the parallel-axis theorem with each item
    as a point, so they are a lower bound. Raises: JinbaError when nothing has mass or there are too many items.
    References: FAA-H-8083-1, weight and balance theory (moment sum), from memory; elementary mechanics.
    """
    if len(items) > MOST_ITEMS:
        raise JinbaError(f"{len(items)} items; at most {MOST_ITEMS} are summed. Combine small parts into one item.")
    items = tuple(i for i in items if i.fitted)
    total = sum(i.mass_kg for i in items)
    if total <= 0:
        raise JinbaError("No item has mass yet. Weigh the airframe and the battery and enter both.")
    x = math.fsum(i.mass_kg * i.x_m for i in items) / total
    y = math.fsum(i.mass_kg * i.y_m for i in items) / total
    z = math.fsum(i.mass_kg * i.z_m for i in items) / total
    sxx = math.fsum(i.mass_kg * (i.x_m - x) ** 2 for i in items)
    syy = math.fsum(i.mass_kg * (i.y_m - y) ** 2 for i in items)
    szz = math.fsum(i.mass_kg * (i.z_m - z) ** 2 for i in items)
    return MassSum(total, x, y, z, syy + szz, sxx + szz, sxx + syy)
