"""Loads of the lattice for each disturbance: angle of attack, pitch rate, incidence, roll rate, sideslip, twist."""

from __future__ import annotations

import warnings
from dataclasses import dataclass

import numpy as np
from scipy.linalg import LinAlgWarning, lu_factor, lu_solve

from jinba.core.airframe.layout import control_surface_of
from jinba.core.airframe.parts import Airframe, Surface
from jinba.core.errors import GeometryError
from jinba.core.stability.lattice import Array, Lattice, build_lattice, influence, panels_for, section_influence

_UPRIGHT = 0.1
"""A panel whose normal is so close to the horizontal is a fin."""


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
    ``linear_twist`` per rad of wash-out at the right tip (left tip the other way); ``asymmetry`` of the twist as measured on
    both sides. The last six are antisymmetric. ``slope_sensitivity``: for each surface, how the ``alpha`` loads of all change
    per unit of relative change of its section lift slope, the change of its wake on the others included;
    ``outboard_sensitivity`` the same for a change that grows from -1 at the root to +1 at the tip.
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
    asymmetry: tuple[Load, ...]
    slope_sensitivity: tuple[tuple[Load, ...], ...]
    outboard_sensitivity: tuple[tuple[Load, ...], ...]


def solve_loads(
    airframe: Airframe,
    *,
    zero_lift_rad: tuple[float, ...],
    panels: tuple[int, int] | None = None,
    section_slope: tuple[float, ...] | float = 1.0,
) -> LatticeLoads:
    """Return the loads of every disturbance from one symmetric and one antisymmetric solution.

    Parameters
    ----------
    airframe : the surfaces, datum at x = 0.
    zero_lift_rad : zero-lift angle of each surface's section, in the order of the airframe. [rad]
    panels : per half span and per chord, by default those of :func:`panels_for`. [-]
    section_slope : section lift slope over 2 pi, one for all or one for each surface; 1 is the ideal fluid. [-]

    Validity: inviscid, linear, attached flow, no fin. References: as the module ``lattice``.
    """
    spanwise, chordwise = panels or panels_for(len(airframe.surfaces))
    lattice = build_lattice(airframe.surfaces, spanwise=spanwise, chordwise=chordwise)
    right, image = influence(lattice)
    count = len(airframe.surfaces)
    ratios = np.array([section_slope] * count if isinstance(section_slope, float) else section_slope)
    own = section_influence(lattice) / ratios[lattice.surface_index][:, None]
    yielding = own * (1.0 - ratios[lattice.surface_index])[:, None]
    factors = _factored(right + image + yielding)
    symmetric = lu_solve(factors, -_symmetric_washes(lattice, airframe, zero_lift_rad))
    antisymmetric = lu_solve(_factored(right - image + yielding), -_antisymmetric_washes(lattice, airframe))
    # (A + (1/k - 1) A2) g = w: a relative change dk of one surface's k changes g by A^-1 (A2 g / k) dk on its own rows.
    response = own @ symmetric[:, 0]
    outboard = response * (2.0 * lattice.y_fraction - 1.0)
    changes = [np.where(lattice.surface_index == i, r, 0.0) for r in (response, outboard) for i in range(count)]
    moved = lu_solve(factors, np.stack(changes, axis=1))
    even = _loads(lattice, symmetric, count)
    odd = _loads(lattice, antisymmetric, count, odd=True)
    sensitive = _loads(lattice, moved, count)
    alpha, pitch, base, elevator = even
    roll_rate, sideslip, aileron, twist, rudder, asymmetry = odd
    return LatticeLoads(
        alpha=alpha,
        pitch=pitch,
        base=base,
        elevator=elevator,
        roll_rate=roll_rate,
        sideslip=sideslip,
        aileron=aileron,
        linear_twist=twist,
        rudder=rudder,
        asymmetry=asymmetry,
        slope_sensitivity=tuple(sensitive[:count]),
        outboard_sensitivity=tuple(sensitive[count:]),
    )


def solve_alpha(airframe: Airframe, *, panels: tuple[int, int], section_slope: float = 1.0) -> tuple[Load, ...]:
    """Return the loads per rad of angle of attack alone, on any grid: what a coarser grid makes of the same airframe.

    ``section_slope`` [1/rad].
    """
    lattice = build_lattice(airframe.surfaces, spanwise=panels[0], chordwise=panels[1])
    return _even_loads(lattice, lattice.cos_dihedral, surfaces=len(airframe.surfaces), section_slope=section_slope)


def solve_flap(airframe: Airframe, *, inner: float, outer: float, section_slope: float = 1.0) -> tuple[Load, ...]:
    """Return the loads of all surfaces per rad of more incidence of the wing between two shares of its half span [-].

    What the wing's wake then does to the other surfaces is in them. ``section_slope`` over 2 pi [-]. Validity and references: as
    :func:`solve_loads`.
    """
    spanwise, chordwise = panels_for(len(airframe.surfaces))
    lattice = build_lattice(airframe.surfaces, spanwise=spanwise, chordwise=chordwise)
    wing = airframe.surfaces.index(airframe.wing)
    inside = (lattice.y_fraction >= inner) & (lattice.y_fraction <= outer) & (lattice.surface_index == wing)
    return _even_loads(lattice, inside.astype(float), surfaces=len(airframe.surfaces), section_slope=section_slope)


def _even_loads(lattice: Lattice, wash: Array, *, surfaces: int, section_slope: float) -> tuple[Load, ...]:
    right, image = influence(lattice)
    yielding = (1.0 / section_slope - 1.0) * section_influence(lattice)
    circulation = lu_solve(_factored(right + image + yielding), -wash[:, None])
    return _loads(lattice, circulation, surfaces)[0]


def _factored(matrix: Array) -> tuple[Array, Array]:
    with warnings.catch_warnings():
        # A singular matrix is reported by a warning; it means two surfaces in one place.
        warnings.simplefilter("error", LinAlgWarning)
        try:
            lu, pivots = lu_factor(matrix, check_finite=False)
        except LinAlgWarning:
            raise GeometryError(
                "Two surfaces lie in the same place; measure the station or the height of one of them."
            ) from None
    return lu, pivots


def _control_mask(lattice: Lattice, surface: Surface, index: int) -> Array:
    inside = (lattice.y_fraction >= surface.control_inner) & (lattice.y_fraction <= surface.control_outer)
    return np.asarray(((lattice.surface_index == index) & inside).astype(float))


def _symmetric_washes(lattice: Lattice, airframe: Airframe, zero_lift_rad: tuple[float, ...]) -> Array:
    x = lattice.control[:, 0]
    angle = lattice.twist + np.array(
        [airframe.surfaces[i].incidence_rad - zero_lift_rad[i] for i in lattice.surface_index]
    )
    # An upright panel turns about itself with the incidence of its wing, and has none of its camber.
    angle = np.where(np.abs(lattice.cos_dihedral) < _UPRIGHT, 0.0, angle)
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
    return np.stack([roll_rate, lattice.sin_dihedral, aileron, twist, rudder, lattice.odd_twist], axis=1)


def _loads(lattice: Lattice, circulation: Array, surfaces: int, *, odd: bool = False) -> list[tuple[Load, ...]]:
    """Return the loads of every surface for each column of the circulation, (n, columns)."""
    # Kutta-Joukowski with the free stream along x: dF = rho V gamma x dl; halves doubled; divided by rho V^2 / 2.
    mid = 0.5 * (lattice.a + lattice.b)
    lift = 4.0 * circulation * (lattice.b[:, 1] - lattice.a[:, 1])[:, None]
    side = -4.0 * circulation * (lattice.b[:, 2] - lattice.a[:, 2])[:, None]
    x, y, z = (mid[:, k][:, None] for k in range(3))
    # Side forces of the two halves add up only in antisymmetric flow. Behind the datum a force to the right swings the nose left.
    across = side if odd else np.zeros_like(side)
    values = np.stack([lift, -x * lift, -(y * lift - z * side), across, -x * across], axis=2)
    starts = np.searchsorted(lattice.surface_index, np.arange(surfaces))
    sums = np.add.reduceat(values, starts, axis=0).tolist()
    return [tuple(Load(*sums[i][k]) for i in range(surfaces)) for k in range(circulation.shape[1])]
