"""Which of the changes that could be made are made: the set that is expected to leave least undone, for its work and what it hides."""

from __future__ import annotations

import math
from collections.abc import Callable, Collection
from dataclasses import replace
from itertools import combinations

from jinba.core.correct.actions import Action, ActionKind, HeldBack
from jinba.core.correct.composed import Choices, Correction
from jinba.core.diagnose.tendencies import risk_behind_minimum
from jinba.core.diagnose.together import A_CHANGE, WEIGHTS
from jinba.core.diagnose.update import Belief
from jinba.core.observe.parameters import P
from jinba.core.observe.situation import design_of
from jinba.core.uncertainty import MOST_RISK, normal_cdf

_BALANCE = frozenset({ActionKind.MOVE_BATTERY, ActionKind.BALLAST})
_GROUPS: dict[str, frozenset[ActionKind]] = {
    "balance": _BALANCE,
    "thrust": frozenset({ActionKind.THRUST_LINE}),
    "tip": frozenset({ActionKind.TIP_BALLAST}),
}

COSTS = {
    ActionKind.MOVE_BATTERY: A_CHANGE,
    ActionKind.BALLAST: 2.0 * A_CHANGE,
    ActionKind.TIP_BALLAST: 2.0 * A_CHANGE,
    ActionKind.THRUST_LINE: 2.0 * A_CHANGE,
}
"""What each change costs, in half widths of the band of one behaviour: a pack is slid back, lead and washers are not. Trims that follow cost nothing
more. Common practice, no source."""

CONFOUNDED = A_CHANGE
"""What it costs to change balance and thrust line at once: both pitch it, and the next flight cannot tell them apart. Common practice, no
source."""

UNSTABLE = 30.0
"""What a margin below the least of the class costs over a behaviour half a band out, whose weight is one: a model is lost, the other is
trimmed. A judgement."""

_OPENS = {
    "balance": ("Fly F13 (second trim speed) or F12 (dive and let go) in this setup.", ("F13", "F12")),
    "thrust": ("Fly F5 (power step at the same speed) again in this setup.", ("F5",)),
    "tip": ("Fly F7 (slow flight) again in this setup, or measure the incidence of both tips.", ("F7",)),
}


def chosen(allowed: Choices, belief: Belief, composed: Callable[[Choices], Correction]) -> Correction:
    """Return the correction of least expected loss among all that can be composed by leaving something out of the whole one.

    sum w E(beyond the band) + 30 P(margin < minimum) + what the changes cost; none whose risk is above 5 % where another keeps below it. Expected
    loss over the posterior, e.g. Berger, Statistical Decision Theory, 1985, ch. 1 (from memory); the weights are a judgement.
    Derived here (docs/methods/corrections.md). ``composed``: makes the correction for what is allowed.
    """
    whole = composed(allowed)
    done = [g for g, kinds in _GROUPS.items() if any(a.kind in kinds for a in whole.actions)]
    if allowed.battery_m is not None:
        done = [g for g in done if g != "balance"]
    sets = [out for n in range(1, len(done) + 1) for out in combinations(done, n)]
    found = [((), whole), *((out, composed(_without(allowed, out))) for out in sets)]
    out, best = min(found, key=lambda f: _rank(f[1], belief))
    held = tuple(_held(group, [a for a in whole.actions if a.kind in _GROUPS[group]]) for group in out)
    # What the whole one waits for, a reading of the balance above all, is waited for all the same.
    waits = tuple(h for h in whole.held_back if h.reading and h not in best.held_back)
    return replace(best, held_back=(*best.held_back, *waits, *held)) if out else best


def _without(allowed: Choices, out: Collection[str]) -> Choices:
    return replace(
        allowed,
        battery_m=0.0 if "balance" in out else allowed.battery_m,
        use_thrust_line=allowed.use_thrust_line and "thrust" not in out,
        use_tip_ballast=allowed.use_tip_ballast and "tip" not in out,
    )


def _rank(c: Correction, belief: Belief) -> tuple[bool, float]:
    risk = _risk(c, belief)
    return risk > MOST_RISK, loss(c, belief)


def _risk(c: Correction, belief: Belief) -> float:
    margin = design_of(c.configuration).static_margin + float(belief.mean[P.STATIC_MARGIN])
    sigma = float(belief.sigma[P.STATIC_MARGIN])
    return risk_behind_minimum(c.configuration, margin_fraction=margin, sigma_fraction=sigma)


def loss(c: Correction, belief: Belief) -> float:
    """Return what a correction is expected to leave undone, with what it costs. [-] As :func:`chosen`; derived here."""
    left = sum(WEIGHTS[t.key] * beyond(t.value, t.sigma, (t.low, t.high)) for t in c.predicted if t.key in WEIGHTS)
    kinds = {a.kind for a in c.actions}
    both = CONFOUNDED if kinds & _BALANCE and ActionKind.THRUST_LINE in kinds else 0.0
    return left + UNSTABLE * _risk(c, belief) + sum(COSTS.get(k, 0.0) for k in kinds) + both


def beyond(value: float, sigma: float, band: tuple[float, float]) -> float:
    """Return how far beyond its band a behaviour is expected to lie, in half widths of it [-]; all numbers in its unit.

    E max(x - high, low - x, 0) of a normal x: sigma (f(a) - a (1 - F(a))) at either end, a in sigmas from the mean to it. Derived here.
    """
    low, high = band
    ends = ((high - value) / max(sigma, 1e-9), (value - low) / max(sigma, 1e-9))
    out = sum(math.exp(-0.5 * a * a) / math.sqrt(2.0 * math.pi) - a * (1.0 - normal_cdf(a)) for a in ends)
    return max(sigma, 1e-9) * out / (0.5 * (high - low))


def _held(group: str, left: list[Action]) -> HeldBack:
    opens_with, cards = _OPENS[group]
    return HeldBack(
        left[0].kind,
        f"Not done: {left[0].words} What is believed of the model hardly gets better by it, for its work and for what it would hide.",
        opens_with,
        cards,
    )
