"""What every change on the bench adds to what is not known of a model: no hand sets a thing exactly where it was ordered."""

from __future__ import annotations

import math
from dataclasses import replace

from jinba.core.configuration import Configuration
from jinba.core.frames import Axis
from jinba.core.mass.items import Item
from jinba.core.observe.measures import Datum, Error
from jinba.core.observe.parameters import Array, P, prior_means
from jinba.core.observe.situation import Design, design_of
from jinba.core.power.propulsion import motors_of

SET_RAD = math.radians(0.3)
PLACED_M = 0.0015
"""How exactly an angle is set and a thing is placed by hand, one sigma: common practice, no source."""

RIGGING = "rigging:"
"""How the keys of these errors begin: they belong to a change on the bench, to no measure."""

_STEP = 1e-3
_LEAST_MOVE_M = 1e-5
_LEAST_TURN_RAD = 1e-5


def unsure_by(before: Configuration, after: Configuration) -> dict[P, float]:
    """Return what a change from one setup to another adds to each unknown, one sigma in its unit; only what it has touched.

    A moved or added item stands where it was ordered to a millimetre and a half, which moves the balance by its share of the mass; a
    surface, a wing, a tail or a motor that was set is set to a third of a degree. Trim clicks are counted and add nothing. Derived here
    (docs/methods/estimator.md).
    """
    if before == after:
        return {}
    d = design_of(after)
    sigmas = {
        P.STATIC_MARGIN: _balance_sigma(before.items, after.items, d),
        P.PITCH_MOMENT: abs(d.aero.pitch_control) * SET_RAD * _pitch_set(before, after),
        P.TWIST: abs(d.aero.cl_aileron / d.aero.cl_twist) * SET_RAD * _turned(before, after, Axis.ROLL),
        P.YAW_OFFSET: SET_RAD * _turned(before, after, Axis.YAW),
        **dict.fromkeys((P.THRUST_DOWN, P.THRUST_RIGHT), SET_RAD * _shimmed(before, after)),
    }
    return {p: s for p, s in sigmas.items() if s > 0.0}


def _balance_sigma(before: tuple[Item, ...], after: tuple[Item, ...], d: Design) -> float:
    was = {i.key: i for i in before}
    touched = [i for i in after if i.fitted and _elsewhere(was.get(i.key), i)]
    shares = math.hypot(*(i.mass_kg / d.balance.mass.mass_kg for i in touched)) if touched else 0.0
    return shares * PLACED_M / d.aero.planform.mac_m


def _elsewhere(was: Item | None, now: Item) -> bool:
    return was is None or not was.fitted or abs(was.x_m - now.x_m) > _LEAST_MOVE_M or was.mass_kg != now.mass_kg


def _turned(before: Configuration, after: Configuration, axis: Axis) -> bool:
    # Where it rests by its linkage alone: what the radio adds is counted, not set.
    return abs(before.control(axis).mechanical_rad - after.control(axis).mechanical_rad) > _LEAST_TURN_RAD


def _pitch_set(before: Configuration, after: Configuration) -> float:
    """Return how many things were set that pitch it, in the way their errors add: the linkage, and each surface's incidence."""
    angles = zip(before.airframe.surfaces, after.airframe.surfaces, strict=False)
    seats = sum(abs(a.incidence_rad - b.incidence_rad) > _LEAST_TURN_RAD for a, b in angles)
    return math.sqrt(seats + _turned(before, after, Axis.PITCH))


def _shimmed(before: Configuration, after: Configuration) -> bool:
    def tilts(c: Configuration) -> list[tuple[float, float]]:
        return [(m.tilt_down_rad, m.tilt_right_rad) for m in motors_of(c.airframe)]

    return tilts(before) != tilts(after)


def before_orders(data: tuple[Datum, ...], orders: dict[str, dict[P, float]]) -> tuple[Datum, ...]:
    """Return data that were flown before changes on the bench, as evidence of the model as it is now.

    ``orders``: by key of a change what it added to each unknown, one sigma in its unit. What was true then is what is true now less what
    each change was off; to first order about the bench's own idea of the model. Random walk of the state, e.g. Gelb (ed.), Applied
    Optimal Estimation, 1974, ch. 4 (from memory); derived here (docs/methods/estimator.md).
    """
    if not orders:
        return data
    touched = {p for sigmas in orders.values() for p in sigmas}
    return tuple(_with_errors(d, orders, touched) for d in data)


def _with_errors(d: Datum, orders: dict[str, dict[P, float]], touched: set[P]) -> Datum:
    slopes = {p: _slope(d, p) for p in touched}
    errors = tuple(
        Error(f"{RIGGING}{key}:{p.name}", 0.0, sigma, -slopes[p])
        for key, sigmas in orders.items()
        for p, sigma in sigmas.items()
        if slopes[p] != 0.0
    )
    return replace(d, rigging=errors)


def _slope(d: Datum, parameter: P) -> float:
    x: Array = prior_means()
    base = d.measure.said(x, d.moment)
    x[parameter] += _STEP
    return (d.measure.said(x, d.moment) - base) / _STEP
