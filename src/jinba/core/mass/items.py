"""Items of mass on a model and their sum."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from jinba.core.errors import JinbaError, check_range, check_text

MOST_ITEMS = 80


class ItemKind(StrEnum):
    """What an item is, which decides what a correction may do with it."""

    AIRFRAME = "airframe"
    BATTERY = "battery"
    PART = "part"
    BALLAST = "ballast"


@dataclass(frozen=True, slots=True)
class Item:
    """One mass. ``x_m`` aft of the datum, ``y_m`` right, ``z_m`` up; ``bay_m``: stations its centre may take.

    ``fitted``: on board now; a pack that is not is an alternative, and counts in no sum. ``to_come``: equipment the mission
    needs and the test flights do without; it is not fitted yet.
    """

    key: str
    name: str
    mass_kg: float
    x_m: float
    y_m: float = 0.0
    z_m: float = 0.0
    kind: ItemKind = ItemKind.PART
    bay_m: tuple[float, float] | None = None
    fitted: bool = True
    to_come: bool = False

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
