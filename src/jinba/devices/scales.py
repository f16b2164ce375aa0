"""Scales under wheels or points: the port, and a stand-in that behaves as scales do."""

from __future__ import annotations

import random
from dataclasses import dataclass
from typing import Protocol

from jinba.core.mass.weighing import support_loads_kg

_STEP_KG = 0.001
_SHARE = 0.0015


@dataclass(frozen=True, slots=True)
class Place:
    """Where a scale stands: its name, station from the datum and distance right of the centre line. [m]"""

    name: str
    x_m: float
    y_m: float = 0.0


class Scales(Protocol):
    """Two or three scales read at once."""

    def read(self, places: tuple[Place, ...]) -> tuple[float, ...]:
        """Return what each scale shows. [kg]"""
        ...


@dataclass(frozen=True, slots=True)
class SimulatedScales:
    """Stand-in: a model of that mass [kg] and balance point [m], on scales with 0.15 % scatter that show whole grams."""

    mass_kg: float
    x_m: float
    y_m: float
    seed: int = 0

    def read(self, places: tuple[Place, ...]) -> tuple[float, ...]:
        """Return what each scale shows [kg]. Raises: JinbaError for places that cannot carry a model."""
        dice = random.Random(self.seed)
        across = tuple((p.x_m, p.y_m) for p in places)
        loads = support_loads_kg(
            mass_kg=self.mass_kg, x_m=self.x_m, y_m=self.y_m if len(places) > 2 else 0.0, places=across
        )
        return tuple(max(0.0, round(m * (1 + _SHARE * dice.gauss(0, 1)) / _STEP_KG) * _STEP_KG) for m in loads)
