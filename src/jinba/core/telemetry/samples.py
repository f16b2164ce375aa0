"""Lines of telemetry, and the stretches in which nobody held the sticks."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

from jinba.core.frames import Axis

_AT_REST = 0.03
"""Share of full stick within which a stick is let go: the play of a gimbal and its centring; common practice, no source."""

_GAP_S = 0.5
"""Lines further apart than this are not of one stretch: the link was lost between them [s]. Set here."""


@dataclass(frozen=True, slots=True)
class Sample:
    """One line of telemetry; None: the link does not tell it.

    ``time_s`` since it began [s]; ``airspeed_mps`` [m/s]; ``height_m`` above where it was switched on [m]; ``pitch_rad`` nose up, ``bank_rad``
    right wing down [rad]; sticks as shares of full stick beyond their trim, ``elevator_stick`` nose down, ``aileron_stick`` right positive;
    ``throttle`` 0 to 1; ``volts`` of the whole pack [V], ``current_a`` out of it [A]; ``wind_mps`` [m/s].
    """

    time_s: float
    airspeed_mps: float | None = None
    height_m: float | None = None
    pitch_rad: float | None = None
    bank_rad: float | None = None
    elevator_stick: float | None = None
    aileron_stick: float | None = None
    throttle: float | None = None
    volts: float | None = None
    current_a: float | None = None
    wind_mps: float | None = None

    def let_go(self, axis: Axis) -> bool:
        """Return whether the stick of pitch or roll is let go; not told is not let go."""
        stick = self.elevator_stick if axis is Axis.PITCH else self.aileron_stick
        return stick is not None and abs(stick) < _AT_REST


def stretches(samples: Sequence[Sample], axis: Axis) -> Iterator[Sequence[Sample]]:
    """Yield each run of lines, of one second at least, in which the stick of an axis was let go and the link held. Derived here."""
    first = 0
    for at in range(1, len(samples) + 1):
        ends = at == len(samples) or samples[at].time_s - samples[at - 1].time_s > _GAP_S
        if samples[at - 1].let_go(axis) and (ends or not samples[at].let_go(axis)):
            if samples[at - 1].time_s - samples[first].time_s >= 1.0:
                yield samples[first:at]
            first = at
        elif ends or not samples[at - 1].let_go(axis):
            first = at


def seconds_until(
    stretch: Sequence[Sample], angle: Callable[[Sample], float | None], turned_rad: float
) -> float | None:
    """Return the seconds [s] from the start of a stretch until an angle [rad] has changed by ``turned_rad``, between two lines in proportion.

    None where it did not, or the angle is not told. Derived here.
    """
    start, before = angle(stretch[0]), 0.0
    for last, line in pairwise(stretch):
        now = angle(line)
        if now is None or start is None:
            return None
        turned = abs(now - start)
        if turned >= turned_rad:
            part = (turned_rad - before) / (turned - before)
            return last.time_s + part * (line.time_s - last.time_s) - stretch[0].time_s
        before = turned
    return None
