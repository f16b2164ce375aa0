"""Vortex lattice for any number of lifting surfaces, linear, at zero angle of attack.

14 to 24 spanwise x 3 to 4 chordwise horseshoes per half wing, right half modelled and mirrored, all surfaces cut on one common
spanwise grid so that trailing legs never pass close to control points, outermost strip cut short by a quarter of its
width (tip inset), trailing legs along the body axis.

References: horseshoe influence as in Drela, Flight Vehicle Aerodynamics, 2014, eq. 6.33 (from memory); tip inset after
Hough, Remarks on vortex-lattice methods, J. Aircraft 10 (1973) (from memory). Grid and errors: docs/methods/neutral-point.md.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from jinba.core.airframe.parts import Section, Surface

Array = NDArray[np.float64]

_PANELS = {1: (24, 4), 2: (20, 3), 3: (16, 3)}
_PANELS_OF_MANY = (14, 3)
_TIP_INSET = 0.25
_SAME_Y_M = 1e-6
_STEEP = 1.2
"""Rise over run from which a panel is a winglet, cut along its own length (a V-tail is less steep)."""


@dataclass(frozen=True, slots=True)
class Lattice:
    """Panels of the right half, one row per panel. Lengths in metres, drawing axes.

    ``a``, ``b``: inner and outer end of the bound vortex (n, 3); ``control`` points (n, 3); ``cos_dihedral``,
    ``sin_dihedral`` (n); ``surface_index`` (n); ``y_fraction`` of the half span of its surface (n); ``chord`` of the
    strip (n); ``width`` of the strip in y (n); ``twist`` against the root, mean of both halves (n, rad); ``x_quarter`` strip quarter
    chord (n); ``odd_twist`` half of right minus left (n, rad).
    """

    a: Array
    b: Array
    control: Array
    cos_dihedral: Array
    sin_dihedral: Array
    surface_index: NDArray[np.int64]
    y_fraction: Array
    chord: Array
    width: Array
    twist: Array
    x_quarter: Array
    odd_twist: Array


def common_grid(surfaces: tuple[Surface, ...], spanwise: int) -> Array:
    """Return the strip edges [m] shared by all surfaces: every section of every surface is an edge.

    Derived here (docs/methods/neutral-point.md).
    """
    edges = sorted({round(s.y_m, 6) for surface in surfaces for s in surface.sections})
    breaks = [edges[0]]
    for edge in edges[1:]:
        if edge - breaks[-1] > _SAME_Y_M:
            breaks.append(edge)
    target = breaks[-1] / spanwise
    pieces = [
        np.linspace(lo, hi, max(1, math.ceil(_panel_length(surfaces, lo, hi) / target - 1e-9)) + 1)[:-1]
        for lo, hi in pairwise(breaks)
    ]
    return np.concatenate([*pieces, np.array([breaks[-1]])])


def _panel_length(surfaces: tuple[Surface, ...], lo: float, hi: float) -> float:
    """Return the length [m] to be cut between two edges: along a steep winglet, else across the span as for a flat panel."""
    rise = max(
        (
            abs(outer.z_offset_m - inner.z_offset_m) / (outer.y_m - inner.y_m)
            for s in surfaces
            for inner, outer in pairwise(s.sections)
            if inner.y_m <= lo + _SAME_Y_M and outer.y_m >= hi - _SAME_Y_M
        ),
        default=0.0,
    )
    return (hi - lo) * (math.hypot(1.0, rise) if rise > _STEEP else 1.0)


def panels_for(surfaces: int) -> tuple[int, int]:
    """Return (spanwise, chordwise) panels per half wing: finer for few surfaces, where a delta needs it and it is cheap."""
    return _PANELS.get(surfaces, _PANELS_OF_MANY)


def coarser(panels: tuple[int, int]) -> tuple[int, int]:
    """Return the grid of half as many strips and two thirds of the rows, from which the grid's own error is seen."""
    return panels[0] // 2, max(2, panels[1] * 2 // 3)


def build_lattice(surfaces: tuple[Surface, ...], *, spanwise: int, chordwise: int) -> Lattice:
    """Return the panels of the right half of all surfaces, on one common spanwise grid."""
    grid = common_grid(surfaces, spanwise)
    blocks = [_surface_panels(i, s, grid, chordwise) for i, s in enumerate(surfaces)]
    return Lattice(*(np.concatenate([block[k] for block in blocks]) for k in range(len(blocks[0]))))


def _surface_panels(index: int, surface: Surface, grid: Array, chordwise: int) -> tuple[NDArray[np.generic], ...]:
    root_y, tip_y = surface.sections[0].y_m, surface.half_span_m
    edges = grid[(grid >= root_y - _SAME_Y_M) & (grid <= tip_y + _SAME_Y_M)].copy()
    # The last trailing vortex stands a little inside the tip, where a real one rolls up; without it a coarse lattice lifts too much.
    edges[-1] -= _TIP_INSET * (edges[-1] - edges[-2])
    x, chord, z, _, _ = _interpolate(surface, edges)
    y_mid = 0.5 * (edges[:-1] + edges[1:])
    x_mid, c_mid, z_mid, twist_mid, odd_mid = _interpolate(surface, y_mid)
    width = np.diff(edges)
    length = np.hypot(width, np.diff(z))
    rows = []
    for j in range(chordwise):
        # Vortex at a quarter, condition at three quarters of each panel: exact for a thin aerofoil, however few panels.
        bound, point = (j + 0.25) / chordwise, (j + 0.75) / chordwise
        ends = np.stack([x + bound * chord, edges, z], axis=1)
        control = np.stack([x_mid + point * c_mid, y_mid, z_mid], axis=1)
        rows.append((ends[:-1], ends[1:], control))
    n = len(width)

    def per_strip(values: Array) -> Array:
        return np.tile(values, chordwise)

    return (
        np.concatenate([r[0] for r in rows]),
        np.concatenate([r[1] for r in rows]),
        np.concatenate([r[2] for r in rows]),
        per_strip(width / length),
        per_strip(np.diff(z) / length),
        np.full(n * chordwise, index, dtype=np.int64),
        per_strip(y_mid / tip_y),
        per_strip(c_mid),
        per_strip(width),
        per_strip(twist_mid),
        per_strip(x_mid + 0.25 * c_mid),
        per_strip(odd_mid),
    )


def _interpolate(surface: Surface, y: Array) -> tuple[Array, Array, Array, Array, Array]:
    s: tuple[Section, ...] = surface.sections
    ys = [q.y_m for q in s]
    return (
        surface.x_m + np.interp(y, ys, [q.x_offset_m for q in s]),
        np.interp(y, ys, [q.chord_m for q in s]),
        surface.z_m + np.interp(y, ys, [q.z_offset_m for q in s]),
        np.interp(y, ys, [q.mean_twist_rad for q in s]),
        np.interp(y, ys, [q.odd_twist_rad for q in s]),
    )


def influence(lattice: Lattice) -> tuple[Array, Array]:
    """Return the normal velocity at each control point per unit circulation of (right panels, mirrored panels), (n, n).

    Unit: 1/m (velocity over circulation). Mirrored panels carry the same circulation in symmetric, the opposite one in
    antisymmetric flow; add or subtract accordingly. Derived here (docs/methods/neutral-point.md).
    """
    right = _normal_wash(lattice, lattice.a, lattice.b)
    # Only the right half is solved; the left one is its mirror image, ends swapped so that the circulation runs on.
    mirror = np.array([1.0, -1.0, 1.0])
    image = _normal_wash(lattice, lattice.b * mirror, lattice.a * mirror)
    return right, image


def section_influence(lattice: Lattice) -> Array:
    """Return the normal velocity at each control point per unit circulation of its own strip as if it went on for ever, (n, n).

    -1/(2 pi d), d the distance behind each bound vortex square to it. Adding (1/k - 1) of it to the influence makes every
    section lift with k times the thin-aerofoil slope while the wake stays what it was. Unit: 1/m. Derived here.
    """
    # Panels of one strip share surface and span station; a thousand metres apart, surfaces never meet.
    along = lattice.surface_index * 1e3 + lattice.control[:, 1]
    same = np.abs(along[:, None] - along[None, :]) < 1e-9
    mid_x = 0.5 * (lattice.a[:, 0] + lattice.b[:, 0])
    span = np.hypot(lattice.b[:, 1] - lattice.a[:, 1], lattice.b[:, 2] - lattice.a[:, 2])
    cos_sweep = span / np.hypot(span, lattice.b[:, 0] - lattice.a[:, 0])
    behind = np.where(same, (lattice.control[:, 0][:, None] - mid_x[None, :]) * cos_sweep[None, :], 1.0)
    return np.where(same, -1.0 / (2.0 * math.pi * behind), 0.0)


def _normal_wash(lattice: Lattice, a_end: Array, b_end: Array) -> Array:
    # Symbols as in Drela: a, b from the ends of the bound vortex to the field point; u the unit vector along +x.
    px, py, pz = (lattice.control[:, k][:, None] for k in range(3))
    ax, ay, az = px - a_end[:, 0], py - a_end[:, 1], pz - a_end[:, 2]
    bx, by, bz = px - b_end[:, 0], py - b_end[:, 1], pz - b_end[:, 2]
    na = np.sqrt(ax * ax + ay * ay + az * az)
    nb = np.sqrt(bx * bx + by * by + bz * bz)
    bound = (1.0 / na + 1.0 / nb) / (na * nb + ax * bx + ay * by + az * bz)
    leg_a = 1.0 / (na * (na - ax))
    leg_b = 1.0 / (nb * (nb - bx))
    vy = (az * bx - ax * bz) * bound + az * leg_a - bz * leg_b
    vz = (ax * by - ay * bx) * bound - ay * leg_a + by * leg_b
    wash = vz * lattice.cos_dihedral[:, None] - vy * lattice.sin_dihedral[:, None]
    return np.asarray(wash / (4.0 * math.pi))
