"""Every measure of every flight card: what it would read, its noise, and the persistent error of its closed form."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache

from jinba.core.cards import scales
from jinba.core.cards.incident import Aspect
from jinba.core.observe import predictions
from jinba.core.observe.calibrated import BY_THE_PROPELLER, ERRORS
from jinba.core.observe.families import family_of
from jinba.core.observe.parameters import Array, P
from jinba.core.observe.predictions import Moment, moment_upside_down
from jinba.core.observe.situation import Design

Predict = Callable[[Array, Moment], float]


@dataclass(frozen=True, slots=True)
class Error:
    """A persistent error of a closed form: ``key``, ``mean`` and ``sigma`` in the unit of whose it is, ``share``: how much of it is in
    a measure [unit of the measure over its own]."""

    key: str
    mean: float
    sigma: float
    share: float = 1.0


@dataclass(frozen=True, slots=True)
class Measure:
    """A measurement model: prediction in ``unit``, noise sigma and persistent bias sigma of the closed form.

    ``noise`` and ``bias`` in the unit of the prediction, for a model of the speed and span of ``core.cards.scales``; ``bias_key``
    shared by measures with the same model error, which is ``expected`` in the mean; ``shared``: a second error, that of another measure;
    ``per``: how words and errors go with size; ``scatter``: how many times its noise a reading of this family scatters [-].
    """

    key: str
    words: str
    unit: str
    predict: Predict
    noise: float
    bias: float
    bias_key: str
    scale: scales.Scale | None = None
    per: scales.Per = scales.Per.ITSELF
    expected: float = 0.0
    shared: Error | None = None
    scatter: float = 1.0

    @property
    def sigma(self) -> float:
        """How far one reading lies from the next of the same, one sigma, in its unit. Derived here (docs/methods/estimator.md)."""
        return self.scatter * self.noise

    def said(self, x: Array, m: Moment) -> float:
        """Return what its pilot would say for unknowns (COUNT,), before the persistent errors, in its unit: a word has his own strength in it.

        Derived here (docs/methods/estimator.md).
        """
        return (1.0 if self.scale is None else strength(x)) * self.predict(x, m)

    @property
    def errors(self) -> tuple[Error, ...]:
        """Its persistent errors, its own first. Derived here."""
        own = Error(self.bias_key, self.expected, self.bias)
        return (own,) if self.shared is None else (own, self.shared)

    def timed(self, predict: Predict, design: Design) -> Measure:
        """Return the measure as a stopwatch has it, its size already that of the model: no word, and an error of its own where it has one.

        Derived here (docs/methods/estimator.md).
        """
        key = f"{self.key}_timed"
        if key not in ERRORS:
            return replace(self, key=key, predict=predict, scale=None)
        times = size_of(self.per, design)
        expected, bias, scatter = _of_family(key, design, (0.0, self.bias / times, 1.0))
        return replace(
            self,
            key=key,
            predict=predict,
            scale=None,
            scatter=scatter,
            bias_key=key,
            expected=times * expected,
            bias=times * bias,
        )

    def sized(self, design: Design) -> Measure:
        """Return the measure with the words of a model of this speed and span (``core.cards.scales``), and the errors and the scatter of
        its family."""
        times = size_of(self.per, design)
        expected, bias, scatter = _of_family(self.bias_key, design, (self.expected, self.bias, 1.0))
        scale = None if self.scale is None else self.scale.sized(times)
        shared = None if self.shared is None else _shared(self.shared, self, design)
        return replace(
            self,
            noise=times * self.noise,
            scatter=scatter,
            bias=times * bias,
            expected=times * expected,
            scale=scale,
            shared=shared,
        )


def _of_family(key: str, design: Design, otherwise: tuple[float, float, float]) -> tuple[float, float, float]:
    mean, sigma, scatter = ERRORS.get(key, {}).get(family_of(design.configuration.airframe), otherwise)
    if key in BY_THE_PROPELLER:
        # The reaction of one that turns right rolls to the left: its arm is negative.
        arm = design.power.torque_arm_m
        mean = math.copysign(mean, -arm * mean) if arm else 0.0
    return mean, sigma, scatter


def _shared(error: Error, measure: Measure, design: Design) -> Error:
    """Return the error that a measure shares, in the unit of whose it is, and how much of it it has on this model."""
    mean, sigma, _ = _of_family(error.key, design, (error.mean, error.sigma, 1.0))
    times = size_of(scales.Per.PATH, design)
    share = moment_upside_down(design) if measure.key == "inverted_stick" else error.share
    return Error(error.key, times * mean, times * sigma, share)


MOST_STRENGTH = 0.5
"""Logarithm of how much stronger or weaker than most a pilot's words can be: what is further out is no matter of words. Common practice,
no source."""


def strength(x: Array) -> float:
    """Return how many times what there is a pilot says [-], for unknowns (COUNT,). Derived here (docs/methods/estimator.md)."""
    return math.exp(MOST_STRENGTH * math.tanh(float(x[P.LN_WORDS]) / MOST_STRENGTH))


def size_of(per: scales.Per, design: Design) -> float:
    """Return how many times the rate of the model of ``core.cards.scales`` means the same on this one [-]. Derived here."""
    return scales.size(per, cruise_mps=design.cruise_speed_mps, span_m=design.aero.planform.span_m)


@dataclass(frozen=True, slots=True)
class Datum:
    """One logged measure ready for the update: ``low`` to ``high`` in the measure's unit (equal: a plain number); ``rigging``: what was
    set anew since it was flown, as errors of its own."""

    measure: Measure
    moment: Moment
    low: float
    high: float
    sigma: float
    card_id: str
    evidence: str
    rigging: tuple[Error, ...] = ()

    @property
    def errors(self) -> tuple[Error, ...]:
        """All errors in it: those of its measure, and those of changes on the bench since. Derived here."""
        return (*self.measure.errors, *self.rigging)


_ROLLS = (
    "roll_left_over",
    "roll_timed",
    "roll_slow",
    "roll_slow_timed",
    "roll_approach",
    "stall_wing",
    "roll_inverted",
    "roll_turns",
)
_ABOUT: dict[str, tuple[Aspect, ...]] = {
    **dict.fromkeys(_ROLLS, (Aspect.ROLL,)),
    "yaw_left_over": (Aspect.YAW,),
    "roll_full": (Aspect.ROLL, Aspect.POWER),
    "yaw_full": (Aspect.YAW, Aspect.POWER),
    **dict.fromkeys(
        ("pitch_full", "clicks_full", "pitch_idle", "go_round", "lift_off", "climb_stick", "up_line"),
        (Aspect.PITCH, Aspect.POWER),
    ),
    "stall_speed": (Aspect.SPEED,),
    "cruise_speed": (Aspect.SPEED,),
}


def about(measure: Measure) -> tuple[Aspect, ...]:
    """Return what of a model a measure is about; its pitch, where nothing else is said."""
    return _ABOUT.get(measure.key.removesuffix("_timed"), _ABOUT.get(measure.key, (Aspect.PITCH,)))


def _m(
    key: str,
    words: str,
    unit: str,
    predict: Predict,
    noise: float,
    bias: float,
    scale: scales.Scale | None = None,
    bias_key: str = "",
    per: scales.Per = scales.Per.ITSELF,
    shared: Error | None = None,
) -> Measure:
    per = per if scale is None else scale.per
    return Measure(key, words, unit, predict, noise, bias, bias_key or key, scale, per, shared=shared)


_ROLL = scales.Per.ROLL

_TRIM_BIAS = 4.5
"""What level flight under power does to the trim that no closed form here knows, as a path rate [deg/s]; at a third more
speed it is the same and more."""

_OUT_OF_TRIM = Error("pitch_left_over", 0.0, _TRIM_BIAS)
"""A moment that nobody computes at cruise stays a third faster, and upside down at the same throttle."""

# Bias sigmas: spread of each closed form against the independent simulation, on fleets that no figure is published of; noise of a
# rating is the scatter of its class edges between people. docs/methods/estimator.md.
MEASURES: dict[tuple[str, str], Measure] = {
    ("F1", "lift_off"): _m(
        "lift_off", "the nose at lift-off", "deg/s", predictions.pitch_rate_lift_off, 4.0, 4.5, scales.PITCH_DRIFT
    ),
    ("F1", "stick_held"): _m(
        "climb_stick", "stick held in the climb", "of full stick", predictions.climb_stick, 0.08, 0.20
    ),
    ("F2", "left_over"): _m(
        "pitch_left_over",
        "pitch left over, hands off",
        "deg/s",
        predictions.trim_left_cruise,
        0.9,
        _TRIM_BIAS,
        scales.PITCH_DRIFT,
    ),
    ("F3", "left_over"): _m(
        "roll_left_over",
        "roll left over, hands off",
        "deg/s",
        predictions.roll_rate_cruise,
        1.2,
        1.4,
        scales.ROLL_DRIFT,
        "roll_cruise",
    ),
    ("F3", "bank_time"): _m(
        "roll_timed",
        "timed roll at cruise",
        "deg/s",
        predictions.roll_rate_cruise,
        0.6,
        1.4,
        None,
        "roll_cruise",
        _ROLL,
    ),
    ("F4", "left_over"): _m(
        "yaw_left_over", "crab, flying away", "deg", predictions.crab_cruise, 0.7, 0.5, scales.YAW_DRIFT
    ),
    ("F34", "turn"): _m(
        "roll_turns",
        "out of a turn, let go",
        "deg/s",
        predictions.roll_rate_cruise,
        2.0,
        1.4,
        None,
        "roll_cruise",
        _ROLL,
    ),
    ("F5", "pitch_full"): _m(
        "pitch_full",
        "pitch with full power",
        "deg/s",
        lambda x, m: predictions.pitch_seen_power(x, m, "full"),
        1.2,
        3.8,
        scales.PITCH_DRIFT,
    ),
    ("F5", "clicks_full"): _m(
        "clicks_full", "clicks to hold full power", "clicks", predictions.clicks_full_power, 1.4, 6.5
    ),
    ("F5", "pitch_idle"): _m(
        "pitch_idle",
        "pitch with power off",
        "deg/s",
        lambda x, m: predictions.pitch_seen_power(x, m, "idle"),
        1.2,
        2.8,
        scales.PITCH_DRIFT,
    ),
    ("F5", "roll_full"): _m(
        "roll_full", "roll with full power", "deg/s", predictions.roll_rate_full_power, 1.5, 2.0, scales.ROLL_DRIFT
    ),
    ("F5", "yaw_full"): _m(
        "yaw_full", "yaw with full power", "deg", predictions.crab_full_power, 0.9, 1.0, scales.YAW_DRIFT
    ),
    ("F7", "stick_held"): _m(
        "slow_stick", "back stick in slow flight", "of full stick", predictions.slow_stick, 0.05, 0.11
    ),
    ("F7", "roll_slow"): _m(
        "roll_slow",
        "roll in slow flight, hands off",
        "deg/s",
        predictions.roll_rate_slow,
        1.4,
        2.0,
        scales.ROLL_DRIFT,
        "roll_slow",
    ),
    ("F7", "bank_time"): _m(
        "roll_slow_timed",
        "timed roll in slow flight",
        "deg/s",
        predictions.roll_rate_slow,
        0.8,
        2.0,
        None,
        "roll_slow",
        _ROLL,
    ),
    ("F8", "wing"): _m(
        "stall_wing", "wing that dropped at the stall", "deg/s", predictions.wing_drop, 6.0, 3.0, per=_ROLL
    ),
    ("F8", "entry_speed"): _m("stall_speed", "speed of the stall", "m/s", predictions.break_speed, 0.6, 0.8),
    ("F12", "dive"): _m("dive", "the dive, let go", "deg/s", predictions.dive_rate, 1.4, 2.8, scales.DIVE),
    ("F13", "left_over"): _m(
        "pitch_fast",
        "pitch left over at the faster speed",
        "deg/s",
        predictions.trim_left_fast,
        1.0,
        4.0,
        scales.PITCH_DRIFT,
        shared=_OUT_OF_TRIM,
    ),
    ("F14", "stick_held"): _m(
        "inverted_stick",
        "stick held inverted",
        "of full stick",
        predictions.inverted_push,
        0.05,
        0.07,
        shared=_OUT_OF_TRIM,
    ),
    ("F14", "roll_inverted"): _m(
        "roll_inverted",
        "roll inverted, hands off",
        "deg/s",
        predictions.roll_rate_inverted,
        1.8,
        3.0,
        scales.ROLL_DRIFT,
    ),
    ("F15", "line"): _m(
        "up_line", "inverted 45 degree line", "deg/s", predictions.up_line_rate, 3.0, 2.5, scales.UP_LINE
    ),
    ("F28", "go_round"): _m(
        "go_round",
        "pitch when power goes on for the go-round",
        "deg/s",
        predictions.pitch_rate_go_round,
        1.5,
        4.8,
        scales.PITCH_DRIFT,
    ),
    ("F28", "roll_slow"): _m(
        "roll_approach",
        "roll on the approach, hands off",
        "deg/s",
        predictions.roll_rate_approach,
        1.7,
        2.0,
        scales.ROLL_DRIFT,
        "roll_slow",
    ),
    ("F29", "stick_back"): _m(
        "touchdown_stick", "back stick at touchdown", "of full stick", predictions.touchdown_stick, 0.15, 0.12
    ),
    ("F32", "speed"): _m("cruise_speed", "airspeed on the course", "m/s", predictions.cruise_speed, 0.5, 0.1),
}


@lru_cache(maxsize=512)
def errors_of(design: Design) -> dict[str, Error]:
    """Return the persistent errors of all measures by their key, each in the unit of whose it is, for a model of this size and family.
    Derived here."""
    sized = [m.sized(design) for m in MEASURES.values()]
    return {e.key: e for m in sized for e in reversed(m.errors)}


LEFT_ALONE = _m("left_alone", "could it be left alone", "% MAC", predictions.margin, 1.5, 0.8)
