"""Whether something on a model has moved since it flew last: how well its flights go together if it has, against if nothing has."""

from __future__ import annotations

import math

import numpy as np

from jinba.core.diagnose.update import POWER_STEPS, Belief, gained_if_moved
from jinba.core.observe.measures import Datum
from jinba.core.observe.parameters import P
from jinba.core.observe.situation import Design
from jinba.core.said import Said, finding

MOVED_SHARE = 0.05
"""Chance that something slips, bends or is put back elsewhere between two sorties and nobody knows: common practice, no source."""

SAID_FROM = 0.5
"""Chance from which on it is said: to look costs a minute. Common practice, no source."""

_SLIPPED_RAD, _SHIFTED = math.radians(2.0), 0.04
"""How far a surface or a seat slips, one sigma [rad], and a balance shifts [of the chord]: common practice, no source."""

_MOST_ODDS = 99
_WHERE = {
    P.PITCH_MOMENT: "what trims its nose: elevator clevis and horn, its servo, the seats of wing and tail",
    P.TWIST: "what rolls it: aileron clevises and servos, a wing's seat, a warp from the sun",
    P.YAW_OFFSET: "what yaws it: rudder clevis and servo, the fin's seat",
    P.STATIC_MARGIN: "its balance: the pack and where it lies, anything loose inside",
}


def moved_unordered(prior: Belief, sorties: tuple[tuple[Datum, ...], ...], design: Design) -> tuple[Said, ...]:
    """Return a squawk where the last of several sorties goes together with those before far better if something has moved in between.

    ``sorties``: their data as evidence of the model as it is, its orders counted in. One unknown at a time, moved by a fault's size
    before the last sortie, against none; evidence of both by Laplace. Derived here (docs/methods/estimator.md).
    """
    chances = chances_of(prior, sorties, design)
    likely = sum(chances.values())
    if not chances or likely < SAID_FROM:
        return ()
    odds = round(min(likely / max(1.0 - likely, 1e-6), _MOST_ODDS))
    what = _WHERE[max(chances, key=lambda p: chances[p])]
    return (
        finding(
            "moved_unordered",
            f"This flight and those before it go together better if something has moved in between, {odds} to 1, and no order did it. "
            f"Look at {what}.",
            stops=True,
        ),
    )


def chances_of(prior: Belief, sorties: tuple[tuple[Datum, ...], ...], design: Design) -> dict[P, float]:
    """Return for each unknown the chance that it, and nothing else, has moved before the last of several sorties [-]; empty where there is
    nothing to compare. ``sorties``: as for :func:`moved_unordered`. Derived here (docs/methods/estimator.md)."""
    heard = [tuple(d for d in s if d.measure.key not in POWER_STEPS) for s in sorties]
    if len(heard) < 2 or not heard[-1]:
        return {}
    before, last = tuple(d for s in heard[:-1] for d in s), heard[-1]
    if not before:
        return {}
    is_before = np.arange(len(before) + len(last)) < len(before)
    gained = gained_if_moved(prior, before + last, is_before, _sizes(design))
    odds = {p: MOVED_SHARE / (1.0 - MOVED_SHARE) / len(gained) * math.exp(min(50.0, g)) for p, g in gained.items()}
    whole = 1.0 + sum(odds.values())
    return {p: o / whole for p, o in odds.items()}


def _sizes(design: Design) -> dict[P, float]:
    a = design.aero
    found = {P.STATIC_MARGIN: _SHIFTED, P.PITCH_MOMENT: abs(a.pitch_control) * _SLIPPED_RAD, P.YAW_OFFSET: _SLIPPED_RAD}
    if a.cl_aileron and a.cl_twist:
        found[P.TWIST] = abs(a.cl_aileron / a.cl_twist) * _SLIPPED_RAD
    return found
