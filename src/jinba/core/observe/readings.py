"""From a logged card to data: each reading with the interval and the sigma it gives the update."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from functools import partial

import numpy as np

from jinba.core.airframe.layout import pitch_sense, pitches_by_a_wing
from jinba.core.cards import catalogue
from jinba.core.cards.incident import INCIDENT, Aspect, stick_at_its_end
from jinba.core.cards.masks import FLOWN_WITH_FLAP, SIDEWAYS, STEPS_ITSELF, gear_otherwise, half_seen, masked
from jinba.core.cards.model import CardRecord, Confidence, Reading
from jinba.core.cards.scales import ROLL_DRIFT
from jinba.core.configuration import Configuration
from jinba.core.controls.stabiliser import Device, Learning
from jinba.core.frames import Axis, Response, surface_sign
from jinba.core.observe import predictions
from jinba.core.observe.measures import LEFT_ALONE, MEASURES, Datum, Measure, about, size_of
from jinba.core.observe.parameters import COUNT, P
from jinba.core.observe.predictions import DIVE_PATH_RAD, LONGEST_PULL_OUT_S, Moment
from jinba.core.observe.situation import Design, Situation, Trims, roll_lag_s, situation
from jinba.core.observe.with_flap import FLAP_SIGMA, with_flap
from jinba.core.spoken import a_speed

_CONFIDENCE = {Confidence.SURE: 0.8, Confidence.FAIR: 1.0, Confidence.DOUBTFUL: 1.8}
_FROM_MEMORY = 1.6
_LEFT_ALONE_EDGE = -1.5
"""Static margin [% MAC] below which a nudged model runs away within three seconds (docs/methods/estimator.md)."""


_LEVEL_DEG_S = 3.0
"""A path that bends less than this, at the speed of ``core.cards.scales``, is left alone for some seconds and called level: common
practice, no source."""


def trims_after(design: Design, record: CardRecord, trims: Trims) -> Trims:
    """Return where the surfaces rest after the trim clicks of a card; F13's clicks are put back and do not count.

    A controller that learns has no clicks: where its elevator is found by the ruler, and which way, is its trim.
    """
    c = design.configuration
    learned = _learned_rad(c, record)
    if learned is not None:
        return trims.moved(Axis.PITCH, learned)
    pitch = signed_number(record.reading("pitch_clicks")) * c.elevator.rad_per_click
    roll = signed_number(record.reading("roll_clicks")) * c.aileron.rad_per_click
    yaw = signed_number(record.reading("yaw_clicks")) * c.rudder.rad_per_click
    return Trims(trims.elevator_rad + pitch, trims.aileron_rad + roll, trims.rudder_rad + yaw)


def _learned_rad(c: Configuration, record: CardRecord) -> float | None:
    """Return where a learning controller holds the elevator [rad, in the sense of the axis], None where it was not read."""
    read, way = record.reading("elevator_mm"), record.reading("elevator_way")
    if read is None or read.number is None or way is None:
        return None
    device = c.control_setup.stabiliser
    if device is None or device.device is not Device.CONTROLLER or device.learning is Learning.NONE:
        return None
    stored = record.reading("stored")
    if stored is not None and stored.choice != "yes":
        return None
    # 2 c sin(d/2) is what a ruler reads.
    half = min(1.0, read.number / 1000.0 / (2.0 * c.chord_m(Axis.PITCH)))
    down = 1.0 if way.choice == "down" else -1.0
    return pitch_sense(c.airframe) * down * 2.0 * math.asin(half)


def signed_number(reading: Reading | None) -> float:
    """Return a count or stick as a signed number in the sense of the surface (``core.frames``); 0 when absent.

    Derived here.
    """
    if reading is None or reading.number is None or reading.direction is None:
        return 0.0
    return surface_sign(reading.direction) * reading.number


def data_of(record: CardRecord, moment: Moment) -> tuple[Datum, ...]:
    """Return the data a logged card gives the update, in the moment it was flown.

    Ratings become intervals with open ends; a timing of "did not" becomes an interval around zero; "could not be left
    alone" counts together with the way the nose went. Readings widen with doubt and from memory. What the stabiliser or the flap
    has flown gives none (``cards.masks``), nor does a card of power without a motor; with flap slow flight, approach and touchdown are predicted for it, at half the trust, and of a
    stall the wing that goes down. Predicted for the throttle that was really used. What was not alike with the wind and against it may be the wind's, and is believed less;
    so is the nose with the gear where the card does not want it.
    """
    if masked(record) and not half_seen(record):
        return ()
    if record.card_id not in STEPS_ITSELF:
        moment = replace(moment, throttle=record.conditions.throttle)
    spread = _CONFIDENCE[record.confidence] * (_FROM_MEMORY if record.from_memory else 1.0)
    clean, flap = moment, record.conditions.flap or 0.0
    if flap:
        spread *= _WITH_FLAP
        flapped = with_flap(moment, flap) if record.card_id in FLOWN_WITH_FLAP else None
        moment = flapped or moment
        if flapped is None:
            record = replace(record, readings=tuple(r for r in record.readings if r.key in SIDEWAYS), left_alone=None)
    spread *= _ONE_HEADING if _of_the_wind(record) else 1.0
    if record.card_id == INCIDENT:
        return tuple(_of_incident(record, moment, spread * _IN_A_SCARE))
    card = catalogue.card(record.card_id)
    if card.powered and moment.design.configuration.airframe.motor is None:
        return ()
    alone = record.left_alone if card.proof_of_trim else None
    data = [] if alone is None else _alone(alone, record, moment, spread)
    # From a model that was not flying level by itself a dive or a push says nothing of the balance; a trim still says its way.
    if alone is not False or record.card_id == "F2":
        data += _rated(record, moment, spread)
        data += _numbers(record, moment, spread)
        data += _timings(record, moment, spread)
    if moment is not clean:
        data = [_flap_unsure(d, clean) for d in data]
    return tuple(_gear_unsure(d) for d in data) if gear_otherwise(record) else tuple(data)


_WITH_OTHER_GEAR = 2.0
"""How much wider what the nose does is known with the gear where the card does not want it: its drag pulls below the model, by one or
two clicks of trim on most. Common practice, no source."""


def _gear_unsure(datum: Datum) -> Datum:
    """Return a datum of the nose as unsure as an unknown drag below the model makes it; wings and speeds stay."""
    return replace(datum, sigma=_WITH_OTHER_GEAR * datum.sigma) if Aspect.PITCH in about(datum.measure) else datum


def _flap_unsure(datum: Datum, clean: Moment) -> Datum:
    """Return a datum flown with flap with what nobody knows of the flap as a persistent error of its own."""
    measure, nobody = datum.measure, np.zeros(COUNT)
    change = measure.predict(nobody, datum.moment) - measure.predict(nobody, replace(clean, trims=datum.moment.trims))
    bias = math.hypot(measure.bias, FLAP_SIGMA * change)
    return replace(datum, measure=replace(measure, bias=bias, bias_key=f"{measure.bias_key}_flap"))


_ONE_HEADING, _A_WIND_MPS = 2.0, 1.5
"""How much wider a trim is known that was not alike with the wind and against it, in more wind than this [m/s]: common practice, no
source."""


def _of_the_wind(record: CardRecord) -> bool:
    """Whether what was seen may be the wind's: not alike on both headings, and no calm that is known of."""
    wind = record.conditions.wind_mps
    said = record.reading("both_headings")
    return said is not None and said.choice == "no" and (wind is None or wind >= _A_WIND_MPS)


_WITH_FLAP = 2.0
"""How much wider what was flown with flap is known: common practice, no source."""

_IN_A_SCARE = 1.5
"""How much wider what is seen while a model is being lost is known: common practice, no source."""

_LIKE = {
    ("take_off", "nose"): ("F1", "lift_off"),
    ("climb", "nose"): ("F1", "lift_off"),
    ("height", "nose"): ("F2", "left_over"),
    ("take_off", "stick_held"): ("F1", "stick_held"),
    ("climb", "stick_held"): ("F1", "stick_held"),
    ("slow", "stick_held"): ("F7", "stick_held"),
    ("landing", "stick_held"): ("F7", "stick_held"),
    ("height", "dropped"): ("F8", "wing"),
    ("slow", "dropped"): ("F8", "wing"),
    ("landing", "dropped"): ("F8", "wing"),
}
"""Which measure what was seen in an incident is like, by where in the flight it was."""


def seen_twice(record: CardRecord, others: tuple[CardRecord, ...]) -> CardRecord:
    """Return an incident without what the card it belongs to has already said: nothing counts twice."""
    if record.card_id != INCIDENT:
        return record
    phase = _choice(record, "phase")
    said = {(o.card_id, r.key) for o in others for r in o.readings}
    # A stick at its end is a stick that was held.
    like = {"because": "stick_held"}
    kept = (r for r in record.readings if _LIKE.get((phase, like.get(r.key, r.key))) not in said)
    return replace(record, readings=tuple(kept))


def _of_incident(record: CardRecord, moment: Moment, spread: float) -> list[Datum]:
    """Return the data of an incident: the nose, the stick against it and a wing, as the card of that part of the flight has them."""
    phase, data = _choice(record, "phase"), []
    by_a_wing = pitches_by_a_wing(moment.design.configuration.airframe)
    for reading in (record if by_a_wing else stick_at_its_end(record)).readings:
        like = _LIKE.get((phase, reading.key))
        if like is None:
            continue
        measure = MEASURES[like].sized(moment.design)
        if reading.key == "nose" and reading.choice is not None and measure.scale is not None:
            options = catalogue.card(INCIDENT).capture("nose").options
            index = [o.key for o in options].index(reading.choice)
            low, high = measure.scale.interval(index)
            words = f"{INCIDENT}, {measure.words}: {options[index].words}"
            data.append(_plain(measure, moment, low, high, spread, record, words))
        elif reading.key == "stick_held":
            data += _held(measure, reading, moment, spread, record, pull_positive=True)
        elif reading.key == "dropped":
            data += _dropped(measure, reading, moment, spread, record)
    return data


def _choice(record: CardRecord, key: str) -> str:
    reading = record.reading(key)
    return "" if reading is None or reading.choice is None else reading.choice


_WIDER_WHERE_IT_ROSE = 1.5


def _alone(alone: bool, record: CardRecord, moment: Moment, spread: float) -> list[Datum]:
    """Return what is said by being left alone, or not: out of trim, or divergent; never missing data.

    A nose that goes down by itself is out of trim, and that explains it; one that goes up may be either. Flown level by
    itself before a dive it was in trim then, whatever else was logged. Derived here.
    """
    left = record.reading("left_over") if record.card_id == "F2" else None
    rating = "" if left is None or left.choice is None else left.choice
    if alone:
        margin = _plain(LEFT_ALONE, moment, _LEFT_ALONE_EDGE, math.inf, spread, record, "could be left alone")
        if record.card_id == "F2":
            return [margin]
        level = MEASURES["F2", "left_over"].sized(moment.design)
        limit = size_of(level.per, moment.design) * _LEVEL_DEG_S
        return [margin, _plain(level, moment, -limit, limit, spread, record, "flew level by itself before")]
    if rating in ("sinks", "drops"):
        return []
    wider = _WIDER_WHERE_IT_ROSE if rating in ("rises", "rears") else 1.0
    words = "could not be left alone"
    return [_plain(LEFT_ALONE, moment, -math.inf, _LEFT_ALONE_EDGE, spread * wider, record, words)]


def _measure(record: CardRecord, key: str, moment: Moment) -> Measure | None:
    """Return the measure of a card with the words of a model of this size, None where the reading is none."""
    found = MEASURES.get((record.card_id, key))
    return None if found is None else found.sized(moment.design)


def _plain(
    measure: Measure, moment: Moment, low: float, high: float, spread: float, record: CardRecord, evidence: str
) -> Datum:
    return Datum(measure, moment, low, high, measure.sigma * spread, record.card_id, evidence)


def _rated(record: CardRecord, moment: Moment, spread: float) -> list[Datum]:
    data = []
    for reading in record.readings:
        measure = _measure(record, reading.key, moment)
        if measure is None or measure.scale is None or reading.choice is None:
            continue
        options = catalogue.card(record.card_id).capture(reading.key).options
        index = [o.key for o in options].index(reading.choice)
        if measure.key == "dive" and not _tells(measure, moment):
            # What is flat has no slope that leads to the alarm: it is said of the margin itself.
            words = f"{measure.words}: {options[index].words}"
            data += [_plain(_STEEPENS, moment, -math.inf, 0.0, spread, record, words)] if index == 0 else []
            continue
        low, high = measure.scale.interval(index)
        at = _fast_moment(record, moment) if record.card_id == "F13" else moment
        data.append(_plain(measure, at, low, high, spread, record, f"{measure.words}: {options[index].words}"))
    return data


_TOLD_BY = 1.8
_WIDEST = 0.12
_STEEPENS = replace(LEFT_ALONE, noise=0.5)
"""A dive that tells no margins goes from steepening to pulling out hard within one per cent of the chord about none: derived here."""


def _tells(measure: Measure, moment: Moment) -> bool:
    """Whether a dive tells the least margin of the class from the widest one that is flown, by more than twice the scatter of a word.

    A model with little damping pulls out of a dive alike at any margin: only a dive that steepens says something of it, that there is none.
    Derived here (docs/methods/estimator.md).
    """
    d = moment.design
    ends = np.zeros((2, COUNT))
    ends[:, P.STATIC_MARGIN] = np.array([d.configuration.rules.minimum, _WIDEST]) - d.static_margin
    apart = measure.predict(ends[1], moment) - measure.predict(ends[0], moment)
    return apart >= _TOLD_BY * measure.noise


def _fast_moment(record: CardRecord, moment: Moment) -> Moment:
    extra = signed_number(record.reading("clicks_fast")) * moment.design.configuration.elevator.rad_per_click
    return replace(moment, trims=replace(moment.trims, elevator_rad=moment.trims.elevator_rad + extra))


def _numbers(record: CardRecord, moment: Moment, spread: float) -> list[Datum]:
    data = []
    for key, pull_positive in (("stick_held", record.card_id in ("F1", "F7")), ("stick_back", True)):
        reading, measure = record.reading(key), _measure(record, key, moment)
        if reading is not None and measure is not None:
            data += _held(measure, reading, moment, spread, record, pull_positive=pull_positive)
    held = record.reading("clicks_full")
    if held is not None:
        count = signed_number(held)
        words = f"clicks to hold full power: {abs(count):.0f} {held.direction.value.replace('_', ' ') if held.direction else ''}".strip()
        data.append(
            _plain(MEASURES["F5", "clicks_full"].sized(moment.design), moment, count, count, spread, record, words)
        )
    speed = record.reading("entry_speed")
    # Power carries part of the weight, and blows over the wing: the speed is that of another stall.
    if record.card_id == "F8" and speed is not None and speed.number and not record.conditions.throttle:
        data.append(
            _plain(
                MEASURES["F8", "entry_speed"],
                moment,
                speed.number,
                speed.number,
                spread,
                record,
                f"stalled at {a_speed(speed.number, 1)}",
            )
        )
    wing = record.reading("wing")
    if record.card_id == "F8" and wing is not None:
        data += _dropped(MEASURES["F8", "wing"].sized(moment.design), wing, moment, spread, record)
    return data


_FULL_STICK = 0.99


def _held(
    measure: Measure, reading: Reading, moment: Moment, spread: float, record: CardRecord, *, pull_positive: bool
) -> list[Datum]:
    if reading.number is None and not reading.none:
        return []
    # The stick's sense is the surface's; "held back" counts positive where the measure says pull.
    value = signed_number(reading) * (-1.0 if pull_positive else 1.0)
    # Full stick is where the stick ends, not where the need ends.
    low = -math.inf if value <= -_FULL_STICK else value
    high = math.inf if value >= _FULL_STICK else value
    return [_plain(measure, moment, low, high, spread, record, f"{measure.words}: {_stick_words(reading)}")]


def _dropped(measure: Measure, wing: Reading, moment: Moment, spread: float, record: CardRecord) -> list[Datum]:
    if wing.choice is None:
        return []
    # A dropped wing says its side and hardly its rate.
    some, most = (size_of(measure.per, moment.design) * rate for rate in (2.0, 8.0))
    low, high = {"left": (-math.inf, -some), "none": (-most, most), "right": (some, math.inf)}[wing.choice]
    return [_plain(measure, moment, low, high, spread, record, f"stall: {wing.choice} wing")]


def _stick_words(reading: Reading) -> str:
    if not reading.number or reading.direction is None:
        return "none"
    way = {Response.NOSE_UP: "back", Response.NOSE_DOWN: "forward"}.get(reading.direction, reading.direction.value)
    return f"{100 * reading.number:.0f} % {way}"


def _timings(record: CardRecord, moment: Moment, spread: float) -> list[Datum]:
    if record.card_id == "F32":
        return _speed_course(record, moment, spread)
    if record.card_id in ("F2", "F12"):
        return _timed_pitch(record, moment, spread)
    if record.card_id == "F34":
        return _turns(record, moment, spread)
    measure = _measure(record, "bank_time", moment)
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
        return _plain(measure, moment, -limit, limit, spread, record, f"{measure.words}: did not bank")
    if reading.number is None or reading.number <= 0 or wing is None or wing.choice not in ("left", "right"):
        return None
    lag = roll_lag_s(_cruise_like(moment))
    # The roll takes its own lag to build up: seconds to 30 degrees are longer than 30 degrees at the full rate.
    rate = 30.0 / max(reading.number - lag, 0.2)
    signed = rate if wing.choice == "right" else -rate
    # Two parts: what the measure says for itself, and 12 % of a stopwatch pressed by eye.
    sigma = math.hypot(measure.noise * spread, 0.12 * spread * rate)
    evidence = f"{measure.words}: {wing.choice} wing down in {reading.number:.1f} s"
    return Datum(measure, moment, signed, signed, sigma, record.card_id, evidence)


def _cruise_like(moment: Moment) -> Situation:
    return situation(moment.design, np.zeros(len(P)), speed_mps=moment.design.cruise_speed_mps)


_WIND_CHANGES = 0.2
"""How much a wind near the ground changes from one minute to the next, one sigma over its mean: turbulence intensity over short
grass, 0.15 to 0.25 (handbook range from memory)."""


def _speed_course(record: CardRecord, moment: Moment, spread: float) -> list[Datum]:
    distance, out, back = (record.reading(k) for k in ("distance", "seconds_out", "seconds_back"))
    if distance is None or out is None or back is None or not distance.number or not out.number or not back.number:
        return []
    ways = [distance.number / out.number, distance.number / back.number]
    # The mean of the two speeds, not the speed over the mean time: a wind along the course then cancels exactly.
    speed = sum(ways) / 2.0
    # Two stopwatch presses a way, 0.2 s each (common practice), and the marks.
    reaction = speed * 0.2 * math.sqrt(2.0) / (out.number + back.number) * 2.0
    # What the wind took on one leg it gives on the other only while it stays the same.
    along = abs(ways[0] - ways[1]) / 2.0
    sigma = math.hypot(reaction, 0.02 * speed, _WIND_CHANGES * along / math.sqrt(2.0)) * spread
    return [
        Datum(
            MEASURES["F32", "speed"],
            moment,
            speed,
            speed,
            sigma,
            record.card_id,
            f"airspeed {a_speed(speed, 1)} on the course",
        )
    ]


_TURN = {"in": 1, "stays": 0, "out": -1}


def _turns(record: CardRecord, moment: Moment, spread: float) -> list[Datum]:
    """Return which way it tends to roll, from what it did let go in a bank to either side; alike to both sides it tends to none.

    Derived here.
    """
    left, right = (_TURN.get(_choice(record, k)) for k in ("turn_left", "turn_right"))
    if left is None or right is None:
        return []
    measure = MEASURES["F34", "turn"].sized(moment.design)
    drift = ROLL_DRIFT.sized(size_of(measure.per, moment.design)).edges[2]
    # Into a right bank and out of a left one is to the right.
    side = right - left
    low = -drift if side == 0 else drift if side > 0 else -math.inf
    high = drift if side == 0 else math.inf if side > 0 else -drift
    words = {0: "alike to both sides", 1: "further in to the right", -1: "further in to the left"}
    evidence = f"{measure.words}: {words[(side > 0) - (side < 0)]}"
    return [_plain(measure, moment, low, high, spread, record, evidence)]


_TIMED_WINDOW_S = 6.0
"""Beyond this a released path has gone through half a phugoid: the time says no more than "slowly"."""


def _timed_pitch(record: CardRecord, moment: Moment, spread: float) -> list[Datum]:
    """Seconds to 20 degrees of pitch (F2) or from the dive to level (F12), as a mean path rate over those seconds."""
    if record.card_id == "F2":
        return _time_to_twenty(record, moment, spread)
    reading = record.reading("time_to_level")
    if record.card_id != "F12" or reading is None or reading.none or not reading.number:
        return []
    seconds = reading.number
    if seconds > LONGEST_PULL_OUT_S or not _tells(MEASURES["F12", "dive"].sized(moment.design), moment):
        return []
    rate = math.degrees(-DIVE_PATH_RAD) / seconds
    return [
        _timed(
            MEASURES["F12", "dive"].sized(moment.design),
            predictions.rate_to_level,
            moment,
            rate,
            seconds,
            spread,
            record,
        )
    ]


def _time_to_twenty(record: CardRecord, moment: Moment, spread: float) -> list[Datum]:
    reading, left = record.reading("time_to_20_deg"), record.reading("left_over")
    if reading is None or not reading.number or left is None or left.choice is None:
        return []
    measure = MEASURES["F2", "left_over"].sized(moment.design)
    up = {"rears": 1.0, "rises": 1.0, "sinks": -1.0, "drops": -1.0}.get(left.choice)
    if reading.none or reading.number > _TIMED_WINDOW_S:
        # Not 20 degrees in that time: slower than that either way, and no word on which.
        limit = 20.0 / min(max(reading.number, 2.0), _TIMED_WINDOW_S)
        return [_plain(measure, moment, -limit, limit, spread, record, f"{measure.words}: not 20 degrees in time")]
    if up is None:
        return []
    rate = up * 20.0 / reading.number
    predict = partial(predictions.pitch_rate_left, seconds=reading.number)
    return [_timed(measure, predict, moment, rate, reading.number, spread, record)]


def _timed(
    measure: Measure,
    predict: Callable[..., float],
    moment: Moment,
    rate_deg_s: float,
    seconds: float,
    spread: float,
    record: CardRecord,
) -> Datum:
    over = measure.timed(predict, moment.design)
    sigma = over.scatter * math.hypot(0.6 * measure.noise, 0.12 * rate_deg_s) * spread
    words = f"{measure.words}: {abs(rate_deg_s):.0f} degrees a second, timed over {seconds:.1f} s"
    return Datum(over, moment, rate_deg_s, rate_deg_s, sigma, record.card_id, words)
