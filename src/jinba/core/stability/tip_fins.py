"""Fins at the wing tips as part of the wing: end plates that move the centre of its lift."""

from __future__ import annotations

import math
from dataclasses import replace

from jinba.core.airframe.parts import Airframe, Fin, Section, Surface
from jinba.core.stability.loads import LatticeLoads, solve_loads

_AT_THE_TIP = 0.9
"""From this share of the half span outwards a fin stands at the tip."""

_STEEP_RUN = 0.02
"""Run over rise of the panel that stands for a fin: all but upright, so that its strips stay in order along the span."""

_LEAST_TOP = 0.1
"""Least chord at the end of such a panel [of the tip's chord]."""


def with_tip_fins(airframe: Airframe) -> Airframe | None:
    """Return the airframe with its tip fins as upright panels of the wing, None when it has none there.

    Area, height and mean quarter chord of each fin are kept; it is joined to the tip's chord, without toe-in. Derived here
    (docs/methods/neutral-point.md).
    """
    fin, wing = airframe.fin, airframe.wing
    if fin is None or fin.y_m < _AT_THE_TIP * wing.half_span_m:
        return None
    panels = replace(wing, sections=(*wing.sections, _end(wing, fin)))
    return replace(airframe, surfaces=tuple(panels if s is wing else s for s in airframe.surfaces))


def _end(wing: Surface, fin: Fin) -> Section:
    tip, mean = wing.sections[-1], 0.5 * (fin.root_chord_m + fin.tip_chord_m)
    top = max(2.0 * mean - tip.chord_m, _LEAST_TOP * tip.chord_m)
    height = fin.height_m * mean / (0.5 * (top + tip.chord_m))
    middle = fin.z_m + 0.5 * fin.height_m - (wing.z_m + tip.z_offset_m)
    quarter = fin.x_m + 0.5 * fin.sweep_offset_m + 0.25 * mean - wing.x_m
    # The quarter chord at mid height is the mean of both ends'.
    leading = 2.0 * quarter - (tip.x_offset_m + 0.25 * tip.chord_m) - 0.25 * top
    return Section(
        y_m=tip.y_m + _STEEP_RUN * height,
        x_offset_m=leading,
        chord_m=top,
        z_offset_m=tip.z_offset_m + math.copysign(height, middle),
        twist_rad=tip.twist_rad,
        left_twist_rad=tip.left_twist_rad,
    )


def loads_with_tip_fins(
    airframe: Airframe, loads: LatticeLoads, *, zero_lift_rad: tuple[float, ...], section_slope: float
) -> LatticeLoads:
    """Return the loads of an airframe with the symmetric ones of its tip fins in them.

    Side loads stay those of the plain wing: what fins do in yaw is counted with the fin. ``zero_lift_rad`` [rad] of each section,
    ``section_slope`` over 2 pi. [-]
    """
    finned = with_tip_fins(airframe)
    if finned is None:
        return loads
    even = solve_loads(finned, zero_lift_rad=zero_lift_rad, section_slope=section_slope)
    return replace(
        loads,
        alpha=even.alpha,
        pitch=even.pitch,
        base=even.base,
        elevator=even.elevator,
        slope_sensitivity=even.slope_sensitivity,
        outboard_sensitivity=even.outboard_sensitivity,
    )
