"""How many minutes a sortie may take: from the pack that flies and what flights took from it, else a guess with a reserve kept back."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from jinba.core.configuration import Configuration, balance_of
from jinba.core.observe.situation import design_of
from jinba.core.plan.minutes import guessed_minutes
from jinba.core.power.cells import CELLS, Charge
from jinba.core.power.draw import RESERVE, Draw, Minutes, full_power_w, learnt, minutes_of_pack, prior_draw, share_of
from jinba.core.power.packs import COULOMBS_PER_MAH, Flight, Pack
from jinba.core.said import Said, finding, worst_first
from jinba.core.spoken import a_length, a_mass

_TIMER_STEP = 0.5
_FULL_SHARE = 0.9
_WORN = 0.8
_HUNGRIER = 2.0
_FULL_POWER_SIGMA = 0.35
_NEAR_END_SHARE = 0.25
_LITTLE = 1e-12
_HUNGRY_WORDS = "Pack: the last flight took far more than those before. Look for what binds, drags or slips before it flies again; until then the minutes count as it drew last."
_CUT_OFF_OF_NOMINAL = 0.87
"""Share of a cell's nominal volts under load at which speed controllers begin to cut: 3.2 V of 3.7; common practice, no source."""
_SHIFT_TOLD, _SHIFT_STOPS = 0.004, 0.02
"""Shifts of the balance point by a pack of another mass that are told, and that stop when they are aft [of MAC]; common practice, no source."""


@dataclass(frozen=True, slots=True)
class Fitted:
    """The pack that is to fly, as it was named last: volts of a cell at rest [V], None where nobody read them."""

    pack: Pack
    cell_v: float | None
    at: datetime


@dataclass(frozen=True, slots=True)
class Powered:
    """What is known of a model's packs: the one ``fitted``, all ``packs`` that were flown or are fitted, ``flights`` in order, of this
    model (by its key ``model``) and of others with the same packs; ``full_throttle_a``: as measured on the ground [A], None: not."""

    model: str = ""
    fitted: Fitted | None = None
    packs: tuple[Pack, ...] = ()
    flights: tuple[Flight, ...] = ()
    full_throttle_a: float | None = None


@dataclass(frozen=True, slots=True)
class Endurance:
    """Minutes that may be planned, and what they rest on.

    ``minutes``: as it draws down to the reserve, with one ``sigma`` [min], None for a guess; ``timer_minutes`` to set [min];
    ``motor_timer_minutes``: of a timer that runs with the motor [min], None where nobody read how long it ran, or it always runs; ``charge`` of
    the pack with one sigma [-], None: not known; ``read``: by its volts; ``flights`` of this model its draw was learnt from; ``kept_back``: share that
    is in it at landing [-]; ``rests_on`` in sentences; ``findings``: what warns or stops.
    """

    safe_minutes: float
    timer_minutes: float
    rests_on: tuple[str, ...]
    findings: tuple[Said, ...] = ()
    pack: str = ""
    minutes: float | None = None
    sigma: float | None = None
    charge: float | None = None
    charge_sigma: float | None = None
    read: bool = False
    flights: int = 0
    kept_back: float = RESERVE
    motor_timer_minutes: float | None = None


def endurance_of(configuration: Configuration, powered: Powered) -> Endurance:
    """Return the minutes that may be planned of a model's next sortie.

    Without a motor, or a pack that is fitted, a guess; with one, what it gives by :func:`jinba.core.power.draw.minutes_of_pack`, and until
    a flight has told what the model draws no more than the guess. Derived here (docs/methods/energy.md).
    """
    guess = guessed_minutes(configuration)
    fitted = powered.fitted
    if configuration.airframe.motor is None:
        return Endurance(guess, _timer(guess), (_guess_words(configuration),))
    if fitted is None:
        return Endurance(
            guess, _timer(guess), (_guess_words(configuration), "Name the pack that flies: then they are computed.")
        )
    draw = draw_of(configuration, powered)
    charge = fitted.pack.charge(fitted.cell_v)
    amps = _full_throttle(configuration, powered)
    found = [
        *_charge_findings(fitted, charge),
        *_current_findings(fitted.pack, *amps),
        *_history_findings(powered, draw),
        *_mass_findings(configuration, fitted.pack),
    ]
    if charge is None:
        return Endurance(0.0, 0.0, (_volts_words(fitted),), worst_first(found), fitted.pack.name)
    lasts = minutes_of_pack(draw, fitted.pack, charge)
    unknown = draw.own == 0
    safe = min(lasts.safe, guess) if unknown else lasts.safe
    # Its minutes alone tell nothing of what it takes.
    motor = None if unknown else lasts.motor
    hungry = _hungry(configuration, powered)
    if hungry is not None:
        # What was alarming is not averaged away: until a flight says otherwise it draws as it did last.
        last = minutes_of_pack(hungry, fitted.pack, charge)
        safe = min(safe, last.safe)
        motor = None if motor is None or last.motor is None else min(motor, last.motor)
        found.append(finding("pack_hungry", _HUNGRY_WORDS))
    return Endurance(
        safe_minutes=safe,
        timer_minutes=_timer(safe),
        rests_on=_rests_on(configuration, fitted, charge, draw, amps, capped=unknown and guess < lasts.safe),
        findings=worst_first([*found, *_short(lasts, safe), *_timer_findings(configuration, safe)]),
        pack=fitted.pack.name,
        minutes=lasts.reserve,
        sigma=lasts.sigma,
        charge=charge.share,
        charge_sigma=charge.sigma,
        read=charge.read,
        flights=draw.own,
        motor_timer_minutes=None if motor is None or _timer(motor) >= _timer(safe) else _timer(motor),
    )


def draw_of(configuration: Configuration, powered: Powered) -> Draw:
    """Return what is believed of a model with a motor and its packs after its flights. Derived here."""
    full_w = full_power_w(configuration.airframe, configuration.density_kg_m3)
    share = share_of(powered.flights, powered.model)
    prior = prior_draw(powered.packs, full_w, share=share)
    return learnt(prior, powered.packs, powered.flights, model=powered.model)


def _without_last_own(powered: Powered) -> tuple[Flight, ...]:
    own = [i for i, f in enumerate(powered.flights) if f.model == powered.model]
    return tuple(f for i, f in enumerate(powered.flights) if not own or i != own[-1])


def _timer(minutes: float) -> float:
    return math.floor(minutes / _TIMER_STEP + 1e-9) * _TIMER_STEP


def _guess_words(configuration: Configuration) -> str:
    return f"A guess: {configuration.pack_minutes:g} minutes till the pack is empty, a quarter of it kept back."


def _volts_words(fitted: Fitted) -> str:
    if fitted.cell_v is None:
        return "Nobody has read its volts: taken for charged."
    words = CELLS[fitted.pack.chemistry].words
    return f"{fitted.cell_v:.2f} V a cell: volts of {words} tell only whether a pack is full, and this one is not."


def _mah(charge_c: float) -> str:
    return f"{charge_c / COULOMBS_PER_MAH:.0f} mAh"


def _rests_on(
    configuration: Configuration,
    fitted: Fitted,
    charge: Charge,
    draw: Draw,
    amps: tuple[float, str],
    *,
    capped: bool,
) -> tuple[str, ...]:
    pack, (power, sigma), (held, held_sigma) = fitted.pack, draw.power_w(), draw.capacity_c(fitted.pack)
    words = [
        f"Charge {100 * charge.share:.0f} ± {100 * charge.sigma:.0f} %, {fitted.cell_v:.2f} V a cell."
        if fitted.cell_v is not None
        else _volts_words(fitted),
        f"Draws {power:.0f} ± {power * sigma:.0f} W in test flying, from {_flights(draw.own)} of this model."
        if draw.own
        else f"Draws {power:.0f} ± {power * sigma:.0f} W by its propeller and thrust: no flight of this model has told yet.",
        f"Holds {_mah(held)} ± {held * held_sigma / COULOMBS_PER_MAH:.0f} of the {_mah(pack.capacity_c)} on its label.",
    ]
    if capped:
        words.append(
            f"No more than the guess of {configuration.pack_minutes:g} minutes less a quarter, until a flight has told."
        )
    words.append(
        "The motor is taken to run all the time: where it stands still for a part of a flight, log its minutes after landing."
        if draw.still is None
        else f"The motor runs {100 * (1 - draw.still):.0f} % of a flight, as it was read."
    )
    current, by = amps
    rated = "its rating is not known" if pack.most_a is None else f"it may give {pack.most_a:.0f} A"
    words.append(f"Full throttle takes {current:.0f} A {by or _BY_PROPELLER}; {rated}.")
    return tuple(words)


def _flights(count: int) -> str:
    return "one flight" if count == 1 else f"{count} flights"


_BY_PROPELLER = "by propeller and thrust"


def _full_throttle(configuration: Configuration, powered: Powered) -> tuple[float, str]:
    """Return the current at full throttle [A] and how it was measured, empty where it was not: the most of what was seen counts.

    In the air a propeller takes less than standing: a current seen there is the least that full throttle takes.
    """
    aloft = [f.full_a for f in powered.flights if f.model == powered.model and f.full_a]
    if powered.full_throttle_a is not None and powered.full_throttle_a >= max(aloft[-1:], default=0.0):
        return powered.full_throttle_a, "as measured"
    assert powered.fitted is not None
    power = full_power_w(configuration.airframe, configuration.density_kg_m3)
    said = power / powered.fitted.pack.nominal_v
    return (aloft[-1], "as measured in the air") if aloft else (said, "")


def _charge_findings(fitted: Fitted, charge: Charge | None) -> list[Said]:
    pack, cell = fitted.pack, CELLS[fitted.pack.chemistry]
    if fitted.cell_v is None:
        return [
            finding("pack_unread", f"Pack: nobody has read the volts of {pack.name}. Read them before it is fitted.")
        ]
    if fitted.cell_v < cell.empty_v:
        words = f"Pack: {fitted.cell_v:.2f} V a cell is below empty. {pack.name} is not charged and not flown again."
        return [finding("pack_deep", words, stops=True)]
    if charge is None:
        return [
            finding(
                "pack_not_full",
                f"Pack: {pack.name} is not full, and how full its volts do not tell. Charge it.",
                stops=True,
            )
        ]
    if charge.share < _FULL_SHARE:
        return [
            finding(
                "pack_not_full", f"Pack: {pack.name} is {100 * charge.share:.0f} % full. The minutes count from there."
            )
        ]
    return []


def _short(lasts: Minutes, safe: float) -> list[Said]:
    if safe >= 1.0:
        return []
    words = f"Pack: it gives {lasts.reserve:.1f} ± {lasts.sigma:.1f} minutes to its reserve, nothing of it safely. Charge it, or another pack."
    return [finding("pack_empty", words, stops=True)]


def _timer_findings(configuration: Configuration, safe: float) -> list[Said]:
    timers = () if configuration.controls is None else configuration.controls.radio.timers
    return [
        finding("timer_long", f"Timer {t.name} runs {t.minutes:g} minutes: set it to {_timer(safe):g}.")
        for t in timers
        if t.minutes > safe + 1e-9 and _timer(safe) > 0.0
    ]


def _current_findings(pack: Pack, current_a: float, measured: str) -> list[Said]:
    found = []
    sure = current_a if measured else current_a * math.exp(-_FULL_POWER_SIGMA)
    if pack.most_a is not None and current_a > pack.most_a:
        words = (
            f"Pack: full throttle takes {current_a:.0f} A {measured or _BY_PROPELLER}, {pack.name} may give "
            f"{pack.most_a:.0f} A. {'A stronger pack, or a smaller propeller' if measured else 'Measure the current, or a stronger pack'}."
        )
        found.append(finding("pack_rating", words, stops=sure > pack.most_a))
    cell = CELLS[pack.chemistry]
    near_end = pack.cells * (cell.nominal_v if cell.rest is None else _volts_at(cell.rest, _NEAR_END_SHARE))
    loaded = pack.loaded_v(near_end, current_a)
    if loaded is not None and loaded < pack.cells * _CUT_OFF_OF_NOMINAL * cell.nominal_v:
        words = f"Pack: at full throttle near the end a cell of {pack.name} falls to {loaded / pack.cells:.1f} V: the controller may cut. Land early, no full throttle late."
        found.append(finding("pack_sags", words))
    return found


def _volts_at(rest: Sequence[tuple[float, float]], share: float) -> float:
    return min(v for v, s in rest if s >= share)


def _history_findings(powered: Powered, draw: Draw) -> list[Said]:
    assert powered.fitted is not None
    pack, found = powered.fitted.pack, []
    if draw.disagree:
        several = len(draw.disagree) > 1
        found.append(
            finding(
                "pack_disagrees",
                f"Packs: of {_flights(len(draw.disagree))} volts and charge put back contradict each other. {'They are' if several else 'It is'} not used: look them up.",
            )
        )
    longer = [f for f in powered.flights if f.model == powered.model and f.motor_minutes and f.motor_share is None]
    if longer:
        said = longer[-1]
        words = f"Pack: a motor that ran {said.motor_minutes:g} of {said.minutes:g} minutes flown is a slip. They are not used: look them up."
        found.append(finding("motor_minutes_slip", words))
    held, sigma = draw.capacity_c(pack)
    if held * math.exp(sigma) < _WORN * pack.capacity_c:
        words = f"Pack: {pack.name} holds {_mah(held)} of its {_mah(pack.capacity_c)}: worn, not for a first flight."
        found.append(finding("pack_worn", words))
    return found


def _hungry(configuration: Configuration, powered: Powered) -> Draw | None:
    """Return the draw by the last flight alone where it took far more than those before, else None."""
    own = [f for f in powered.flights if f.model == powered.model]
    before = draw_of(configuration, replace(powered, flights=_without_last_own(powered)))
    if len(own) < 2 or before.own == 0:
        return None
    after = learnt(before, powered.packs, own[-1:], model=powered.model)
    shift = float(after.mean[0] - before.mean[0])
    spread = math.sqrt(max(float(before.covariance[0, 0] - after.covariance[0, 0]), _LITTLE))
    return draw_of(configuration, replace(powered, flights=tuple(own[-1:]))) if shift > _HUNGRIER * spread else None


def _mass_findings(configuration: Configuration, pack: Pack) -> list[Said]:
    item = configuration.battery
    if item is None or pack.mass_kg is None:
        return []
    more = pack.mass_kg - item.mass_kg
    balance = balance_of(configuration)
    shift = more * (item.x_m - balance.x_m) / (balance.mass.mass_kg + more)
    of_mac = shift / design_of(configuration).aero.planform.mac_m
    if abs(of_mac) < _SHIFT_TOLD:
        return []
    words = (
        f"Pack: {pack.name} weighs {a_mass(abs(more))} {'more' if more > 0 else 'less'} than the pack on the bench: the balance point comes "
        f"{a_length(abs(shift))} further {'aft' if shift > 0 else 'forward'}. Put it on the bench and balance the model with it."
    )
    return [finding("pack_mass", words, stops=of_mac > _SHIFT_STOPS)]
