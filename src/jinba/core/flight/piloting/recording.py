"""What was flown of each card, run by run, for whoever wants to watch it."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from jinba.core.flight.simulation.hands import Flight
from jinba.core.frames import Axis

Array = NDArray[np.float64]


@dataclass(frozen=True, slots=True, eq=False)
class Run:
    """One run of a card: its ``track`` (rows, 17; columns of :mod:`jinba.core.flight.simulation.hands`), where pitch and roll ``rest`` and
    what full stick moves them by, ``throw`` [rad]; ``follows``: it goes on from the run before."""

    track: Array
    rest: tuple[float, float]
    throw: tuple[float, float]
    follows: bool


@dataclass(slots=True)
class Recorder:
    """Keeps the runs of each card in the order they were flown."""

    runs: dict[str, list[Run]] = field(default_factory=dict)
    _card: str = ""
    _flight: Flight | None = None

    def begin(self, card_id: str) -> None:
        """Keep what comes under this card."""
        self._card, self._flight = card_id, None
        self.runs[card_id] = []

    def keep(self, flight: Flight, track: Array, rest: dict[Axis, float], throw: dict[Axis, float]) -> None:
        """Keep one run of a flight; surfaces at rest and throws by axis [rad]."""
        both = (Axis.PITCH, Axis.ROLL)
        r, t = (rest[both[0]], rest[both[1]]), (throw[both[0]], throw[both[1]])
        self.runs.setdefault(self._card, []).append(Run(track.copy(), r, t, flight is self._flight))
        self._flight = flight
