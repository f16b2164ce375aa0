"""Every measure of every flight card as a prediction with noise, and as a datum for the update."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from jinba.core.cards import catalogue, scales
from jinba.core.cards.model import CardRecord, Confidence, Reading
from jinba.core.frames import Response, surface_sign
from jinba.core.observe.parameters import Array, P
from jinba.core.observe.path import release
from jinba.core.observe.situation import (
    APPROACH_OVER_STALL,
    FAST_OVER_CRUISE,
    LIFT_OFF_OVER_STALL,
    SLOW_OVER_STALL,
    Design,
    Situation,
    Trims,
    load_factor,
    roll_lag_s,
    roll_rate_rad_s,
    sideslip_rad,
    situation,
    trim_elevator_rad,
)
from jinba.core.power.propulsion import full_thrust_n

_DEG = math.degrees(1.0)
_CONFIDENCE = {Confidence.SURE: 0.8, Confidence.FAIR: 1.0, Confidence.DOUBTFUL: 1.8}
_FROM_MEMORY = 1.6
_LEFT_ALONE_EDGE = -1.5
"""Static margin [% MAC] below which a nudged model runs away within three seconds (docs/methods/estimator.md)."""

_DIVE_PATH_RAD = math.radians(-35.0)


@dataclass(frozen=True, slots=True)
class Moment:
    """The state of flight a measure was taken in: what the bench knew and where the surfaces rested."""

    design: Design
    trims: Trims


Predict = Callable[[Array, Moment], float]


@dataclass(frozen=True, slots=True)
class Measure:
    """A measurement model: prediction in ``unit``, noise sigma and persistent bias sigma of the closed form.

    ``noise`` and ``bias`` in the unit of the prediction; ``bias_key`` shared by measures with the same model error.
    """

    key: str
    words: str
    unit: str
    predict: Predict
    noise: float
    bias: float
    bias_key: str
    scale: scales.Scale | None = None


@dataclass(frozen=True, slots=True)
class Datum:
    """One logged measure ready for the update: ``low`` to ``high`` in the measure's unit (equal: a plain number)."""

    measure: Measure
    moment: Moment
    low: float
    high: float
    sigma: float
    card_id: str
    evidence: str


def _cruise(x: Array, m: Moment, throttle: str = "level") -> Situation:
    return situation(m.design, x, speed_mps=m.design.cruise_speed_mps, throttle=throttle)


def _slow(x: Array, m: Moment) -> Situation:
    return situation(m.design, x, speed_mps=SLOW_OVER_STALL * stall_speed(x, m.design))


def stall_speed(x: Array, design: Design) -> float:
    """Return the stall speed [m/s] for given unknowns, before the airspeed factor is applied."""
    return design.stall_speed_mps * math.exp(-0.5 * float(x[P.LN_CL_MAX]))


def pitch_rate_cruise(x: Array, m: Moment) -> float:
    """Return the hands-off path rate [deg/s, nose up positive] at cruise."""
    s = _cruise(x, m)
    return _level_rate(s, m.trims.elevator_rad, s.thrust_n)


def _level_rate(s: Situation, elevator_rad: float, thrust_n: float) -> float:
    return s.path_rate_per_g * (load_factor(s, elevator_rad=elevator_rad, thrust_n=thrust_n) - 1.0) * _DEG


def pitch_rate_fast(x: Array, m: Moment) -> float:
    """Return the hands-off path rate [deg/s] a third above cruise speed, level."""
    s = situation(m.design, x, speed_mps=FAST_OVER_CRUISE * m.design.cruise_speed_mps)
    return _level_rate(s, m.trims.elevator_rad, s.thrust_n)


def pitch_rate_lift_off(x: Array, m: Moment) -> float:
    """Return the mean path rate [deg/s] in the first 1.5 s at lift-off, full throttle, gaining speed, elevator at rest."""
    s = situation(m.design, x, speed_mps=LIFT_OFF_OVER_STALL * stall_speed(x, m.design), throttle="full")
    r = release(s, elevator_rad=m.trims.elevator_rad, thrust_n=s.thrust_n, path_rad=0.0, window_s=1.5)
    return r.mean_rate_rad_s * _DEG


def pitch_rate_power(x: Array, m: Moment, throttle: str) -> float:
    """Return the mean path rate [deg/s] in the first 1.2 s after a throttle step from level cruise."""
    s = _cruise(x, m)
    stepped = full_thrust_n(m.design.configuration.airframe.motor) if throttle == "full" else 0.0
    result = release(s, elevator_rad=m.trims.elevator_rad, thrust_n=stepped, path_rad=0.0, window_s=1.2)
    return result.mean_rate_rad_s * _DEG


def clicks_full_power(x: Array, m: Moment) -> float:
    """Return the elevator clicks that hold full power at cruise speed [clicks, trailing edge down positive]."""
    s = _cruise(x, m, "full")
    return (trim_elevator_rad(s) - m.trims.elevator_rad) / m.design.configuration.elevator.rad_per_click


def pitch_rate_go_round(x: Array, m: Moment) -> float:
    """Return the mean path rate [deg/s] in the first 1.2 s after full power from an approach, stick held still."""
    s = situation(m.design, x, speed_mps=APPROACH_OVER_STALL * stall_speed(x, m.design), throttle="idle")
    full = full_thrust_n(m.design.configuration.airframe.motor)
    held, path = (
        trim_elevator_rad(s),
        -math.atan(s.design.aero.cd_zero / s.lift + s.design.aero.induced_factor * s.lift),
    )
    return release(s, elevator_rad=held, thrust_n=full, path_rad=path, window_s=1.2).mean_rate_rad_s * _DEG


def dive_rate(x: Array, m: Moment) -> float:
    """Return the mean path rate [deg/s] in the first 2 s after letting go in a 35 degree dive."""
    s = _cruise(x, m)
    r = release(s, elevator_rad=m.trims.elevator_rad, thrust_n=s.thrust_n, path_rad=_DIVE_PATH_RAD, speed_ratio=1.12)
    return r.mean_rate_rad_s * _DEG


def up_line_rate(x: Array, m: Moment) -> float:
    """Return the mean path rate [deg/s, toward the canopy = the ground] on an inverted 45 degree up-line, full power."""
    s = _cruise(x, m)
    full = full_thrust_n(m.design.configuration.airframe.motor)
    r = release(
        s, elevator_rad=m.trims.elevator_rad, thrust_n=full, path_rad=math.radians(45.0), inverted=True, speed_ratio=1.1
    )
    return r.mean_rate_rad_s * _DEG


def inverted_push(x: Array, m: Moment) -> float:
    """Return the stick held inverted at cruise, fraction of full, push positive.

    de_inverted - de_rest = 2 SM CL / V_d when trimmed; measured against where the elevator rests.
    """
    s = _cruise(x, m)
    needed = (s.pitch_moment + s.static_margin * s.lift + s.thrust_moment(s.thrust_n)) / s.pitch_control
    return (needed - m.trims.elevator_rad) / m.design.configuration.elevator.throw_rad


def slow_stick(x: Array, m: Moment) -> float:
    """Return the back stick held a quarter above stall speed, fraction of full, pull positive."""
    return -(trim_elevator_rad(_slow(x, m)) - m.trims.elevator_rad) / m.design.configuration.elevator.throw_rad


def touchdown_stick(x: Array, m: Moment) -> float:
    """Return the back stick at touchdown (10 % above stall, idle), fraction of full, pull positive."""
    s = situation(m.design, x, speed_mps=1.1 * stall_speed(x, m.design), throttle="idle")
    return -(trim_elevator_rad(s) - m.trims.elevator_rad) / m.design.configuration.elevator.throw_rad


def roll_rate_cruise(x: Array, m: Moment) -> float:
    """Return the hands-off roll rate at cruise [deg/s, right wing down positive]."""
    s = _cruise(x, m)
    return roll_rate_rad_s(s, m.trims, thrust_n=s.thrust_n) * _DEG


def roll_rate_slow(x: Array, m: Moment) -> float:
    """Return the hands-off roll rate a quarter above stall [deg/s, right wing down positive]."""
    s = _slow(x, m)
    return roll_rate_rad_s(s, m.trims, thrust_n=s.thrust_n) * _DEG


def roll_rate_inverted(x: Array, m: Moment) -> float:
    """Return the hands-off roll rate inverted at cruise [deg/s, the model's right wing toward its belly positive]."""
    s = _cruise(x, m)
    return roll_rate_rad_s(s, m.trims, thrust_n=s.thrust_n, inverted=True) * _DEG


def roll_rate_full_power(x: Array, m: Moment) -> float:
    """Return the hands-off roll rate [deg/s] a second after full throttle, a tenth faster than cruise by then."""
    s = situation(m.design, x, speed_mps=1.1 * m.design.cruise_speed_mps, throttle="full")
    return roll_rate_rad_s(s, m.trims, thrust_n=s.thrust_n) * _DEG


def crab_cruise(x: Array, m: Moment) -> float:
    """Return where the nose points at cruise against the path [deg, right positive]."""
    s = _cruise(x, m)
    return -sideslip_rad(s, rudder_rad=m.trims.rudder_rad, thrust_n=s.thrust_n) * _DEG


def crab_full_power(x: Array, m: Moment) -> float:
    """Return where the nose points at full throttle [deg, right positive]."""
    s = _cruise(x, m, "full")
    return -sideslip_rad(s, rudder_rad=m.trims.rudder_rad, thrust_n=s.thrust_n) * _DEG


def wing_drop(x: Array, m: Moment) -> float:
    """Return what decides the wing at the stall [deg/s]: slow-flight roll, less the washed-in wing letting go first.

    The tip with more incidence stalls first, so wash-out on the right (twist > 0) drops the *left* wing; 3 deg/s per
    degree is a judgement, hence the wide noise of this measure.
    """
    return float(roll_rate_slow(x, m) - 3.0 * float(x[P.TWIST]) * _DEG)


def cruise_speed(x: Array, m: Moment) -> float:
    """Return the true cruise speed [m/s]."""
    return m.design.cruise_speed_mps * math.exp(float(x[P.LN_SPEED]))


def break_speed(x: Array, m: Moment) -> float:
    """Return the speed of the stall break [m/s]."""
    return stall_speed(x, m.design)


def margin(x: Array, m: Moment) -> float:
    """Return the static margin [% MAC]."""
    return float(100.0 * (m.design.static_margin + x[P.STATIC_MARGIN]))


def _m(
    key: str,
    words: str,
    unit: str,
    predict: Predict,
    noise: float,
    bias: float,
    scale: scales.Scale | None = None,
    bias_key: str = "",
) -> Measure:
    return Measure(key, words, unit, predict, noise, bias, bias_key or key, scale)


# Bias sigmas: spread of each closed form against the non-linear stand-in (bench/closed_forms.py, 150 models); noise of a
# rating is the scatter of its class edges between people. docs/methods/estimator.md.
MEASURES: dict[tuple[str, str], Measure] = {
    ("F1", "lift_off"): _m(
        "lift_off", "the nose at lift-off", "deg/s", pitch_rate_lift_off, 4.0, 3.0, scales.PITCH_DRIFT
    ),
    ("F2", "left_over"): _m(
        "pitch_left_over", "pitch left over, hands off", "deg/s", pitch_rate_cruise, 0.9, 1.2, scales.PITCH_DRIFT
    ),
    ("F3", "left_over"): _m(
        "roll_left_over",
        "roll left over, hands off",
        "deg/s",
        roll_rate_cruise,
        1.2,
        1.4,
        scales.ROLL_DRIFT,
        "roll_cruise",
    ),
    ("F3", "bank_time"): _m(
        "roll_timed", "timed roll at cruise", "deg/s", roll_rate_cruise, 0.6, 1.4, None, "roll_cruise"
    ),
    ("F4", "left_over"): _m("yaw_left_over", "crab, flying away", "deg", crab_cruise, 0.7, 0.5, scales.YAW_DRIFT),
    ("F5", "pitch_full"): _m(
        "pitch_full",
        "pitch with full power",
        "deg/s",
        lambda x, m: pitch_rate_power(x, m, "full"),
        1.2,
        2.0,
        scales.PITCH_DRIFT,
    ),
    ("F5", "clicks_full"): _m("clicks_full", "clicks to hold full power", "clicks", clicks_full_power, 1.4, 2.2),
    ("F5", "pitch_idle"): _m(
        "pitch_idle",
        "pitch with power off",
        "deg/s",
        lambda x, m: pitch_rate_power(x, m, "idle"),
        1.2,
        1.0,
        scales.PITCH_DRIFT,
    ),
    ("F5", "roll_full"): _m(
        "roll_full", "roll with full power", "deg/s", roll_rate_full_power, 1.5, 2.0, scales.ROLL_DRIFT
    ),
    ("F5", "yaw_full"): _m("yaw_full", "yaw with full power", "deg", crab_full_power, 0.9, 1.0, scales.YAW_DRIFT),
    ("F7", "stick_held"): _m("slow_stick", "back stick in slow flight", "of full stick", slow_stick, 0.05, 0.07),
    ("F7", "roll_slow"): _m(
        "roll_slow", "roll in slow flight, hands off", "deg/s", roll_rate_slow, 1.4, 2.0, scales.ROLL_DRIFT, "roll_slow"
    ),
    ("F7", "bank_time"): _m(
        "roll_slow_timed", "timed roll in slow flight", "deg/s", roll_rate_slow, 0.8, 2.0, None, "roll_slow"
    ),
    ("F8", "wing"): _m("stall_wing", "wing that dropped at the stall", "deg/s", wing_drop, 6.0, 3.0),
    ("F8", "entry_speed"): _m("stall_speed", "speed of the stall", "m/s", break_speed, 0.6, 0.8),
    ("F12", "dive"): _m("dive", "the dive, let go", "deg/s", dive_rate, 1.4, 1.2, scales.DIVE),
    ("F13", "left_over"): _m(
        "pitch_fast", "pitch left over at the faster speed", "deg/s", pitch_rate_fast, 1.0, 1.2, scales.PITCH_DRIFT
    ),
    ("F14", "stick_held"): _m("inverted_stick", "stick held inverted", "of full stick", inverted_push, 0.05, 0.045),
    ("F14", "roll_inverted"): _m(
        "roll_inverted", "roll inverted, hands off", "deg/s", roll_rate_inverted, 1.8, 3.0, scales.ROLL_DRIFT
    ),
    ("F15", "line"): _m("up_line", "inverted 45 degree line", "deg/s", up_line_rate, 3.0, 2.5, scales.UP_LINE),
    ("F28", "go_round"): _m(
        "go_round",
        "pitch when power goes on for the go-round",
        "deg/s",
        pitch_rate_go_round,
        1.5,
        2.0,
        scales.PITCH_DRIFT,
    ),
    ("F29", "stick_back"): _m(
        "touchdown_stick", "back stick at touchdown", "of full stick", touchdown_stick, 0.15, 0.12
    ),
    ("F32", "speed"): _m("cruise_speed", "airspeed on the course", "m/s", cruise_speed, 0.5, 0.1),
}
LEFT_ALONE = _m("left_alone", "could it be left alone", "% MAC", margin, 1.5, 0.8)


def trims_after(design: Design, record: CardRecord, trims: Trims) -> Trims:
    """Return where the surfaces rest after the trim clicks of a card; F13's clicks are put back and do not count."""
    c = design.configuration
    pitch = signed_number(record.reading("pitch_clicks")) * c.elevator.rad_per_click
    roll = signed_number(record.reading("roll_clicks")) * c.aileron.rad_per_click
    yaw = signed_number(record.reading("yaw_clicks")) * c.rudder.rad_per_click
    return Trims(trims.elevator_rad + pitch, trims.aileron_rad + roll, trims.rudder_rad + yaw)


def signed_number(reading: Reading | None) -> float:
    """Return a count or stick as a signed number in the sense of the surface (``core.frames``); 0 when absent."""
    if reading is None or reading.number is None or reading.direction is None:
        return 0.0
    return surface_sign(reading.direction) * reading.number


def data_of(record: CardRecord, moment: Moment) -> tuple[Datum, ...]:
    """Return the data a logged card gives the update, in the moment it was flown.

    Ratings become intervals with open ends; a timing of "did not" becomes an interval around zero; "could not be left
    alone" becomes evidence for a small margin, never missing data. Readings widen with doubt and from memory.
    """
    spread = _CONFIDENCE[record.confidence] * (_FROM_MEMORY if record.from_memory else 1.0)
    data: list[Datum] = []
    card = catalogue.card(record.card_id)
    if card.proof_of_trim and record.left_alone is not None:
        low, high = (-math.inf, _LEFT_ALONE_EDGE) if record.left_alone is False else (_LEFT_ALONE_EDGE, math.inf)
        data.append(
            _datum(
                LEFT_ALONE,
                moment,
                low,
                high,
                spread,
                record,
                "could be left alone" if record.left_alone else "could not be left alone",
            )
        )
    usable = not (card.proof_of_trim and record.left_alone is False)
    if usable:
        data += _rated(record, moment, spread)
        data += _numbers(record, moment, spread)
        data += _timings(record, moment, spread)
    return tuple(data)


def _datum(
    measure: Measure, moment: Moment, low: float, high: float, spread: float, record: CardRecord, evidence: str
) -> Datum:
    return Datum(measure, moment, low, high, measure.noise * spread, record.card_id, evidence)


def _rated(record: CardRecord, moment: Moment, spread: float) -> list[Datum]:
    data = []
    for reading in record.readings:
        measure = MEASURES.get((record.card_id, reading.key))
        if measure is None or measure.scale is None or reading.choice is None:
            continue
        options = catalogue.card(record.card_id).capture(reading.key).options
        index = [o.key for o in options].index(reading.choice)
        low, high = measure.scale.interval(index)
        at = _fast_moment(record, moment) if record.card_id == "F13" else moment
        data.append(_datum(measure, at, low, high, spread, record, f"{measure.words}: {options[index].words}"))
    return data


def _fast_moment(record: CardRecord, moment: Moment) -> Moment:
    extra = signed_number(record.reading("clicks_fast")) * moment.design.configuration.elevator.rad_per_click
    return replace(moment, trims=replace(moment.trims, elevator_rad=moment.trims.elevator_rad + extra))


def _numbers(record: CardRecord, moment: Moment, spread: float) -> list[Datum]:
    data = []
    for key, pull_positive in (("stick_held", record.card_id == "F7"), ("stick_back", True)):
        reading, measure = record.reading(key), MEASURES.get((record.card_id, key))
        if reading is None or measure is None or (reading.number is None and not reading.none):
            continue
        value = signed_number(reading) * (-1.0 if pull_positive else 1.0)
        low, high = (value, math.inf) if value >= 0.99 else (value, value)
        data.append(_datum(measure, moment, low, high, spread, record, f"{measure.words}: {_stick_words(reading)}"))
    held = record.reading("clicks_full")
    if held is not None:
        count = signed_number(held)
        words = f"clicks to hold full power: {abs(count):.0f} {held.direction.value.replace('_', ' ') if held.direction else ''}".strip()
        data.append(_datum(MEASURES["F5", "clicks_full"], moment, count, count, spread, record, words))
    speed = record.reading("entry_speed")
    if record.card_id == "F8" and speed is not None and speed.number:
        data.append(
            _datum(
                MEASURES["F8", "entry_speed"],
                moment,
                speed.number,
                speed.number,
                spread,
                record,
                f"stalled at {speed.number:.1f} m/s",
            )
        )
    wing = record.reading("wing")
    if record.card_id == "F8" and wing is not None and wing.choice is not None:
        low, high = {"left": (-math.inf, -2.0), "none": (-8.0, 8.0), "right": (2.0, math.inf)}[wing.choice]
        data.append(_datum(MEASURES["F8", "wing"], moment, low, high, spread, record, f"stall: {wing.choice} wing"))
    return data


def _stick_words(reading: Reading) -> str:
    if not reading.number or reading.direction is None:
        return "none"
    way = {Response.NOSE_UP: "back", Response.NOSE_DOWN: "forward"}.get(reading.direction, reading.direction.value)
    return f"{reading.number:.0%} {way}"


def _timings(record: CardRecord, moment: Moment, spread: float) -> list[Datum]:
    if record.card_id == "F32":
        return _speed_course(record, moment, spread)
    measure = MEASURES.get((record.card_id, "bank_time"))
    if measure is None:
        return []
    wing = record.reading("bank_wing")
    times = [r for k in ("bank_time", "bank_time_first", "bank_time_second") if (r := record.reading(k)) is not None]
    data = []
    for reading in times:
        datum = _bank_time(reading, wing, measure, moment, spread, record)
        if datum is not None:
            data.append(datum)
    return data


def _bank_time(
    reading: Reading, wing: Reading | None, measure: Measure, moment: Moment, spread: float, record: CardRecord
) -> Datum | None:
    if reading.none:
        # "Did not bank within n seconds": the rate is censored around zero.
        limit = 30.0 / max(reading.number or 10.0, 2.0)
        return _datum(measure, moment, -limit, limit, spread, record, f"{measure.words}: did not bank")
    if reading.number is None or reading.number <= 0 or wing is None or wing.choice not in ("left", "right"):
        return None
    lag = roll_lag_s(_cruise_like(moment))
    rate = 30.0 / max(reading.number - lag, 0.2)
    signed = rate if wing.choice == "right" else -rate
    sigma = math.hypot(measure.noise * spread, 0.12 * spread * rate)
    evidence = f"{measure.words}: {wing.choice} wing down in {reading.number:.1f} s"
    return Datum(measure, moment, signed, signed, sigma, record.card_id, evidence)


def _cruise_like(moment: Moment) -> Situation:
    return situation(moment.design, np.zeros(len(P)), speed_mps=moment.design.cruise_speed_mps)


def _speed_course(record: CardRecord, moment: Moment, spread: float) -> list[Datum]:
    distance, out, back = (record.reading(k) for k in ("distance", "seconds_out", "seconds_back"))
    if distance is None or out is None or back is None or not distance.number or not out.number or not back.number:
        return []
    ways = [distance.number / out.number, distance.number / back.number]
    speed = sum(ways) / 2.0
    # Two stopwatch presses a way, 0.2 s each (common practice), and the marks.
    reaction = speed * 0.2 * math.sqrt(2.0) / (out.number + back.number) * 2.0
    sigma = math.hypot(reaction, 0.02 * speed) * spread
    return [
        Datum(
            MEASURES["F32", "speed"],
            moment,
            speed,
            speed,
            sigma,
            record.card_id,
            f"airspeed {speed:.1f} m/s on the course",
        )
    ]
