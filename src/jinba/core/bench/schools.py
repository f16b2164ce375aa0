"""Where the trade would balance it and where this geometry says, side by side: each with its margin and its risk."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.airframe.layout import lifting_surfaces, pitch_control_of
from jinba.core.airframe.parts import Airframe
from jinba.core.bench.maiden import MaidenPoint
from jinba.core.configuration import ClassRules, ModelClass
from jinba.core.diagnose.goal import Goal
from jinba.core.frames import PitchControl
from jinba.core.observe.situation import Design
from jinba.core.uncertainty import normal_cdf


@dataclass(frozen=True, slots=True)
class School:
    """One way to say where it should balance: stations from the datum [m], what that means here, where it comes from.

    ``static_margin`` in the middle of the range [-]; ``risk``: chance at its rear end of less than the class minimum [-];
    ``computed``: from this geometry, not from a rule.
    """

    key: str
    name: str
    from_m: float
    to_m: float
    static_margin: float
    risk: float
    computed: bool
    words: str


@dataclass(frozen=True, slots=True)
class _Rule:
    key: str
    name: str
    low: float
    high: float
    words: str


_COMMON = _Rule(
    "common", "25 to 30 % of the mean chord", 0.25, 0.30, "What most are told. It knows nothing of the tail."
)
_UNDOCUMENTED = _Rule(
    "undocumented",
    "30 to 33 % of the mean chord",
    0.30,
    0.33,
    "Said of models without documents; for an ordinary tail.",
)
_TAPERED = _Rule("tapered", "25 % of the mean chord", 0.23, 0.27, "Said of tapered low wings that drop a tip.")
_MULTI = _Rule(
    "multi", "A third of the wing's chord", 0.31, 0.36, "Said of two and three wings; of which chord, it rarely says."
)
_SLOPE = _Rule(
    "slope",
    "Up to 40 % of the mean chord",
    0.35,
    0.40,
    "Flown by aerobatic gliders when settled: never a first flight.",
)


def schools(
    design: Design, maiden: MaidenPoint, goal: Goal, *, x_np_m: float, sigma_m: float, flown: bool = False
) -> tuple[School, ...]:
    """Return the computed points and the trade's rules that are said of this kind of model.

    ``goal``: what it is balanced for; ``x_np_m``, ``sigma_m``: the neutral point with what the flights have taught, and one sigma of the distance of balance
    and neutral point. [m] ``flown``: the first flight is over, its point is left out. The rules are common practice, no source. References: risk as docs/methods/maiden-balance.md.
    """
    c, mac = design.configuration, design.aero.planform.mac_m
    rules = c.rules

    def school(key: str, name: str, x: tuple[float, float], computed: bool, words: str) -> School:
        margin = (x_np_m - 0.5 * (x[0] + x[1])) / mac
        risk = normal_cdf((rules.minimum * mac - (x_np_m - x[1])) / sigma_m)
        return School(key, name, x[0], x[1], margin, risk, computed, words)

    found = []
    if maiden.x_m is not None and not flown:
        forward = max(maiden.forward_limit_m, maiden.aft_limit_m - 0.10 * mac)
        words = (
            "At its rear end the chance of too little margin is at most 1 % if the balance was read well, and 5 % with a misreading in it. "
            "Fly the first flight there or ahead of it."
        )
        found.append(school("maiden", "First flight, computed", (forward, maiden.aft_limit_m), True, words))
    band = (x_np_m - mac * goal.band[1], x_np_m - mac * goal.band[0])
    found.append(school("target", *_settled(rules, goal, band)))
    p = design.aero.planform
    for rule in _rules_said_of(c.airframe, c.model_class):
        found.append(school(rule.key, rule.name, (p.station_at(rule.low), p.station_at(rule.high)), False, rule.words))
    if c.published is not None:
        x = c.published.x_m
        found.append(school("published", "Published", (x, x), False, c.published.source or "The maker or the plan."))
    return tuple(found)


def _settled(rules: ClassRules, goal: Goal, band: tuple[float, float]) -> tuple[str, tuple[float, float], bool, str]:
    if goal.asked is None:
        words = f"Where this class ends up, in small steps. {goal.bound}".strip()
        return f"Settled {rules.words}", band, True, words
    known = f"Where it should do so, to ± {100 * goal.sigma:.1f} % of the chord; in small steps."
    return f"For {goal.words}", band, True, goal.bound or known


def _rules_said_of(airframe: Airframe, model_class: ModelClass) -> tuple[_Rule, ...]:
    if pitch_control_of(airframe) in (PitchControl.ELEVONS, PitchControl.FOREPLANE):
        return ()
    if len(lifting_surfaces(airframe)) > 1:
        return (_MULTI,)
    tip, root = airframe.wing.sections[-1].chord_m, airframe.wing.sections[0].chord_m
    extra = (_TAPERED,) if tip < 0.7 * root and airframe.wing.z_m < 0 else ()
    slope = (_SLOPE,) if model_class is ModelClass.GLIDER else ()
    return (_COMMON, _UNDOCUMENTED, *extra, *slope)
