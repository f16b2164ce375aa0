"""What a model draws from its packs in test flying, learnt from flights, and how long a pack lasts it."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jinba.core.airframe.parts import Airframe
from jinba.core.constants import ONE_SIDED_95_PERCENT
from jinba.core.errors import UnknownKeyError, check_range
from jinba.core.power.cells import Charge
from jinba.core.power.packs import Flight, Pack
from jinba.core.power.propulsion import motors_of

Floats = NDArray[np.float64]

FLIGHTS_DIFFER = 0.18
"""How far the mean power of one test flight lies off the next one's, one sigma of its logarithm: common practice, no source."""

VOLTS_SIGMA = 0.10
"""How far what volts tell of a charge taken is off in every flight alike, one sigma of its logarithm: tables of cells differ; common
practice, no source."""

CAPACITY_SHARE, CAPACITY_SIGMA = 0.95, 0.08
"""What packs hold of the capacity on their label, with one sigma of its logarithm: common practice, no source."""

_PACKS = 2
_PUT_BACK_SIGMA, _MINUTES_SIGMA, _HALF_MINUTE = 0.04, 0.03, 0.25
_LEAST_DROP = 0.04
_DISAGREE_SIGMAS = 3.0

_TO_AIR = 0.5
"""Power of the slipstream over electrical power at full throttle, standing: propeller, motor and controller; from memory, no source."""
_OF_FULL = 0.35
"""Mean power of a test flight over full power, from memory, no source; with ``_TO_AIR`` ln-sigma ``_POWER_SIGMA``."""
_POWER_SIGMA = 0.45


def full_power_w(airframe: Airframe, density_kg_m3: float) -> float:
    """Return the electrical power of all motors at full throttle, standing [W]; zero for a glider. ``density_kg_m3`` of the air.

    P = sum T^1.5 / sqrt(2 rho A) / eta: the power the slipstream of a disk needs, over an efficiency of one half; ln-sigma 0.35.
    References: momentum theory of the propeller (Glauert, Airplane Propellers, in Durand, Aerodynamic Theory IV, 1935; from memory).
    """
    check_range("density", density_kg_m3, unit="kg/m3", low=0.3, high=1.6)
    total = 0.0
    for motor in motors_of(airframe):
        disk_m2 = 0.25 * math.pi * motor.propeller_diameter_m**2
        total += motor.count * motor.static_thrust_n**1.5 / math.sqrt(2.0 * density_kg_m3 * disk_m2)
    return total / _TO_AIR


@dataclass(frozen=True, slots=True)
class Draw:
    """Belief of one model and its packs, of logarithms: mean power of a test flight [ln W], how far volts are off [-], then what each of
    ``packs`` holds [ln C].

    ``mean``, ``covariance`` of shape (2 + n) and its square. ``flights`` it rests on, ``own`` of them of this model: without one nothing has told its power; ``disagree``: those, by their place in what
    was given, of which volts and charge put back contradict each other: they are not used.
    """

    packs: tuple[str, ...]
    mean: Floats
    covariance: Floats
    flights: int = 0
    disagree: tuple[int, ...] = ()
    own: int = 0

    def _at(self, pack: Pack) -> int:
        if pack.key not in self.packs:
            raise UnknownKeyError(f"Nothing is believed of the pack {pack.name}.", pack=pack.key)
        return _PACKS + self.packs.index(pack.key)

    def power_w(self) -> tuple[float, float]:
        """Return the mean electrical power of a test flight [W] and one sigma of its logarithm [-]. Derived here."""
        return math.exp(float(self.mean[0])), math.sqrt(float(self.covariance[0, 0]))

    def capacity_c(self, pack: Pack) -> tuple[float, float]:
        """Return what a pack holds [C] and one sigma of its logarithm [-]. Derived here. Raises: UnknownKeyError."""
        at = self._at(pack)
        return math.exp(float(self.mean[at])), math.sqrt(float(self.covariance[at, at]))

    def full_minutes(self, pack: Pack) -> tuple[float, float]:
        """Return how long a full pack lasts till it is flat in one flight to come [min], and one sigma of its logarithm [-].

        ln t = ln C + ln U - ln P, with what flights differ by. Derived here. Raises: UnknownKeyError.
        """
        at = self._at(pack)
        ln_s = float(self.mean[at] - self.mean[0]) + math.log(pack.nominal_v)
        c = self.covariance
        variance = float(c[0, 0] + c[at, at] - 2.0 * c[0, at]) + FLIGHTS_DIFFER**2
        return math.exp(ln_s) / 60.0, math.sqrt(variance)


def prior_draw(packs: Sequence[Pack], full_w: float) -> Draw:
    """Return what is believed before any flight of a model with a full power [W]: the propeller's power, and the labels.

    Derived here; see :func:`full_power_w`, :data:`CAPACITY_SHARE`.
    """
    check_range("full power", full_w, unit="W", low=0.1, high=1e7)
    mean = [math.log(_OF_FULL * full_w), 0.0, *(math.log(CAPACITY_SHARE * p.capacity_c) for p in packs)]
    sigma = [_POWER_SIGMA, VOLTS_SIGMA, *(CAPACITY_SIGMA for _ in packs)]
    return Draw(tuple(p.key for p in packs), np.array(mean), np.diag(np.square(sigma)))


@dataclass(frozen=True, slots=True)
class _Rows:
    """Linear readings of one flight: ``y`` = ``h`` x + noise of covariance ``r``."""

    h: Floats
    y: Floats
    r: Floats


def learnt(prior: Draw, packs: Sequence[Pack], flights: Iterable[Flight], *, model: str) -> Draw:
    """Return the belief after flights: what they took, by the charge put back and by the volts before and after.

    Flights of this model (by its key) tell its power and what its packs hold; flights of other models with these packs only the
    latter, where both charge and volts were read. A linear least-squares estimate of the logarithms with the scatter of each
    flight common to its readings (docs/methods/energy.md). Derived here. Raises: UnknownKeyError for a flight with another pack.
    """
    by_key = {p.key: p for p in packs}
    information = np.linalg.inv(prior.covariance)
    weighted = information @ prior.mean
    used, own, disagree = 0, 0, []
    for place, flight in enumerate(flights):
        if flight.pack not in by_key:
            raise UnknownKeyError("A flight with a pack that is not there.", pack=flight.pack)
        pack = by_key[flight.pack]
        if contradicts(pack, flight):
            disagree.append(place)
            continue
        rows = _rows(prior, pack, flight, own=flight.model == model)
        if rows is None:
            continue
        used += 1
        own += flight.model == model
        gain = rows.h.T @ np.linalg.inv(rows.r)
        information = information + gain @ rows.h
        weighted = weighted + gain @ rows.y
    covariance = np.linalg.inv(information)
    return Draw(prior.packs, covariance @ weighted, covariance, used, tuple(disagree), own)


def contradicts(pack: Pack, flight: Flight) -> bool:
    """Return whether volts and charge put back of one flight speak of different flights: beyond three sigmas. Derived here."""
    drop = _drop(pack, flight)
    if drop is None or flight.put_back_c is None:
        return False
    share, sigma = drop
    put_back = flight.put_back_c / (CAPACITY_SHARE * pack.capacity_c)
    total = math.hypot(sigma, put_back * math.hypot(_PUT_BACK_SIGMA, CAPACITY_SIGMA))
    return abs(share - put_back) > _DISAGREE_SIGMAS * total


def _drop(pack: Pack, flight: Flight) -> tuple[float, float] | None:
    """Return the share of charge a flight took by volts, and its sigma [-]; None where volts do not tell."""
    if flight.after_v is None:
        return None
    before, after = pack.charge(flight.before_v), pack.charge(flight.after_v)
    if before is None or after is None:
        return None
    return before.share - after.share, math.hypot(before.sigma, after.sigma)


def _rows(prior: Draw, pack: Pack, flight: Flight, *, own: bool) -> _Rows | None:
    at, size = _PACKS + prior.packs.index(pack.key), len(prior.mean)
    seconds = 60.0 * flight.minutes
    clock = math.hypot(_MINUTES_SIGMA, _HALF_MINUTE / flight.minutes)
    drop = _drop(pack, flight)
    by_volts = drop if drop is not None and drop[0] > _LEAST_DROP else None
    power, by_drop = np.zeros(size), np.zeros(size)
    power[0] = 1.0
    by_drop[[0, 1, at]] = 1.0, 1.0, -1.0
    h, y, own_variance = [], [], []
    if flight.put_back_c:
        h.append(power)
        y.append(math.log(flight.put_back_c * pack.nominal_v / seconds))
        own_variance.append(_PUT_BACK_SIGMA**2)
    if by_volts is not None:
        h.append(by_drop)
        y.append(math.log(by_volts[0] * pack.nominal_v / seconds))
        own_variance.append((by_volts[1] / by_volts[0]) ** 2)
    if not h:
        return None
    r = np.diag(own_variance) + (FLIGHTS_DIFFER**2 + clock**2)
    if own:
        return _Rows(np.array(h), np.array(y), r)
    if len(h) < 2:
        return None
    # Another model's power cancels: charge over share is what the pack holds.
    return _Rows(np.array([h[0] - h[1]]), np.array([y[0] - y[1]]), np.array([[sum(own_variance)]]))


RESERVE = 0.25
"""Share of a pack's capacity that is still in it at landing: common practice, no source."""

FLOOR = 0.10
"""Share that is still in it when a flight draws more than it should, as one of twenty does: common practice, no source."""


@dataclass(frozen=True, slots=True)
class Minutes:
    """How long a pack lasts one flight to come [min]: to the ``reserve`` as it draws, with one ``sigma`` [min]; and what is ``safe`` of it."""

    reserve: float
    sigma: float
    safe: float


def minutes_of_pack(draw: Draw, pack: Pack, charge: Charge) -> Minutes:
    """Return how long a pack lasts from a charge.

    To the reserve: (s - 0.25) t; safe is no more than that, and no more than what leaves a tenth in it in nineteen flights of
    twenty: (s - 1.645 sigma_s - 0.1) t exp(-1.645 sigma). Derived here (docs/methods/energy.md).
    """
    full, sigma = draw.full_minutes(pack)
    reserve = max(charge.share - RESERVE, 0.0) * full
    low = (
        max(charge.share - ONE_SIDED_95_PERCENT * charge.sigma - FLOOR, 0.0)
        * full
        * math.exp(-ONE_SIDED_95_PERCENT * sigma)
    )
    spread = full * math.hypot(charge.sigma, max(charge.share - RESERVE, 0.0) * sigma)
    return Minutes(reserve, spread, min(reserve, low))
