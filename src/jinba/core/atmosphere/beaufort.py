"""Wind by what it moves: the Beaufort scale over land."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.errors import check_range


@dataclass(frozen=True, slots=True)
class Force:
    """A step of the scale: its ``number``, what it moves over land, its lowest and highest mean wind over ten minutes [m/s].

    ``usual_mps``: the middle of the step; the last has no upper end, there it is its lower one.
    """

    number: int
    words: str
    low_mps: float
    high_mps: float | None

    @property
    def usual_mps(self) -> float:
        """Return the middle of the step [m/s]; derived here from :data:`FORCES`."""
        return self.low_mps if self.high_mps is None else 0.5 * (self.low_mps + self.high_mps)


FORCES = (
    Force(0, "smoke rises straight up", 0.0, 0.2),
    Force(1, "smoke drifts, no vane turns", 0.3, 1.5),
    Force(2, "felt on the face, leaves rustle", 1.6, 3.3),
    Force(3, "leaves and thin twigs move all the time, a light flag stretches", 3.4, 5.4),
    Force(4, "dust and loose paper rise, small branches move", 5.5, 7.9),
    Force(5, "small trees in leaf sway", 8.0, 10.7),
    Force(6, "large branches move, wires whistle", 10.8, 13.8),
    Force(7, "whole trees move, hard to walk against", 13.9, 17.1),
    Force(8, "twigs break off", 17.2, 20.7),
    Force(9, "tiles and branches fall", 20.8, 24.4),
    Force(10, "trees are uprooted", 24.5, 28.4),
    Force(11, "damage everywhere", 28.5, 32.6),
    Force(12, "a hurricane", 32.7, None),
)
"""Steps in m/s and the criteria over land, in our words. References: WMO, Manual on Codes, WMO-No. 306, table 1100 (from memory)."""


def beaufort(speed_mps: float) -> Force:
    """Return the step of a mean wind [m/s], told to a tenth.

    Validity: 0 to 60 m/s. Raises: OutOfRangeError outside. References: as :data:`FORCES`.
    """
    check_range("wind speed", speed_mps, unit="m/s", low=0.0, high=60.0)
    told = round(speed_mps, 1)
    return next(f for f in reversed(FORCES) if told >= f.low_mps)
