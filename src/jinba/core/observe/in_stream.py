"""The pitching moment of a model whose tail, or wing, lies in the stream of its propeller."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from jinba.core.airframe.layout import control_surface_of
from jinba.core.airframe.parts import Airframe, Surface
from jinba.core.airframe.planform import half_chord_sweep_rad, planform_of
from jinba.core.power.slipstream import disk_area_m2, share_in_stream
from jinba.core.stability.aero import AeroModel
from jinba.core.stability.neutral_point import SECTION_SLOPE_RATIO, lift_slope_per_rad
from jinba.core.stability.sections import section_of


class Moments(NamedTuple):
    """Pitching moment coefficient about the balance point ``none - margin C_L + square C_L^2``, nose up positive [-]."""

    none: float
    margin: float
    square: float


@dataclass(frozen=True, slots=True)
class StreamSums:
    """What a model's propellers blow on, over the wing's area (and chord), summed over its surfaces by their shares in the stream.

    Lift by the angle a surface is set at, by the rest of what it has without incidence, and per rad of it: ``lift_set``, ``lift_base``,
    ``lift_slope``; their moments about the balance point, nose up positive: ``moment_set``, ``moment_base``, ``moment_slope``;
    ``control``: share of the pitch surface. ``cl_zero``, ``slope`` of the whole model; ``disk_area_m2``.
    """

    lift_set: float = 0.0
    lift_base: float = 0.0
    lift_slope: float = 0.0
    moment_set: float = 0.0
    moment_base: float = 0.0
    moment_slope: float = 0.0
    control: float = 0.0
    cl_zero: float = 0.0
    slope: float = 1.0
    disk_area_m2: float = 0.0

    def moments(self, gain: float, free: Moments) -> Moments:
        """Return the moments with the air so much faster in the stream, ``gain`` over the speed of flight [-], from those without.

        A stream goes along the body: what a surface has by its own angle grows as the square of the speed, what it has by incidence
        and wash, which the stream does not carry along, as the speed. C_L = C_L0 + b + (a + a_s g) alpha. Derived here
        (docs/methods/slipstream.md).
        """
        if gain == 0.0:
            return free
        squared = self.squared(gain)
        slope = self.slope + gain * self.lift_slope
        base = self.cl_zero + squared * self.lift_set + gain * self.lift_base
        # Lift that the model would have unblown at the same incidence: u + w C_L.
        w = self.slope / slope
        u = self.cl_zero - w * base
        by_stream = gain * self.moment_slope / slope
        blown = squared * self.moment_set + gain * self.moment_base
        return Moments(
            free.none - free.margin * u + free.square * u * u + blown - by_stream * base,
            free.margin * w - 2.0 * free.square * u * w - by_stream,
            free.square * w * w,
        )

    def squared(self, gain: float) -> float:
        """Return how much more dynamic pressure there is in a stream that much faster [-]. Derived here."""
        return (1.0 + gain) ** 2 - 1.0

    def control_gain(self, gain: float) -> float:
        """Return how many times the moment per angle of the pitch surface there is [-]. Derived here."""
        return 1.0 + self.control * self.squared(gain)


NO_STREAM = StreamSums()
"""A model without a propeller, or whose propeller blows on nothing."""


def stream_sums(airframe: Airframe, aero: AeroModel, *, x_cg_m: float) -> StreamSums:
    """Return what a model's propellers blow on. ``x_cg_m``: its balance point [m]. Derived here (docs/methods/slipstream.md)."""
    p = aero.planform
    sums = np.zeros(6)
    for surface, lift in zip(airframe.surfaces, aero.surface_lifts, strict=True):
        blown = share_in_stream(surface, airframe) * lift.efficiency / p.area_m2
        arm = (x_cg_m - planform_of(surface).station_at(0.25)) / p.mac_m
        set_m2 = _per_angle_m2(surface) * lift.angle_rad
        lifts = blown * np.array([set_m2, lift.base_m2 - set_m2, lift.alpha_m2])
        sums += np.concatenate([lifts, arm * lifts])
        # What a curved section pitches by itself grows with what blows on it, like what it is set at.
        sums[3] += (
            blown
            * section_of(surface).cm_zero_lift
            * planform_of(surface).area_m2
            * planform_of(surface).mac_m
            / p.mac_m
        )
    lift_set, lift_base, lift_slope, moment_set, moment_base, moment_slope = (float(v) for v in sums)
    return StreamSums(
        lift_set,
        lift_base,
        lift_slope,
        moment_set,
        moment_base,
        moment_slope,
        control=share_in_stream(control_surface_of(airframe), airframe),
        cl_zero=aero.cl_zero,
        slope=aero.lift_slope,
        disk_area_m2=disk_area_m2(airframe),
    )


def _per_angle_m2(surface: Surface) -> float:
    own = planform_of(surface)
    sweep = half_chord_sweep_rad(surface)
    return own.area_m2 * lift_slope_per_rad(
        own.aspect_ratio, half_chord_sweep_rad=sweep, section_ratio=SECTION_SLOPE_RATIO
    )
