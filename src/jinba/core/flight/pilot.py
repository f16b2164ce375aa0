"""The stand-in: a scripted pilot who flies cards with simulated models and logs what a pilot would.

Ratings fall into the worded classes with a rater's scatter, stopwatch times carry a reaction time, stick is read to
five percent, clicks are counted after a human's idea of "trimmed".
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from jinba.core.cards import catalogue, scales
from jinba.core.cards.model import CardRecord, Confidence, Outcome, Reading
from jinba.core.configuration import Configuration
from jinba.core.flight.dynamics import Controls, airspeed
from jinba.core.flight.faults import Faults, Nature
from jinba.core.flight.plant import Array, Plant, build_plant
from jinba.core.flight.runs import dive_state, path_run, roll_run, stall_run, up_line_state
from jinba.core.flight.trimming import Steady, steady_flight
from jinba.core.frames import Axis, response_of_deflection

_ROLL_LIMIT_S = 8.0
_PITCH_LIMIT_S = 6.0
_CLICK_SCATTER = 1.0
_RATER_SCATTER = 0.3


@dataclass(frozen=True, slots=True)
class SimulatedModel:
    """One simulated model: the configuration as the bench knows it, its hidden faults and its true coefficients."""

    configuration: Configuration
    faults: Faults
    nature: Nature


def fly(models: list[SimulatedModel], card_ids: tuple[str, ...], *, seed: int) -> list[tuple[CardRecord, ...]]:
    """Return, for each model, the records of the flight cards flown in order; same seed, same records.

    All models fly together, one array entry each. Cards that are not flight cards are skipped. Models whose steady flight
    cannot be found (they could not be flown) log the card as aborted and "could not be left alone".
    Raises: UnknownKeyError for a card that does not exist.
    """
    session = _Session(models, np.random.default_rng(seed))
    logs: list[list[CardRecord]] = [[] for _ in models]
    for card_id in card_ids:
        catalogue.card(card_id)
        flyer = _FLYERS.get(card_id)
        if flyer is None:
            continue
        for i, record in enumerate(flyer(session)):
            logs[i].append(record)
    return [tuple(log) for log in logs]


class _Session:
    """One sortie of all models: plant, where the surfaces rest now, and the pilot's noise."""

    def __init__(self, models: list[SimulatedModel], rng: np.random.Generator) -> None:
        self.models = models
        self.rng = rng
        self.plant: Plant = build_plant([(m.configuration, m.faults, m.nature) for m in models])
        self.n = len(models)
        c = [m.configuration for m in models]
        self.elevator = np.array([k.elevator.resting_rad for k in c])
        self.aileron = np.array([k.aileron.resting_rad for k in c])
        self.rudder = np.array([k.rudder.resting_rad for k in c])
        self.click = {a: np.array([k.control(a).rad_per_click for k in c]) for a in Axis}
        self.throw = np.array([k.throw_rad(Axis.PITCH) for k in c])
        self.has_motor = np.array([k.airframe.motor is not None for k in c])

    def steady(self, speed: Array, *, thrust: Array | None = None, inverted: bool = False) -> Steady:
        return steady_flight(self.plant, speed=speed, rudder=self.rudder, thrust=thrust, inverted=inverted)

    def cruise(self) -> Steady:
        return self.steady(self.plant.cruise_speed)

    def slow(self) -> Steady:
        return self.steady(1.25 * self.plant.stall_speed)

    def hands_off(
        self, steady: Steady, *, elevator: bool = True, aileron: bool = False, thrust: Array | None = None
    ) -> Controls:
        return Controls(
            self.elevator if elevator else steady.controls.elevator,
            self.aileron if aileron else steady.controls.aileron,
            self.rudder,
            steady.controls.thrust if thrust is None else thrust,
        )

    def rate(self, values: Array, scale: scales.Scale) -> list[int]:
        """Return the class a rater gives each value, with scatter of a share of a class width."""
        noisy = values + self.rng.standard_normal(self.n) * _RATER_SCATTER * scale.typical_width
        return [scale.classify(float(v)) for v in np.nan_to_num(noisy, nan=0.0)]

    def stopwatch(self, key: str, times: Array) -> list[list[Reading]]:
        """Return what the watch shows: two presses of a hand, 0.12 s each; nothing for what did not happen in time."""
        shown = times + 0.12 * math.sqrt(2.0) * self.rng.standard_normal(self.n)
        return [[Reading(key, number=round(max(float(t), 0.3), 1))] if np.isfinite(t) else [] for t in shown]

    def left_alone(self, steady: Steady) -> list[bool]:
        """Return whether each model can be left alone: after a nudge the path rate may not grow in three seconds."""
        held = self.hands_off(steady)
        nudged = replace(held, elevator=steady.controls.elevator + 0.004)
        early = path_run(self.plant, steady.state, nudged, held_aileron=steady.controls.aileron, seconds=1.0)
        late = path_run(
            self.plant, steady.state, nudged, held_aileron=steady.controls.aileron, seconds=3.0, settle_s=2.0
        )
        runaway = np.abs(late.rate_deg_s) > 1.2 * np.abs(early.rate_deg_s)
        return [bool(ok) for ok in np.logical_and(~runaway, steady.converged)]


def _option(card_id: str, key: str, index: int) -> Reading:
    return Reading(key, choice=catalogue.card(card_id).capture(key).options[index].key)


def _signed(key: str, axis: Axis, surface: float, *, digits: int) -> Reading:
    number = round(abs(surface), digits)
    return Reading(
        key, number=number, direction=response_of_deflection(axis, surface) if number else None, none=number == 0
    )


def _done(card_id: str, readings: list[Reading], left_alone: bool | None = None) -> CardRecord:
    return CardRecord(card_id, Outcome.DONE, tuple(readings), left_alone, Confidence.FAIR)


def _lift_off(s: _Session) -> list[CardRecord]:
    steady = s.steady(1.25 * s.plant.stall_speed)
    thrust = np.where(s.has_motor, s.plant.full_thrust, 0.0)
    run = path_run(
        s.plant,
        steady.state,
        s.hands_off(steady, thrust=thrust),
        held_aileron=steady.controls.aileron,
        seconds=1.5,
        settle_s=0.3,
    )
    classes = s.rate(run.rate_deg_s, scales.PITCH_DRIFT)
    return [_done("F1", [_option("F1", "lift_off", k)]) for k in classes]


def _clicks(s: _Session, wanted: Array, resting: Array, per_click: Array) -> Array:
    counted = (wanted - resting) / per_click + _CLICK_SCATTER * s.rng.standard_normal(s.n)
    return np.clip(np.round(counted), -60, 60)


def _pitch_trim(s: _Session) -> list[CardRecord]:
    steady = s.cruise()
    clicks = _clicks(s, steady.controls.elevator, s.elevator, s.click[Axis.PITCH])
    s.elevator = s.elevator + clicks * s.click[Axis.PITCH]
    run = path_run(
        s.plant,
        steady.state,
        s.hands_off(steady),
        held_aileron=steady.controls.aileron,
        seconds=2.0,
        settle_s=0.5,
        watched_s=_PITCH_LIMIT_S,
    )
    classes = s.rate(run.rate_deg_s, scales.PITCH_DRIFT)
    alone = s.left_alone(steady)
    times = s.stopwatch("time_to_20_deg", run.time_to_twenty_s)
    return [
        _done(
            "F2",
            [_signed("pitch_clicks", Axis.PITCH, float(n), digits=0), _option("F2", "left_over", k), *time],
            left_alone=ok,
        )
        for n, k, ok, time in zip(clicks, classes, alone, times, strict=True)
    ]


def _bank_readings(s: _Session, keys: tuple[str, ...], rate: Array, time: Array) -> list[list[Reading]]:
    rows: list[list[Reading]] = []
    for i in range(s.n):
        if not np.isfinite(time[i]):
            rows.append(
                [Reading("bank_wing", choice="none"), *(Reading(k, number=_ROLL_LIMIT_S, none=True) for k in keys)]
            )
            continue
        wing = "right" if rate[i] > 0 else "left"
        times = [
            max(0.2, float(time[i]) * math.exp(0.08 * s.rng.standard_normal()) + 0.12 * float(s.rng.standard_normal()))
            for _ in keys
        ]
        rows.append(
            [
                Reading("bank_wing", choice=wing),
                *(Reading(k, number=round(t, 1)) for k, t in zip(keys, times, strict=True)),
            ]
        )
    return rows


def _roll_trim(s: _Session) -> list[CardRecord]:
    steady = s.cruise()
    clicks = _clicks(s, steady.controls.aileron, s.aileron, s.click[Axis.ROLL])
    s.aileron = s.aileron + clicks * s.click[Axis.ROLL]
    run = roll_run(s.plant, steady.state, s.hands_off(steady, elevator=False, aileron=True), seconds=_ROLL_LIMIT_S)
    classes = s.rate(run.rate_deg_s, scales.ROLL_DRIFT)
    times = _bank_readings(s, ("bank_time_first", "bank_time_second"), run.rate_deg_s, run.time_to_bank_s)
    return [
        _done("F3", [_signed("roll_clicks", Axis.ROLL, float(n), digits=0), _option("F3", "left_over", k), *t])
        for n, k, t in zip(clicks, classes, times, strict=True)
    ]


def _yaw_trim(s: _Session) -> list[CardRecord]:
    def crab() -> Array:
        state = s.cruise().state
        return np.asarray(-np.degrees(np.arctan2(state[1], state[0])))

    before = crab()
    gain = np.degrees(s.plant.rudder_gain * s.click[Axis.YAW])
    seen = before + 0.7 * s.rng.standard_normal(s.n)
    # A crab below a degree and a half is not seen; nose right is trimmed with left rudder, which is positive.
    clicks = np.where(np.abs(seen) > 1.5, np.clip(np.round(0.7 * seen / np.maximum(gain, 1e-6)), -40, 40), 0.0)
    s.rudder = s.rudder + clicks * s.click[Axis.YAW]
    classes = s.rate(crab(), scales.YAW_DRIFT)
    return [
        _done("F4", [_signed("yaw_clicks", Axis.YAW, float(n), digits=0), _option("F4", "left_over", k)])
        for n, k in zip(clicks, classes, strict=True)
    ]


def _power_step(s: _Session) -> list[CardRecord]:
    steady = s.cruise()
    rows: list[list[Reading]] = [[] for _ in range(s.n)]
    for key, thrust in (("full", np.where(s.has_motor, s.plant.full_thrust, 0.0)), ("idle", np.zeros(s.n))):
        run = path_run(
            s.plant, steady.state, s.hands_off(steady, thrust=thrust), held_aileron=steady.controls.aileron, seconds=1.2
        )
        for i, k in enumerate(s.rate(run.rate_deg_s, scales.PITCH_DRIFT)):
            rows[i].append(_option("F5", f"pitch_{key}", k))
    full = s.hands_off(steady, elevator=False, aileron=True, thrust=np.where(s.has_motor, s.plant.full_thrust, 0.0))
    roll = roll_run(s.plant, steady.state, full, seconds=1.5)
    for i, k in enumerate(s.rate(roll.rate_deg_s, scales.ROLL_DRIFT)):
        rows[i].append(_option("F5", "roll_full", k))
    climb = s.steady(s.plant.cruise_speed, thrust=np.where(s.has_motor, s.plant.full_thrust, 0.0))
    held = _clicks(s, climb.controls.elevator, s.elevator, s.click[Axis.PITCH])
    for i in range(s.n):
        if climb.converged[i]:
            rows[i].append(_signed("clicks_full", Axis.PITCH, float(held[i]), digits=0))
    return [_done("F5", r) for r in rows]


def _slow_flight(s: _Session) -> list[CardRecord]:
    steady = s.slow()
    held = (steady.controls.elevator - s.elevator) / s.throw + 0.04 * s.rng.standard_normal(s.n)
    run = roll_run(s.plant, steady.state, s.hands_off(steady, elevator=False, aileron=True), seconds=_ROLL_LIMIT_S)
    classes = s.rate(run.rate_deg_s, scales.ROLL_DRIFT)
    times = _bank_readings(s, ("bank_time",), run.rate_deg_s, run.time_to_bank_s)
    return [
        _done(
            "F7",
            [
                _signed("stick_held", Axis.PITCH, float(np.clip(round(h * 20) / 20, -1, 1)), digits=2),
                _option("F7", "roll_slow", k),
                *t,
            ],
        )
        for h, k, t in zip(held, classes, times, strict=True)
    ]


def _stall(s: _Session) -> list[CardRecord]:
    steady = s.steady(1.12 * s.plant.stall_speed, thrust=np.zeros(s.n))
    run = stall_run(s.plant, steady, rest=s.hands_off(steady))
    records = []
    for i in range(s.n):
        dropped = abs(run.bank_rad[i]) > 0.3
        wing = "none" if not dropped else "right" if run.bank_rad[i] > 0 else "left"
        sharp = "snaps" if abs(run.roll_rate[i]) > 2.5 else "drops" if dropped else "mushes"
        lost = round(float(run.height_lost_m[i] * math.exp(0.25 * s.rng.standard_normal())), 0)
        speed = round(float(run.speed_mps[i] * math.exp(0.05 * s.rng.standard_normal())), 1)
        records.append(
            _done(
                "F8",
                [
                    Reading("wing", choice=wing),
                    Reading("sharpness", choice=sharp),
                    Reading("height_lost", number=min(lost, 200.0)),
                    Reading("entry_speed", number=speed),
                ],
            )
        )
    return records


def _dive(s: _Session) -> list[CardRecord]:
    steady = s.cruise()
    alone = s.left_alone(steady)
    state = dive_state(s.plant, steady, path_rad=math.radians(-35.0), speed_ratio=1.12)
    run = path_run(
        s.plant,
        state,
        s.hands_off(steady),
        held_aileron=steady.controls.aileron,
        seconds=2.0,
        watched_s=_PITCH_LIMIT_S,
    )
    classes = s.rate(run.rate_deg_s, scales.DIVE)
    times = s.stopwatch("time_to_level", run.time_to_level_s)
    return [
        _done("F12", [_option("F12", "dive", k), *time], left_alone=ok)
        for k, ok, time in zip(classes, alone, times, strict=True)
    ]


def _second_speed(s: _Session) -> list[CardRecord]:
    alone = s.left_alone(s.cruise())
    steady = s.steady(1.33 * s.plant.cruise_speed)
    clicks = _clicks(s, steady.controls.elevator, s.elevator, s.click[Axis.PITCH])
    trimmed = replace(s.hands_off(steady), elevator=s.elevator + clicks * s.click[Axis.PITCH])
    run = path_run(s.plant, steady.state, trimmed, held_aileron=steady.controls.aileron, seconds=2.0, settle_s=0.5)
    classes = s.rate(run.rate_deg_s, scales.PITCH_DRIFT)
    return [
        _done(
            "F13",
            [_signed("clicks_fast", Axis.PITCH, float(n), digits=0), _option("F13", "left_over", k)],
            left_alone=ok,
        )
        for n, k, ok in zip(clicks, classes, alone, strict=True)
    ]


def _inverted(s: _Session) -> list[CardRecord]:
    alone = s.left_alone(s.cruise())
    steady = s.steady(s.plant.cruise_speed, inverted=True)
    held = (steady.controls.elevator - s.elevator) / s.throw + 0.04 * s.rng.standard_normal(s.n)
    run = roll_run(s.plant, steady.state, s.hands_off(steady, elevator=False, aileron=True), seconds=4.0)
    classes = s.rate(run.rate_deg_s, scales.ROLL_DRIFT)
    return [
        _done(
            "F14",
            [
                _signed("stick_held", Axis.PITCH, float(np.clip(round(h * 20) / 20, -1, 1)), digits=2),
                _option("F14", "roll_inverted", k),
            ],
            left_alone=ok,
        )
        for h, k, ok in zip(held, classes, alone, strict=True)
    ]


def _up_line(s: _Session) -> list[CardRecord]:
    steady = s.cruise()
    alone = s.left_alone(steady)
    state = up_line_state(s.plant, steady, path_rad=math.radians(45.0), speed_ratio=1.1)
    thrust = np.where(s.has_motor, s.plant.full_thrust, 0.0)
    run = path_run(
        s.plant, state, s.hands_off(steady, thrust=thrust), held_aileron=steady.controls.aileron, seconds=2.0
    )
    # Inverted, a path that falls bends toward the canopy: the scale runs the other way round.
    classes = s.rate(-run.rate_deg_s, scales.UP_LINE)
    return [_done("F15", [_option("F15", "line", k)], left_alone=ok) for k, ok in zip(classes, alone, strict=True)]


def _approach(s: _Session) -> list[CardRecord]:
    steady = s.steady(1.3 * s.plant.stall_speed, thrust=np.zeros(s.n))
    glide = np.degrees(-steady.path_rad)
    keys = np.where(glide < 5.5, "floats", np.where(glide > 11.0, "sinks", "normal"))
    full = replace(s.hands_off(steady, elevator=False), thrust=np.where(s.has_motor, s.plant.full_thrust, 0.0))
    run = path_run(s.plant, steady.state, full, held_aileron=steady.controls.aileron, seconds=1.2)
    classes = s.rate(run.rate_deg_s, scales.PITCH_DRIFT)
    return [
        _done("F28", [Reading("glide_path", choice=str(k)), _option("F28", "go_round", c)])
        for k, c in zip(keys, classes, strict=True)
    ]


def _landing(s: _Session) -> list[CardRecord]:
    steady = s.steady(1.1 * s.plant.stall_speed, thrust=np.zeros(s.n))
    held = (steady.controls.elevator - s.elevator) / s.throw + 0.10 * s.rng.standard_normal(s.n)
    return [
        _done("F29", [_signed("stick_back", Axis.PITCH, float(np.clip(round(h * 10) / 10, -1, 1)), digits=1)])
        for h in held
    ]


def _speed_course(s: _Session) -> list[CardRecord]:
    speed = airspeed(s.cruise().state)
    wind = 1.5 * s.rng.standard_normal(s.n)
    records = []
    for i in range(s.n):
        out, back = (100.0 / max(float(speed[i] + w), 1.5) + 0.2 * s.rng.standard_normal() for w in (wind[i], -wind[i]))
        records.append(
            _done(
                "F32",
                [
                    Reading("distance", number=100.0),
                    Reading("seconds_out", number=round(max(out, 0.5), 1)),
                    Reading("seconds_back", number=round(max(back, 0.5), 1)),
                ],
            )
        )
    return records


_FLYERS: dict[str, Callable[[_Session], list[CardRecord]]] = {
    "F1": _lift_off,
    "F2": _pitch_trim,
    "F3": _roll_trim,
    "F4": _yaw_trim,
    "F5": _power_step,
    "F7": _slow_flight,
    "F8": _stall,
    "F12": _dive,
    "F13": _second_speed,
    "F14": _inverted,
    "F15": _up_line,
    "F28": _approach,
    "F29": _landing,
    "F32": _speed_course,
}
