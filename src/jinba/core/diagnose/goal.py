"""What a model is balanced for: the target of its class, or the margin at which it does what its pilot asks for."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from scipy.optimize import brentq

from jinba.core.cards.catalogue import card
from jinba.core.configuration import ClassRules, Configuration
from jinba.core.diagnose.behaviour import behaviour, share_of, sigma_of
from jinba.core.diagnose.update import Belief
from jinba.core.observe import predictions
from jinba.core.observe.measures import MEASURES
from jinba.core.observe.parameters import Array, P
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import Design, design_of, resting_trims
from jinba.core.wish import Wanted, Wish

BANDS_AHEAD = 3.0
"""How many bands ahead of the target of its class a model is balanced at most, whatever is asked for: common practice, no source."""

_PROBE = 0.005
_LEAST_OF_MEAN = 0.2
"""Share of the mean slope of a behaviour with the margin below which its own is not gone by: common practice, no source."""


@dataclass(frozen=True, slots=True)
class Goal:
    """Where a model should end: static ``margin`` [-], and between which it may lie, ``low`` to ``high`` [-], not behind the least of its class.

    ``sigma``: how well it is known that this margin gives what is asked for; ``away_sigma``: how well it is known how far the model is
    from there, which is not how well its margin is known: push inverted is seen, whatever the elevator's power [-]. ``words``: what
    for; ``bound``: why it is not what was asked for, in a sentence, empty where it is. ``asked``: low and high of the behaviour asked
    for, in the unit of its rail, None without one; ``slope``: how much of it there is to a unit of margin, None where the margin itself is
    what counts.
    """

    margin: float
    low: float
    high: float
    sigma: float
    away_sigma: float
    words: str
    bound: str = ""
    asked: tuple[float, float] | None = None
    slope: float | None = None

    @property
    def band(self) -> tuple[float, float]:
        """Static margins it may lie between [-]. Derived here."""
        return self.low, self.high


@dataclass(frozen=True, slots=True)
class _Asked:
    """A behaviour that can be asked for: how a model in trim does it in the unit of its rail, the measure whose error belongs to it,
    in so many ``times`` its unit, and how well one reading shows it."""

    predict: Callable[[Array, Moment], float]
    missed: str
    times: float
    noise: float


def asked_of(behaviour_: Wanted) -> tuple[Callable[[Array, Moment], float], str, float]:
    """Return how a model in trim does what can be asked for, the measure whose error belongs to it, and how many times its unit that of
    the rail is: stick in per cent of full, path rates in deg/s. Derived here (docs/methods/goals.md)."""
    found = _FORMS[behaviour_]
    return found.predict, found.missed, found.times


_FORMS = {
    Wanted.PUSH: _Asked(lambda x, m: 100.0 * predictions.push_in_trim(x, m), "inverted_stick", 100.0, 5.0),
    Wanted.DIVE: _Asked(predictions.dive_rate, "dive", 1.0, 1.4),
    Wanted.TOUCHDOWN: _Asked(lambda x, m: 100.0 * predictions.touchdown_in_trim(x, m), "touchdown_stick", 100.0, 15.0),
}


def goal_of(configuration: Configuration, belief: Belief) -> Goal:
    """Return what a configuration is balanced for under a belief.

    What is asked for is h(SM) = w by the closed form and what it is believed to miss, the other unknowns at their means; the margin
    stays between the least of the class, the class band about a published point, and three bands ahead of the class's target. ``away_sigma`` = sigma_h/h',
    ``sigma`` the same without the margin's own part. Derived here (docs/methods/goals.md).
    """
    rules, i = configuration.rules, int(P.STATIC_MARGIN)
    by_class = Goal(
        rules.target, *_around(rules.target, rules), 0.0, float(belief.sigma[i]), f"the {rules.words}'s target"
    )
    design = design_of(configuration)
    if configuration.wish is None or design.elevator_throw_rad <= 0.0:
        return by_class
    wish, form = configuration.wish, _FORMS[configuration.wish.behaviour]
    moment = Moment(design, resting_trims(configuration))
    share = form.times * share_of(form.missed, moment)
    error, wanted = share * belief.missed(form.missed, design), _wanted(wish, design)

    def does(margin: float) -> float:
        x = belief.mean.copy()
        x[i] = margin - design.static_margin
        return float(form.predict(x, moment)) + error

    low, high, why = _bounds(configuration, belief, design)
    if abs(does(high) - does(low)) < form.noise:
        return replace(
            by_class, bound=f"This model does much the same in any balance: {wish.words} cannot be had by moving it."
        )
    margin, bound = _solved(does, wanted, low, high, why)
    slope = (does(margin + _PROBE) - does(margin - _PROBE)) / (2.0 * _PROBE)
    # A dive that has come to its end tells nothing more of the margin there: the mean over all margins is what is left to go by.
    if abs(slope) < _LEAST_OF_MEAN * abs(mean_slope := (does(high) - does(low)) / (high - low)):
        slope = mean_slope
    _, spread, slopes = behaviour(form.predict, form.missed, belief, moment, times=form.times)
    known = slopes.copy()
    known[i] = 0.0
    band = _around(margin, rules)
    ends = sorted(does(end) for end in band)
    return Goal(
        margin,
        *band,
        sigma_of(known, form.missed, share, belief, design) / abs(slope),
        float(belief.sigma[i]) if bound else spread / abs(slope),
        wish.words,
        bound,
        (ends[0], ends[1]),
        None if bound else slope,
    )


def furthest_forward(rules: ClassRules) -> float:
    """Return the largest static margin that a model of a class is balanced for [-]. Derived here (docs/methods/goals.md)."""
    return rules.target + BANDS_AHEAD * rules.band


def _around(margin: float, rules: ClassRules) -> tuple[float, float]:
    return max(margin - rules.band, rules.minimum), margin + rules.band


def _wanted(wish: Wish, design: Design) -> float:
    if wish.behaviour is not Wanted.DIVE:
        return 100.0 * wish.amount
    scale = MEASURES["F12", "dive"].sized(design).scale
    options = [o.key for o in card("F12").capture("dive").options]
    # Of the words that may be asked for none is at an end of the scale: each has two edges.
    low, high = (0.0, 0.0) if scale is None else scale.interval(options.index(wish.word))
    return 0.5 * (low + high)


def _bounds(configuration: Configuration, belief: Belief, design: Design) -> tuple[float, float, tuple[str, str]]:
    """Return the margins between which it is balanced, and why not further aft and not further forward, in words."""
    rules, published = configuration.rules, configuration.published
    low, high = rules.minimum, furthest_forward(rules)
    why = [
        f"the least margin of its class, {100 * rules.minimum:.0f} % of the chord",
        f"{100 * high:.0f} % of the chord, as far ahead of its class as is sense",
    ]
    if published is not None:
        mac = design.aero.planform.mac_m
        there = design.static_margin + float(belief.mean[P.STATIC_MARGIN]) + (design.balance.x_m - published.x_m) / mac
        around = f"{100 * rules.band:.0f} % of the chord about the published point"
        if low < there - rules.band < high:
            low, why[0] = there - rules.band, around
        if low < there + rules.band < high:
            high, why[1] = there + rules.band, around
    return low, high, (why[0], why[1])


def _solved(
    does: Callable[[float], float], wanted: float, low: float, high: float, why: tuple[str, str]
) -> tuple[float, str]:
    ends = does(low) - wanted, does(high) - wanted
    if ends[0] * ends[1] < 0.0:
        return float(brentq(lambda m: does(m) - wanted, low, high, xtol=1e-5)), ""
    aft = abs(ends[0]) <= abs(ends[1])
    if min(abs(ends[0]), abs(ends[1])) < 1e-9:
        return (low if aft else high), ""
    return (low if aft else high), f"Not quite what was asked for: held by {why[0 if aft else 1]}."
