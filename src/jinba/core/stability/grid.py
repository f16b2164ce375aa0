"""The lattice's centre of lift freed of its own grid's error, with what may be left of it."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.airframe.layout import lifting_surfaces
from jinba.core.airframe.parts import Airframe, Role
from jinba.core.airframe.planform import planform_of
from jinba.core.stability.loads import Load
from jinba.core.uncertainty import root_sum_square


@dataclass(frozen=True, slots=True)
class _GridRule:
    """Error of the grid as ``share`` of what a coarser one adds; what may be left, one sigma: ``left`` of it and ``floor`` [MAC]."""

    share: float
    left: float
    floor: float


# Measured by bench/honest_sigma.py against a grid of 44 x 7, by layout.
_GRID_ALONE = _GridRule(0.4, 0.036, 0.00011)
_GRID_FOREPLANE = _GridRule(0.4, 0.0, 0.00049)
_GRID_TAIL = _GridRule(0.4, 0.13, 0.00037)
_GRID_TANDEM = _GridRule(0.4, 0.47, 0.0004)
_GRID_THREE = _GridRule(0.8, 0.18, 0.00068)
_GRID_MANY = _GridRule(0.8, 0.11, 0.00045)


def _grid_rule(airframe: Airframe) -> _GridRule:
    count, other = len(airframe.surfaces), airframe.pitch_surface
    if count > 2:
        return _GRID_THREE if count == 3 else _GRID_MANY
    if other is None:
        return _GRID_ALONE
    if other.role is Role.CANARD:
        return _GRID_FOREPLANE
    return _GRID_TANDEM if other in lifting_surfaces(airframe) else _GRID_TAIL


@dataclass(frozen=True, slots=True)
class GridPoint:
    """The lattice's neutral point freed of its grid's error, and what may be left of it. [m]"""

    x_m: float
    sigma_m: float


def centre_of_lift_m(loads: tuple[Load, ...], factors: list[float]) -> float:
    """Return the station [m from the datum] of the lift per angle of attack of all surfaces, each with its factor [-].

    Derived here (docs/methods/neutral-point.md).
    """
    lift = sum(f * load.lift_m2 for f, load in zip(factors, loads, strict=True))
    return -sum(f * load.moment_m3 for f, load in zip(factors, loads, strict=True)) / lift


def grid_point(airframe: Airframe, fine: tuple[Load, ...], coarse: tuple[Load, ...], factors: list[float]) -> GridPoint:
    """Return the centre of lift extrapolated from two grids.

    x = x_fine + s (x_fine - x_coarse): what a coarser grid adds shows what this one still misses. ``fine``, ``coarse``: loads
    per angle of attack on both grids. References: extrapolation to the limit, Richardson, Phil. Trans. A 226 (1927) (from
    memory); shares measured by bench/honest_sigma.py. ``factors`` [-].
    """
    rule, mac = _grid_rule(airframe), planform_of(airframe.wing).mac_m
    x, other = centre_of_lift_m(fine, factors), centre_of_lift_m(coarse, factors)
    sigma = root_sum_square([rule.left * (other - x), rule.floor * mac])
    return GridPoint(x + rule.share * (x - other), sigma)
