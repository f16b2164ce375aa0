"""How the strips of an airframe wash over each other: vortex lines on both halves, condensed to one unknown a strip."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

_FAR = 400.0
"""Length of the trailing legs, in metres for the largest model: as good as no end. Derived here."""

_CORE = 0.35
"""Core of a trailing leg against other surfaces, in widths of its strip: keeps a wake that grazes a tail from striking
single points. Derived here."""


@dataclass(frozen=True, slots=True)
class Strip:
    """One strip of a surface, drawing axes [m]: inner and outer edge, leading edge and chord of both, its surface's number.

    ``left``, ``right``: leading-edge points seen from behind (for a fin lower and upper); ``chords`` of both edges.
    """

    surface: int
    left: tuple[float, float, float]
    right: tuple[float, float, float]
    chords: tuple[float, float]


@dataclass(frozen=True, slots=True)
class Wash:
    """What circulation does to the strips, per unit of speed.

    ``induced`` (n, n): fall of the effective incidence [rad s/m2 x m/s] of strip i per circulation of strip j; the section's
    own lift is not in it. ``offset`` (n, n): moment arm of the lift behind the quarter chord times circulation [m].
    """

    induced: Array
    offset: Array


def wash(strips: tuple[Strip, ...], rows: int = 4) -> Wash:
    """Return how the strips wash over each other, from a lattice of ``rows`` panels along each chord.

    For incidences e of whole strips the circulations are G = V M e; alone in two dimensions a strip has pi c e. What the
    others and the finite span take away is therefore (M^-1 - 1/(pi c)) G / V: exact in the attached range, whatever the
    section does with the incidence that is left to it. References: vortex segments, Katz and Plotkin, Low-Speed
    Aerodynamics, 2001, eq. 10.115 (from memory); condensation derived here.
    """
    n = len(strips)
    ends, control, normal, at = _panels(strips, rows)
    owner = np.repeat(np.arange(n), rows)
    surface = np.array([s.surface for s in strips])[owner]
    width = np.array([_width(s) for s in strips])[owner]
    core = np.where(surface[:, None] == surface[None, :], 0.0, _CORE * width[None, :])
    normal_wash = _normal_wash(ends, control, normal, core)
    spread = (owner[:, None] == np.arange(n)[None, :]).astype(float)
    per_row = np.linalg.solve(normal_wash, -spread)
    circulation = spread.T @ per_row
    back = np.linalg.inv(circulation)
    chord = np.array([0.5 * sum(s.chords) for s in strips])
    induced = back - np.diag(1.0 / (math.pi * chord))
    behind = (at - 0.25) * chord[owner]
    offset = (spread.T @ (behind[:, None] * per_row)) @ back
    return Wash(induced, offset)


def _width(s: Strip) -> float:
    return math.hypot(s.right[1] - s.left[1], s.right[2] - s.left[2])


def _panels(strips: tuple[Strip, ...], rows: int) -> tuple[tuple[Array, Array], Array, Array, Array]:
    a, b, control, normal, at = [], [], [], [], []
    for s in strips:
        left, right = np.array(s.left), np.array(s.right)
        middle, chord = 0.5 * (left + right), 0.5 * (s.chords[0] + s.chords[1])
        across = right - left
        n = np.array([0.0, -across[2], across[1]]) / math.hypot(across[1], across[2])
        for j in range(rows):
            bound, point = (j + 0.25) / rows, (j + 0.75) / rows
            a.append(left + np.array([bound * s.chords[0], 0.0, 0.0]))
            b.append(right + np.array([bound * s.chords[1], 0.0, 0.0]))
            control.append(middle + np.array([point * chord, 0.0, 0.0]))
            normal.append(n)
            at.append(bound)
    return (np.array(a), np.array(b)), np.array(control), np.array(normal), np.array(at)


def _normal_wash(ends: tuple[Array, Array], control: Array, normal: Array, core: Array) -> Array:
    a, b = ends
    away = np.array([_FAR, 0.0, 0.0])
    total = _segment(control, a, b, core) + _segment(control, a + away, a, core) + _segment(control, b, b + away, core)
    return np.asarray((total * normal[:, None, :]).sum(axis=2))


def _segment(points: Array, start: Array, end: Array, core: Array) -> Array:
    """Return the velocity at each point of each straight segment of unit circulation, (points, segments, 3)."""
    r1 = points[:, None, :] - start[None, :, :]
    r2 = points[:, None, :] - end[None, :, :]
    r0 = (end - start)[None, :, :]
    cross = np.cross(r1, r2)
    square = (cross**2).sum(axis=2) + core**2 * (r0**2).sum(axis=2) + 1e-18
    n1, n2 = np.linalg.norm(r1, axis=2), np.linalg.norm(r2, axis=2)
    along = (r0 * (r1 / n1[..., None] - r2 / n2[..., None])).sum(axis=2)
    return np.asarray(cross / square[..., None] * (along / (4.0 * math.pi))[..., None])
