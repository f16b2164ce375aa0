"""How far the closed forms miss, by family: their errors at the true values of the unknowns, in the independent simulation.

``python -m bench.errors [MODELS] [seed=S]`` prints the table of ``core/observe/calibrated.py``. Fleets of this seed are flown for nothing
else: no figure is published of them. Benches and hands make no blunders; every model is flown inverted that has a motor. Each is flown
three times: what comes back every time is an error of the closed form, the rest is noise.
"""

from __future__ import annotations

import math
import sys
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import partial

import numpy as np
from scipy.optimize import brentq, minimize
from scipy.special import ndtr

from bench.loop.fleet import Case, draw_case
from bench.loop.judge import margins, moment_at_no_lift
from jinba.core.cards.catalogue import CARDS
from jinba.core.configuration import balance_of
from jinba.core.diagnose.sorties import LoggedSortie, sortie_data
from jinba.core.flight.piloting.aloft import Aloft
from jinba.core.flight.piloting.person import Eyes
from jinba.core.flight.piloting.sortie import fly_sortie
from jinba.core.flight.simulation.craft import Craft, craft_of
from jinba.core.flight.simulation.steady import flying, settled_loads
from jinba.core.flight.workshop import NONE
from jinba.core.observe.families import Family, family_of
from jinba.core.observe.measures import Datum, size_of
from jinba.core.observe.parameters import COUNT, Array, P
from jinba.core.observe.situation import Design, design_of

SEED = 4242
CARDS_FLOWN = ("F1", "F2", "F3", "F4", "F7", "F5", "F13", "F12", "F14", "F15", "F28", "F29")
TRIM = "pitch_left_over"
SMALLEST = {
    TRIM: 2.0,
    "pitch_fast": 1.2,
    "inverted_stick": 0.05,
    "dive": 2.0,
    "up_line": 2.0,
    "dive_timed": 1.0,
    "lift_off": 3.0,
    "climb_stick": 0.05,
    "slow_stick": 0.05,
    "touchdown_stick": 0.05,
    "pitch_full": 1.0,
    "clicks_full": 1.5,
    "pitch_idle": 1.0,
    "go_round": 1.5,
    "roll_cruise": 0.8,
    "roll_slow": 1.0,
    "roll_full": 1.2,
    "roll_inverted": 1.5,
    "yaw_left_over": 0.4,
    "yaw_full": 0.6,
}
"""The errors, each with the least sigma that is believed of it: a simulation is no aeroplane. A judgement."""

SIDEWAYS = frozenset({"roll_cruise", "roll_slow", "roll_inverted", "yaw_left_over"})
"""Errors without a mean: what a propeller does apart (``calibrated.BY_THE_PROPELLER``; all of the fleet turn right)."""

PLANT_IS_NO_AEROPLANE = 1.1
"""By how much every scatter is widened, for the same reason. A judgement."""

_ALPHA = 0.04
UNBOUNDED = 5.0
"""Sigmas from which on a mean is no mean. A judgement."""

FEWEST = 15
"""Models of a family from which on its error is fitted."""

SORTIES = 3
LEAST_NOISE = 0.8
"""Share of the noise of a measure that is believed of it at least: a simulated pilot is no pilot. A judgement."""

FLOOR, UNLIKE = 1e-3, 1e-4
"""No word is less likely than the first, no model than the second: a slip of a pilot, or one model like no other, is no error of a
closed form."""

_NODES, _SHARES = np.polynomial.hermite_e.hermegauss(41)
_SHARES = _SHARES / _SHARES.sum()


@dataclass(frozen=True, slots=True)
class Miss:
    """One reading of a model with a ``number`` against what its closed form says at the truth: the interval it must lie in, its noise,
    all for a model of ``core.cards.scales``."""

    number: int
    family: Family
    key: str
    low: float
    high: float
    noise: float


def misses_of(number: int, *, seed: int) -> list[Miss]:
    """Return how far every reading of one model's sorties is from what its closed form says at the truth."""
    case = draw_case(number, seed=seed, blunders=NONE, inverted_share=1.0)
    x = _truth(case, design_of(case.bench), number)
    sorties = [s for r in range(SORTIES) if (s := _flown(case, x, number * SORTIES + r)) is not None]
    if not sorties:
        return []
    # What is shared of the trim's error is what comes back: what one sortie's trim was off is noise.
    left = float(np.mean([s.left for s in sorties]))
    family = family_of(case.bench.airframe)
    found = (_miss(number, family, d, x, s.trimmed, left) for s in sorties for d in s.data)
    return [m for m in found if m is not None]


@dataclass(frozen=True, slots=True)
class _Sortie:
    """What was read in a sortie, what its trim left over beyond the truth [deg/s], and the unknowns with the moment that explains it."""

    data: tuple[Datum, ...]
    left: float
    trimmed: Array


def _flown(case: Case, x: Array, seed: int) -> _Sortie | None:
    motor = case.bench.airframe.motor is not None
    cards = tuple(k for k in CARDS_FLOWN if motor or not (CARDS[k].powered or CARDS[k].inverted))
    flown = fly_sortie(case.truth, cards, seed=seed, person=case.person, air=case.air)
    data = tuple(d for d in sortie_data(LoggedSortie(case.bench, flown.records)) if d.measure.bias_key in SMALLEST)
    trim = next((d for d in data if d.measure.key == TRIM and d.card_id == "F2"), None)
    if trim is None or math.isinf(trim.low) or math.isinf(trim.high):
        return None
    trimmed = _as_trimmed(x, trim)
    if trimmed is None:
        return None
    return _Sortie(data, 0.5 * (trim.low + trim.high) - trim.measure.said(x, trim.moment), trimmed)


def _miss(number: int, family: Family, d: Datum, x: Array, trimmed: Array, left: float) -> Miss | None:
    """What shares the error of the trim is asked at the truth, less its share; all else with the moment that the trim has found."""
    own, shared = d.measure, d.measure.shared
    if own.key == TRIM and d.card_id != "F2":
        return None
    at_truth = own.key == TRIM or shared is not None
    said = own.said(x if at_truth else trimmed, d.moment) + (0.0 if shared is None else shared.share * left)
    size = size_of(own.per, d.moment.design)
    noise = d.sigma / own.scatter / size
    return Miss(number, family, own.bias_key, (d.low - said) / size, (d.high - said) / size, noise)


def _truth(case: Case, design: Design, number: int) -> Array:
    """Return the true unknowns (COUNT,) as the pilot of this sortie flies them."""
    wrong = case.truth.wrong
    craft = craft_of(case.truth.real, case.truth.spread, wrong)
    person = Eyes(case.person, np.random.default_rng(number))
    aloft = Aloft(craft, case.truth.real, person, case.air, cruise_factor=case.truth.spread.cruise)
    speed = design.cruise_speed_mps
    margin = margins(craft, speed)[0]
    power = _elevator_power(craft, speed, margin) / design.aero.pitch_control
    x = np.zeros(COUNT)
    x[P.STATIC_MARGIN] = margin - design.static_margin
    x[P.PITCH_MOMENT] = moment_at_no_lift(craft, speed) - moment_at_no_lift(craft_of(case.bench), speed)
    x[P.THRUST_DOWN] = wrong.thrust_down_rad
    x[P.LN_CL_MAX] = -2.0 * math.log(aloft.stall_mps / design.stall_speed_mps)
    x[P.LN_ELEVATOR] = math.log(max(power, 0.05))
    x[P.LN_SPEED] = math.log(aloft.cruise_mps / speed)
    x[P.LN_WORDS] = math.log(case.person.gain)
    balance = balance_of(case.truth.real).mass.y_m + wrong.cg_right_m - design.balance.mass.y_m
    aileron, fin = _sideways(craft, speed)
    x[P.LATERAL_CG] = balance / design.aero.planform.span_m
    x[P.TWIST], x[P.THRUST_RIGHT] = wrong.twist_rad, wrong.thrust_right_rad
    if design.aero.cl_aileron and aileron > 0.0:
        # An aileron that rests off where the bench has it rolls like a twist, at any speed: nobody can tell them apart in flight.
        off = case.truth.real.aileron.mechanical_rad - case.bench.aileron.mechanical_rad
        x[P.TWIST] += aileron * abs(design.aero.cl_p) * off / design.aero.cl_twist
        x[P.LN_AILERON] = math.log(aileron * abs(design.aero.cl_p) / design.aero.cl_aileron)
    # What sets the nose off with all at rest, as an angle of the rudder that does the same.
    x[P.YAW_OFFSET] = fin / design.aero.cn_rudder if design.aero.cn_rudder else 0.0
    x[P.LN_TORQUE] = math.log(case.truth.spread.torque)
    return x


def _sideways(craft: Craft, speed_mps: float) -> tuple[float, float]:
    """Return roll per angle of aileron over the damping of roll [1/rad], and the yaw with all at rest [-], power off."""
    pressure = 0.5 * craft.density * speed_mps**2 * craft.area * craft.span

    def at(aileron: float = 0.0, rate: float = 0.0) -> Array:
        state, surfaces = flying(speed_mps=speed_mps, alpha=_ALPHA), np.array([0.0, aileron, 0.0, 0.0])
        state[10] = rate * 2.0 * speed_mps / craft.span
        return settled_loads(craft, state, surfaces, 0.0, np.zeros(len(craft.row)))[1] / pressure

    roll, damping = (at(aileron=0.05) - at(aileron=-0.05))[0] / 0.1, (at(rate=0.02) - at(rate=-0.02))[0] / 0.04
    return float(roll / abs(damping)), float(at()[2])


def _elevator_power(craft: Craft, speed_mps: float, margin: float) -> float:
    """Return the nose-down moment per angle of elevator about the neutral point [1/rad]: about the balance point, less margin times lift."""
    pressure = 0.5 * craft.density * speed_mps**2 * craft.area

    def at(angle: float) -> tuple[float, float]:
        state, surfaces = flying(speed_mps=speed_mps, alpha=_ALPHA), np.array([angle, 0.0, 0.0, 0.0])
        force, moment = settled_loads(craft, state, surfaces, 0.0, np.zeros(len(craft.row)))
        lift = -force[2] * math.cos(_ALPHA) + force[0] * math.sin(_ALPHA)
        return float(lift / pressure), float(moment[1] / (pressure * craft.chord))

    (lift_up, moment_up), (lift_down, moment_down) = at(-0.05), at(0.05)
    return -(moment_down - moment_up) / 0.1 - margin * (lift_down - lift_up) / 0.1


def _as_trimmed(x: Array, trim: Datum) -> Array | None:
    """Return the unknowns with the moment that would explain the trim he found, None where none would."""

    def off(moment: float) -> float:
        moved = x.copy()
        moved[P.PITCH_MOMENT] = moment
        return trim.measure.said(moved, trim.moment) - 0.5 * (trim.low + trim.high)

    try:
        root = brentq(off, -0.8, 0.8)
    except ValueError:
        return None
    found = x.copy()
    found[P.PITCH_MOMENT] = root
    return found


def fitted(misses: list[Miss]) -> tuple[float, float, float]:
    """Return the mean and the scatter of an error that comes back on every sortie, and how many times its stated noise a reading
    scatters beside it [-]: greatest likelihood.

    prod_models int N(e; mean, scatter) prod_readings P(reading | e, noise) de, Gauss and Hermite; random effects, e.g. Searle, Casella and
    McCulloch, Variance Components, 1992 (from memory).
    """
    low, high, noise, read = _by_model(misses)
    exact = low == high
    scale = float(np.median(noise[read]))

    def unlikely(z: Array) -> float:
        errors = scale * (z[0] + math.exp(z[1]) * _NODES)
        sigma = (math.exp(z[2]) * noise)[..., None]
        with np.errstate(invalid="ignore"):
            inside = ndtr((high[..., None] - errors) / sigma) - ndtr((low[..., None] - errors) / sigma)
            density = np.exp(-0.5 * ((np.where(exact, low, 0.0)[..., None] - errors) / sigma) ** 2) / math.exp(z[2])
        each = np.maximum(np.where(exact[..., None], density, inside), FLOOR)
        of_model = np.where(read[..., None], each, 1.0).prod(axis=1) @ _SHARES
        # Without a lower end of the noise, two readings alike would be a certainty.
        return float(-np.log(np.maximum(of_model, UNLIKE)).sum() + 0.5 * (z[2] / 0.7) ** 2)

    starts = [np.array([a, b, 0.0]) for a in (-2.0, 0.0, 2.0) for b in (-0.5, 0.5)]
    best = min((minimize(unlikely, s, method="Nelder-Mead") for s in starts), key=lambda r: r.fun)
    return scale * float(best.x[0]), scale * math.exp(float(best.x[1])), math.exp(float(best.x[2]))


def _by_model(misses: list[Miss]) -> tuple[Array, Array, Array, np.ndarray]:
    """Return ends, noise and which places were read, (models, readings): a model may have been read more often than another."""
    models = [[m for m in misses if m.number == n] for n in sorted({m.number for m in misses})]
    shape = (len(models), max(len(rows) for rows in models))
    low, high, noise, read = np.zeros(shape), np.ones(shape), np.ones(shape), np.zeros(shape, dtype=bool)
    for i, rows in enumerate(models):
        for j, m in enumerate(rows):
            low[i, j], high[i, j], noise[i, j], read[i, j] = m.low, m.high, m.noise, True
    return low, high, noise, read


def main() -> None:
    """Fly the fleet and print the table."""
    given = [a for a in sys.argv[1:] if not a.startswith("seed=")]
    seed = next((int(a[5:]) for a in sys.argv[1:] if a.startswith("seed=")), SEED)
    with ProcessPoolExecutor(2) as pool:
        flown = pool.map(partial(misses_of, seed=seed), range(int(given[0]) if given else 600), chunksize=4)
        misses = [m for model in flown for m in model]
    for key, least in SMALLEST.items():
        digits = 2 if least < 1.0 else 1
        print(f'    "{key}": {{')
        for family in Family:
            of_both = [m for m in misses if m.key == key and m.family is family]
            if len({m.number for m in of_both}) >= FEWEST:
                mean, scatter, times = fitted(of_both)
                if key in SIDEWAYS:
                    # A model and its mirror image miss alike: what a fleet has of it in the mean is scatter.
                    mean, scatter = 0.0, math.hypot(mean, scatter)
                sigma = max(PLANT_IS_NO_AEROPLANE * scatter, least)
                if abs(mean) > UNBOUNDED * sigma:
                    # Always the last word of a scale: how far beyond, no word tells, and the measure says nothing.
                    mean, sigma = 0.0, abs(mean)
                print(
                    f"        Family.{family.name}: ({mean:.{digits}f}, {sigma:.{digits}f}, {max(times, LEAST_NOISE):.1f}),"
                )
        print("    },")


if __name__ == "__main__":
    main()
