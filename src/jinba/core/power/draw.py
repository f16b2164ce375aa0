"""What a model draws from its packs in test flying, learnt from flights, and how long a pack lasts it."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

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

RUNNING_DIFFERS, SHARE_DIFFERS = 0.17, 0.5
"""The same of the power while the motor runs, where its minutes were read; and how far the motor's share of one flight lies off the next
one's, over the share it stands still: one that always runs has none. Common practice, no source."""

_USUAL = 6.0
"""How many flights what is usual of their differences counts for: common practice, no source."""

_SHARE_SIGMA, _ALWAYS_SIGMA = 0.5, 0.001
_CRUISE_SIGMA = 0.25
"""How far power in level cruise lies off the mean while the motor runs, one sigma of its logarithm: common practice, no source."""

VOLTS_SIGMA = 0.10
"""How far what volts tell of a charge taken is off in every flight alike, one sigma of its logarithm: tables of cells differ; common
practice, no source."""

CAPACITY_SHARE, CAPACITY_SIGMA = 0.95, 0.08
"""What packs hold of the capacity on their label, with one sigma of its logarithm: common practice, no source."""

_PACKS = 3
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
    """Belief of one model and its packs, of logarithms: mean power while its motor runs [ln W], how far volts are off [-], the share of a
    flight it runs [-], then what each of ``packs`` holds [ln C].

    ``mean``, ``covariance`` of shape (3 + n) and its square. ``still``: the share of a flight without the motor, None where nobody read
    how long it ran: then it is taken to run all the time; ``differs``: how far flights lie off each other [-]. ``flights`` it rests on, ``own`` of them of this model: without one nothing has told its power; ``disagree``: those, by their place in what
    was given, of which volts and charge put back contradict each other: they are not used.
    """

    packs: tuple[str, ...]
    mean: Floats
    covariance: Floats
    flights: int = 0
    disagree: tuple[int, ...] = ()
    own: int = 0
    still: float | None = None
    differs: float = FLIGHTS_DIFFER

    def _at(self, pack: Pack) -> int:
        if pack.key not in self.packs:
            raise UnknownKeyError(f"Nothing is believed of the pack {pack.name}.", pack=pack.key)
        return _PACKS + self.packs.index(pack.key)

    def power_w(self) -> tuple[float, float]:
        """Return the mean electrical power of a test flight [W] and one sigma of its logarithm [-]. Derived here."""
        both = np.zeros(len(self.mean))
        both[[0, 2]] = 1.0
        return math.exp(float(both @ self.mean)), math.sqrt(float(both @ self.covariance @ both))

    def capacity_c(self, pack: Pack) -> tuple[float, float]:
        """Return what a pack holds [C] and one sigma of its logarithm [-]. Derived here. Raises: UnknownKeyError."""
        at = self._at(pack)
        return math.exp(float(self.mean[at])), math.sqrt(float(self.covariance[at, at]))

    def full_minutes(self, pack: Pack) -> tuple[float, float]:
        """Return how long a full pack lasts till it is flat in one flight to come [min], and one sigma of its logarithm [-].

        ln t = ln C + ln U - ln P - ln s, with what flights differ by. Derived here. Raises: UnknownKeyError.
        """
        differs = self.differs if self.still is None else math.hypot(RUNNING_DIFFERS, SHARE_DIFFERS * self.still)
        return self._lasts(pack, (0, 2), differs)

    def motor_minutes(self, pack: Pack) -> tuple[float, float] | None:
        """Return how long the motor runs from a full pack till it is flat [min], and one sigma of its logarithm [-].

        ln t = ln C + ln U - ln P. None where nobody read how long it ran. Derived here. Raises: UnknownKeyError.
        """
        return None if self.still is None else self._lasts(pack, (0,), RUNNING_DIFFERS)

    def _lasts(self, pack: Pack, draws: tuple[int, ...], differs: float) -> tuple[float, float]:
        row = np.zeros(len(self.mean))
        row[self._at(pack)] = 1.0
        row[list(draws)] = -1.0
        ln_s = float(row @ self.mean) + math.log(pack.nominal_v)
        return math.exp(ln_s) / 60.0, math.sqrt(float(row @ self.covariance @ row) + differs**2)


def prior_draw(packs: Sequence[Pack], full_w: float, *, share: float | None = None) -> Draw:
    """Return what is believed before any flight of a model with a full power [W]: the propeller's power, and the labels.

    ``share``: of a flight that its motor runs, as it was read [-]; None: nobody read it, it is taken to run all the time. Derived here; see
    :func:`full_power_w`, :data:`CAPACITY_SHARE`.
    """
    check_range("full power", full_w, unit="W", low=0.1, high=1e7)
    ln_share, share_sigma = (0.0, _ALWAYS_SIGMA) if share is None else (math.log(share), _SHARE_SIGMA)
    # What the propeller says is said of the whole flight, whatever part of it the motor runs.
    ln_power = math.log(_OF_FULL * full_w) - ln_share
    mean = [ln_power, 0.0, ln_share, *(math.log(CAPACITY_SHARE * p.capacity_c) for p in packs)]
    sigma = [_POWER_SIGMA, VOLTS_SIGMA, share_sigma, *(CAPACITY_SIGMA for _ in packs)]
    still = None if share is None else 1.0 - share
    return Draw(tuple(p.key for p in packs), np.array(mean), np.diag(np.square(sigma)), still=still)


def share_of(flights: Iterable[Flight], model: str) -> float | None:
    """Return the mean share of a flight that a model's motor ran, of its flights in which that was read [-], None without one. Derived here."""
    shares = [s for f in flights if f.model == model and (s := f.motor_share) is not None]
    return sum(shares) / len(shares) if shares else None


@dataclass(frozen=True, slots=True)
class _Rows:
    """Linear readings of one flight: ``y`` = ``h`` x + noise of covariance ``r``, of which ``own`` is each reading's own variance."""

    h: Floats
    y: Floats
    r: Floats
    own: Sequence[float]


def learnt(prior: Draw, packs: Sequence[Pack], flights: Iterable[Flight], *, model: str) -> Draw:
    """Return the belief after flights: what they took, by the charge put back and by the volts before and after.

    Flights of this model (by its key) tell its power and what its packs hold; flights of other models with these packs only the
    latter, where both charge and volts were read. A linear least-squares estimate of the logarithms with the scatter of each
    flight common to its readings (docs/methods/energy.md). Derived here. Raises: UnknownKeyError for a flight with another pack.
    """
    told = list(flights)
    first, seen = _fitted(prior, packs, told, model=model)
    differs = _differs(first, seen)
    return first if differs <= FLIGHTS_DIFFER else _fitted(replace(prior, differs=differs), packs, told, model=model)[0]


def _differs(fitted: Draw, seen: Sequence[_Rows]) -> float:
    """Return how far a model's flights lie off each other, one sigma of the logarithm of their power [-]: what is usual, and what was seen.

    sigma^2 = (nu sigma_0^2 + sum of squares beyond the readings' own) / (nu + n - 1). References: the scaled inverse chi-squared mean
    (Gelman et al., Bayesian Data Analysis, 2013, sec. 2.6; from memory).
    """
    if len(seen) < 2:
        return FLIGHTS_DIFFER
    off = [float(rows.y[0] - rows.h[0] @ fitted.mean) for rows in seen]
    readings = [float(rows.own[0]) for rows in seen]
    squares = sum(max(o**2 - v, 0.0) for o, v in zip(off, readings, strict=True))
    return math.sqrt((_USUAL * FLIGHTS_DIFFER**2 + squares) / (_USUAL + len(seen) - 1))


def _fitted(prior: Draw, packs: Sequence[Pack], flights: Sequence[Flight], *, model: str) -> tuple[Draw, list[_Rows]]:
    """Return the belief after flights, and the rows of those of this model of which the motor's minutes were not read."""
    by_key = {p.key: p for p in packs}
    information = np.linalg.inv(prior.covariance)
    weighted = information @ prior.mean
    used, own, disagree = 0, 0, []
    whole: list[_Rows] = []
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
        if flight.model == model and (prior.still is None or flight.motor_share is None):
            whole.append(rows)
        gain = rows.h.T @ np.linalg.inv(rows.r)
        information = information + gain @ rows.h
        weighted = weighted + gain @ rows.y
    covariance = np.linalg.inv(information)
    mean = covariance @ weighted
    return replace(prior, mean=mean, covariance=covariance, flights=used, disagree=tuple(disagree), own=own), whole


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
    share = None if prior.still is None or not own else flight.motor_share
    minutes = flight.minutes * (1.0 if share is None else share)
    seconds = 60.0 * minutes
    clock = math.hypot(_MINUTES_SIGMA, _HALF_MINUTE / minutes)
    drop = _drop(pack, flight)
    by_volts = drop if drop is not None and drop[0] > _LEAST_DROP else None
    # Where its minutes were read it is the power while the motor runs that is seen, else the mean of the whole flight.
    power, by_drop = np.zeros(size), np.zeros(size)
    power[0], power[2] = 1.0, 1.0 if share is None else 0.0
    by_drop[[1, at]] = 1.0, -1.0
    by_drop += power
    h, y, own_variance = [], [], []
    if flight.put_back_c:
        h.append(power)
        y.append(math.log(flight.put_back_c * pack.nominal_v / seconds))
        own_variance.append(_PUT_BACK_SIGMA**2)
    if by_volts is not None:
        h.append(by_drop)
        y.append(math.log(by_volts[0] * pack.nominal_v / seconds))
        own_variance.append((by_volts[1] / by_volts[0]) ** 2)
    if not h and own and flight.cruise_a:
        h.append(_unit(size, 0))
        y.append(math.log(flight.cruise_a * pack.nominal_v))
        own_variance.append(_CRUISE_SIGMA**2)
    if not h:
        return None
    r = np.diag(own_variance) + ((prior.differs if share is None else RUNNING_DIFFERS) ** 2 + clock**2)
    if own:
        return _with_share(prior, share, size, _Rows(np.array(h), np.array(y), r, own_variance))
    if len(h) < 2:
        return None
    # Another model's power cancels: charge over share is what the pack holds.
    return _Rows(np.array([h[0] - h[1]]), np.array([y[0] - y[1]]), np.array([[sum(own_variance)]]), own_variance)


def _unit(size: int, at: int) -> Floats:
    row = np.zeros(size)
    row[at] = 1.0
    return row


def _with_share(prior: Draw, share: float | None, size: int, rows: _Rows) -> _Rows:
    """Return the rows of a flight with the one that tells which part of it the motor ran, where that was read."""
    if share is None or prior.still is None:
        return rows
    wide = np.zeros((len(rows.y) + 1, len(rows.y) + 1))
    wide[:-1, :-1] = rows.r
    wide[-1, -1] = (SHARE_DIFFERS * prior.still) ** 2 + _MINUTES_SIGMA**2
    return _Rows(np.vstack([rows.h, _unit(size, 2)]), np.append(rows.y, math.log(share)), wide, rows.own)


RESERVE = 0.25
"""Share of a pack's capacity that is still in it at landing: common practice, no source."""

FLOOR = 0.10
"""Share that is still in it when a flight draws more than it should, as one of twenty does: common practice, no source."""


@dataclass(frozen=True, slots=True)
class Minutes:
    """How long a pack lasts one flight to come [min]: to the ``reserve`` as it draws, with one ``sigma`` [min]; and what is ``safe`` of it.
    ``motor``: what is safe with the motor running, None where nobody read how long it ran."""

    reserve: float
    sigma: float
    safe: float
    motor: float | None = None


def minutes_of_pack(draw: Draw, pack: Pack, charge: Charge) -> Minutes:
    """Return how long a pack lasts from a charge.

    To the reserve: (s - 0.25) t; safe is no more than that, and no more than what leaves a tenth in it in nineteen flights of
    twenty: (s - 1.645 sigma_s - 0.1) t exp(-1.645 sigma). Derived here (docs/methods/energy.md).
    """
    full, sigma = draw.full_minutes(pack)
    running = draw.motor_minutes(pack)
    spread = full * math.hypot(charge.sigma, max(charge.share - RESERVE, 0.0) * sigma)
    motor = None if running is None else _safe(*running, charge)
    return Minutes(max(charge.share - RESERVE, 0.0) * full, spread, _safe(full, sigma, charge), motor)


def _safe(full: float, sigma: float, charge: Charge) -> float:
    low = max(charge.share - ONE_SIDED_95_PERCENT * charge.sigma - FLOOR, 0.0) * math.exp(-ONE_SIDED_95_PERCENT * sigma)
    return min(max(charge.share - RESERVE, 0.0), low) * full
