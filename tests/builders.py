"""Small invented models for tests."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from jinba.core.cards.catalogue import CARDS
from jinba.core.configuration import Configuration, JigReading
from jinba.core.diagnose.seen import Seen
from jinba.core.observe.parameters import COUNT, Array
from jinba.core.observe.situation import Trims, design_of, situation, trim_elevator_rad
from jinba.core.silhouettes import silhouette_configuration

ZERO: Array = np.zeros(COUNT)

ALL_SEEN = Seen(frozenset(CARDS), nose_heavy=((1, "F12: let go, it pulls out of the dive"),))
"""Every card flown, and one that speaks for nose-heavy: what a correction may do at most."""


def model(key: str = "low_wing", *, span_m: float = 1.5) -> Configuration:
    return silhouette_configuration(key, span_m=span_m)


def with_margin(c: Configuration, static_margin: float) -> Configuration:
    """Return the configuration with a jig reading that gives the bench this static margin."""
    d = design_of(c)
    x = d.aero.neutral_point.x_m - static_margin * d.aero.planform.mac_m
    return replace(c, jig=JigReading(x, 0.002, d.balance.mass.x_m))


def read_twice(c: Configuration) -> Configuration:
    """Return the configuration with its balance read again, another way, to the same point."""
    assert c.jig is not None
    return replace(c, jig=replace(c.jig, again_m=c.jig.x_m))


def trimmed(c: Configuration) -> Trims:
    d = design_of(c)
    return Trims(trim_elevator_rad(situation(d, ZERO, speed_mps=d.cruise_speed_mps)), 0.0, 0.0)


def degrees(value: float) -> float:
    return math.degrees(value)
