"""Short flights of the simulation for tests: what the model does when surfaces or throttle are moved from steady flight."""

from __future__ import annotations

import math

from jinba.core.configuration import Configuration
from jinba.core.flight.simulation.craft import craft_of
from jinba.core.flight.simulation.gusts import STILL
from jinba.core.flight.simulation.hands import PITCHING, ROLLING, Hand, begin, run
from jinba.core.flight.simulation.steady import steady
from jinba.core.observe.situation import design_of


def released(
    c: Configuration, *, pitch: float = 0.0, roll: float = 0.0, rudder: float = 0.0, throttle: float | None = None
) -> tuple[float, float]:
    """Mean pitch rate (nose up) and roll rate (right wing down) [deg/s] of the first second after moving surfaces. [rad]"""
    craft = craft_of(c)
    at = steady(craft, speed_mps=design_of(c).cruise_speed_mps)
    assert at.found
    moved = {
        "pitch": at.surfaces[0] + pitch,
        "roll": at.surfaces[1] + roll,
        "rudder": at.surfaces[2] + rudder,
        "throttle": at.throttle if throttle is None else throttle,
    }
    flight = begin(at.state, at.circulation, at.surfaces, at.throttle)
    track = run(craft, flight, Hand(**{k: float(v) for k, v in moved.items()}), STILL, 1.0)
    return math.degrees(track[10:, PITCHING].mean()), math.degrees(track[10:, ROLLING].mean())
