"""Transmitter and flight controller: the ports, and stand-ins that behave as such devices do."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from jinba.core.controls.fitting import NAMES, Fitting
from jinba.core.controls.pulses import NEUTRAL_US


@dataclass(frozen=True, slots=True)
class NeutralPulse:
    """What one channel sends with the sticks let go: channel, what it moves, pulse. [us]"""

    channel: int
    use: str
    pulse_us: float


@dataclass(frozen=True, slots=True)
class Midpoint:
    """A servo midpoint as the controller holds it: role of the surface and pulse. [us]"""

    role: str
    pulse_us: float


class Transmitter(Protocol):
    """A radio whose outputs can be read."""

    def neutral_pulses(self) -> tuple[NeutralPulse, ...]:
        """Return what every surface channel sends with the sticks let go."""
        ...

    def write_sheet(self, table: str) -> None:
        """Keep a set-up sheet with the model memory."""
        ...


class FlightController(Protocol):
    """A controller whose learned values can be read."""

    def midpoints(self) -> tuple[Midpoint, ...]:
        """Return the servo midpoints it holds now."""
        ...

    def level_offset_rad(self) -> float:
        """Return the level reference it flies with, nose up positive. [rad]"""
        ...

    def write_sheet(self, table: str) -> None:
        """Keep a set-up sheet beside its settings."""
        ...


@dataclass(slots=True)
class SimulatedTransmitter:
    """Stand-in: sends what is set, and what somebody forgot. ``shifts_us``: what trim and sub-trim add, per channel."""

    fittings: tuple[Fitting, ...]
    shifts_us: dict[int, float]
    kept: str = ""

    def neutral_pulses(self) -> tuple[NeutralPulse, ...]:
        """Return neutral, sub-trim and trim of every channel, on the whole microseconds a radio shows."""
        return tuple(
            NeutralPulse(f.channel, NAMES[f.role], float(round(NEUTRAL_US + self.shifts_us.get(f.channel, 0.0))))
            for f in self.fittings
        )

    def write_sheet(self, table: str) -> None:
        """Keep the sheet."""
        self.kept = table


@dataclass(slots=True)
class SimulatedController:
    """Stand-in: holds midpoints it has learned (``held_us`` by role) and a level offset. [rad]"""

    fittings: tuple[Fitting, ...]
    held_us: dict[str, float]
    offset_rad: float
    kept: str = ""

    def midpoints(self) -> tuple[Midpoint, ...]:
        """Return the midpoints; 1500 us where nothing was learned."""
        return tuple(Midpoint(f.role.value, self.held_us.get(f.role.value, NEUTRAL_US)) for f in self.fittings)

    def level_offset_rad(self) -> float:
        """Return the level reference. [rad]"""
        return self.offset_rad

    def write_sheet(self, table: str) -> None:
        """Keep the sheet."""
        self.kept = table
