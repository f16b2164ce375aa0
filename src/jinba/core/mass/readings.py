"""Balance read across and in height, inertia found by swinging, and the bench's open work order: parts of a configuration."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.declare import KilogramMetresSquared, Metres, Station
from jinba.core.errors import JinbaError, check_range, check_text

MOST_STEPS = 40


@dataclass(frozen=True, slots=True)
class AxisReading:
    """A balance read along one axis, one sigma, what the items summed to then [m], and how it was read."""

    value_m: Metres
    sigma_m: Metres
    items_m: Metres
    how: str = ""

    def __post_init__(self) -> None:
        check_range("balance read", self.value_m, unit="m", low=-12.0, high=12.0)
        check_range("accuracy of the reading", self.sigma_m, unit="m", low=0.00005, high=0.2)
        check_text("how the balance was read", self.how, longest=300)

    def at(self, items_m: float) -> float:
        """Return the balance with the items where they are now. [m] Derived here (docs/methods/weighing.md)."""
        return self.value_m + items_m - self.items_m


@dataclass(frozen=True, slots=True)
class SwungInertia:
    """Moments of inertia about the balance point found by swinging, None where not swung. [kg m2]"""

    roll_kg_m2: KilogramMetresSquared | None = None
    pitch_kg_m2: KilogramMetresSquared | None = None

    def __post_init__(self) -> None:
        for axis, value in (("roll", self.roll_kg_m2), ("pitch", self.pitch_kg_m2)):
            if value is not None:
                check_range(f"{axis} inertia", value, unit="kg m2", low=1e-7, high=1e4)


@dataclass(frozen=True, slots=True)
class BenchStep:
    """One thing to do on the bench, and whether it is done."""

    words: str
    done: bool = False

    def __post_init__(self) -> None:
        check_text("step of the work order", self.words, longest=300)


@dataclass(frozen=True, slots=True)
class BenchOrder:
    """The bench's work order: its steps, the balance that proves them [m from the datum], its tolerance, and the reading.

    ``place_words`` say where to hold it; ``reading_m`` is None until it has been read.
    """

    steps: tuple[BenchStep, ...]
    expected_m: Station
    tolerance_m: Metres
    place_words: str
    reading_m: Station | None = None

    def __post_init__(self) -> None:
        if not 1 <= len(self.steps) <= MOST_STEPS:
            raise JinbaError(f"A work order has 1 to {MOST_STEPS} steps.")
        check_text("place of the reading", self.place_words, longest=300)
        check_range("expected reading", self.expected_m, unit="m", low=-12.0, high=12.0)
        check_range("tolerance", self.tolerance_m, unit="m", low=0.0001, high=0.1)
        if self.reading_m is not None:
            check_range("reading", self.reading_m, unit="m", low=-12.0, high=12.0)

    @property
    def done(self) -> bool:
        """Whether every step is ticked and the reading taken."""
        return self.reading_m is not None and all(s.done for s in self.steps)
