"""Loads of the lattice for each disturbance: angle of attack, pitch rate, incidence, roll rate, sideslip, twist."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jinba.core.airframe.layout import control_surface_of
from jinba.core.airframe.parts import Airframe, Surface
from jinba.core.errors import GeometryError
from jinba.core.stability.lattice import Array, Lattice, build_lattice, influence, panels_for


@dataclass(frozen=True, slots=True)
class Load:
    """Lift and moments of one surface per unit of a disturbance, both halves, divided by dynamic pressure.

    ``lift_m2`` [m2], ``moment_m3`` nose-up about the datum [m3], ``roll_m3`` right wing down [m3], ``side_m2`` to the
    right [m2] and ``yaw_m3`` nose right about the datum [m3], both zero for flat surfaces.
    """

    lift_m2: float
    moment_m3: float
    roll_m3: float
    side_m2: float
    yaw_m3: float


@dataclass(frozen=True, slots=True)
class LatticeLoads:
    """Per surface (in the order of the airframe) the loads of every disturbance.

    ``alpha`` per rad; ``pitch`` per unit of q/V [1/m] about the datum; ``base`` at zero angle of attack from incidence,
    twist and camber; ``elevator`` per rad of trailing edge down over the span of the surface that carries the pitch
    control; ``rudder`` the same surfaces moved against each other, right one trailing edge down; ``roll_rate`` per unit p/V [1/m];
    ``sideslip`` per rad; ``aileron`` per rad of incidence change over the control's span (right aileron up);
    ``linear_twist`` per rad of wash-out at the right tip (left tip the other way). The last five are antisymmetric.
    """

    alpha: tuple[Load, ...]
    pitch: tuple[Load, ...]
    base: tuple[Load, ...]
    elevator: tuple[Load, ...]
    roll_rate: tuple[Load, ...]
    sideslip: tuple[Load, ...]
    aileron: tuple[Load, ...]
    linear_twist: tuple[Load, ...]
    rudder: tuple[Load, ...]


def solve_loads(
    airframe: Airframe, *, zero_lift_rad: tuple[float, ...], panels: tuple[int, int] | None = None
) -> LatticeLoads:
    """Return the loads of every disturbance from one symmetric and one antisymmetric solution.

    Parameters
    ----------
    airframe : the surfaces, datum at x = 0.
    zero_lift_rad : zero-lift angle of each surface's section, in the order of the airframe. [rad]
    panels : per half span and per chord, by default those of :func:`panels_for`. [-]

    Validity: inviscid, linear, attached flow, no fin. References: as the module ``lattice``.
    """
    spanwise, chordwise = panels or panels_for(len(airframe.surfaces))
    lattice = build_lattice(airframe.surfaces, spanwise=spanwise, chordwise=chordwise)
    right, image = influence(lattice)
    symmetric = _solve(right + image, -_symmetric_washes(lattice, airframe, zero_lift_rad))
    antisymmetric = _solve(right - image, -_antisymmetric_washes(lattice, airframe))
    even = [_loads(lattice, symmetric[:, k], len(airframe.surfaces)) for k in range(4)]
    odd = [_loads(lattice, antisymmetric[:, k], len(airframe.surfaces), odd=True) for k in range(5)]
    return LatticeLoads(*even, *odd)


def _solve(matrix: Array, washes: Array) -> Array:
    try:
        return np.asarray(np.linalg.solve(matrix, washes), dtype=np.float64)
    except np.linalg.LinAlgError:
        raise GeometryError(
            "Two surfaces lie in the same place; measure the station or the height of one of them."
        ) from None


def _control_mask(lattice: Lattice, surface: Surface, index: int) -> Array:
    inside = (lattice.y_fraction >= surface.control_inner) & (lattice.y_fraction <= surface.control_outer)
    return np.asarray(((lattice.surface_index == index) & inside).astype(float))


def _symmetric_washes(lattice: Lattice, airframe: Airframe, zero_lift_rad: tuple[float, ...]) -> Array:
    x = lattice.control[:, 0]
    angle = lattice.twist + np.array(
        [airframe.surfaces[i].incidence_rad - zero_lift_rad[i] for i in lattice.surface_index]
    )
    surface = control_surface_of(airframe)
    elevator = _control_mask(lattice, surface, airframe.surfaces.index(surface))
    return np.stack([lattice.cos_dihedral, x * lattice.cos_dihedral, angle, elevator], axis=1)


def _antisymmetric_washes(lattice: Lattice, airframe: Airframe) -> Array:
    y, z = lattice.control[:, 1], lattice.control[:, 2]
    wing_index = airframe.surfaces.index(airframe.wing)
    on_wing = (lattice.surface_index == wing_index).astype(float)
    roll_rate = y * lattice.cos_dihedral + z * lattice.sin_dihedral
    aileron = -_control_mask(lattice, airframe.wing, wing_index)
    twist = -lattice.y_fraction * on_wing
    surface = control_surface_of(airframe)
    rudder = _control_mask(lattice, surface, airframe.surfaces.index(surface))
    return np.stack([roll_rate, lattice.sin_dihedral, aileron, twist, rudder], axis=1)


def _loads(lattice: Lattice, circulation: Array, surfaces: int, *, odd: bool = False) -> tuple[Load, ...]:
    # Kutta-Joukowski with the free stream along x: dF = rho V gamma x dl; halves doubled; divided by rho V^2 / 2.
    dy = lattice.b[:, 1] - lattice.a[:, 1]
    dz = lattice.b[:, 2] - lattice.a[:, 2]
    mid = 0.5 * (lattice.a + lattice.b)
    lift = 4.0 * circulation * dy
    side = -4.0 * circulation * dz
    moment = -mid[:, 0] * lift
    # Side forces of the two halves add up only in antisymmetric flow. Behind the datum a force to the right swings the nose left.
    across = side if odd else np.zeros_like(side)
    yaw = -mid[:, 0] * across
    roll = -(mid[:, 1] * lift - mid[:, 2] * side)
    result = []
    for i in range(surfaces):
        own = lattice.surface_index == i
        result.append(Load(*(float(v[own].sum()) for v in (lift, moment, roll, across, yaw))))
    return tuple(result)
