"""The whole control set-up of a model: fittings, rates, phases, mixes, radio, stabiliser; and one to start from."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Annotated

import numpy as np

from jinba.core.airframe.layout import control_surface_of, pitch_control_of
from jinba.core.airframe.parts import Airframe, Surface
from jinba.core.controls.fitting import FITTINGS, SENSE, Command, ControlRole, Fitting, Servo
from jinba.core.controls.hinge_moment import hinge_moment_nm
from jinba.core.controls.linkage import Linkage, motion, square_lean_rad
from jinba.core.controls.mixing import COMBINED, Mix, Weights
from jinba.core.controls.radio import ChannelUse, FailSafe, LossAction, RadioSheet
from jinba.core.controls.stabiliser import Stabiliser
from jinba.core.controls.surface_control import Control
from jinba.core.controls.throws import AxisRates, FlightPhase, RateStep
from jinba.core.declare import OPENS_NOTHING, Change, Count, MetresPerSecond, Opens, Share, Sister
from jinba.core.errors import JinbaError, check_range, check_text
from jinba.core.frames import Axis, PitchControl

MOST_FITTINGS = 12


_MIXED = Opens(Change.THROWS, "rates, expo or mixes changed")


def _stabiliser_words(before: ControlSetup, after: ControlSetup) -> str:
    if before.stabiliser is None:
        return "stabiliser fitted"
    if after.stabiliser is None:
        return "stabiliser taken out"
    return "stabiliser re-mounted or its level reference changed"


@dataclass(frozen=True, slots=True)
class ControlSetup:
    """How the sticks reach the surfaces.

    ``crow``: share by which both ailerons rise at full flap; ``differential_thrust`` share of the throttle a full rudder
    shifts between two motors; ``dive_speed_mps`` the fastest dive, None for the usual one;
    ``threshold_clicks``: more trim than this is moved out of the radio. ``to_find``: what was to be done and found after
    trim was last moved, until the neutrals are proved.
    """

    fittings: Annotated[tuple[Fitting, ...], FITTINGS]
    rates: Annotated[tuple[AxisRates, ...], _MIXED]
    phases: Annotated[tuple[FlightPhase, ...], Opens(Change.RADIO_TRIM, "flight phases or their trims changed")]
    weights: Annotated[Weights, _MIXED] = Weights()
    mixes: Annotated[tuple[Mix, ...], _MIXED] = ()
    crow: Annotated[Share, _MIXED] = 0.0
    differential_thrust: Annotated[Share, _MIXED] = 0.0
    dive_speed_mps: MetresPerSecond | None = None
    threshold_clicks: Count = 4
    radio: Annotated[RadioSheet, Opens(Change.RADIO_MEMORY, "radio memory changed")] = RadioSheet()
    stabiliser: Annotated[Stabiliser | None, Opens(Change.STABILISER, _stabiliser_words)] = None
    to_find: Annotated[tuple[str, ...], OPENS_NOTHING, Sister.ANEW] = ()

    def __post_init__(self) -> None:
        roles = [f.role for f in self.fittings]
        if len(set(roles)) < len(roles):
            twice = next(r for r in roles if roles.count(r) > 1)
            raise JinbaError(f"The {twice.value.replace('_', ' ')} is fitted twice.", name="fittings")
        if not 1 <= len(self.fittings) <= MOST_FITTINGS or not 1 <= len(self.phases) <= 5 or len(self.mixes) > 16:
            raise JinbaError("One to twelve moving surfaces, one to five flight phases, at most sixteen mixes.")
        if sorted(r.axis.value for r in self.rates) != ["pitch", "roll", "yaw"]:
            raise JinbaError("Rates are needed once for each of pitch, roll and yaw.", name="rates")
        if len({p.name for p in self.phases}) < len(self.phases):
            raise JinbaError("Two flight phases have the same name.", name="phases")
        for words in self.to_find:
            check_text("what is to be found", words, longest=400)
        check_range("crow", self.crow, unit="share", low=0.0, high=1.0)
        check_range("differential thrust", self.differential_thrust, unit="share", low=0.0, high=1.0)
        check_range("clicks that may stay in the radio", self.threshold_clicks, unit="clicks", low=0, high=50)
        if self.dive_speed_mps is not None:
            check_range("fastest dive", self.dive_speed_mps, unit="m/s", low=3.0, high=200.0)

    def fitting(self, role: ControlRole) -> Fitting | None:
        """Return the fitting of a surface, or None."""
        return next((f for f in self.fittings if f.role is role), None)

    def rates_of(self, axis: Axis) -> AxisRates:
        """Return the rates of an axis."""
        return next(r for r in self.rates if r.axis is axis)

    def moving(self, command: Command) -> tuple[Fitting, ...]:
        """Return the surfaces a command moves by itself."""
        return tuple(f for f in self.fittings if command in SENSE[f.role])


COMMAND_OF = {Axis.PITCH: Command.PITCH, Axis.ROLL: Command.ROLL, Axis.YAW: Command.YAW}
_HALF_SERVO_RAD = math.radians(45.0)


@lru_cache(maxsize=256)
def starting_setup(airframe: Airframe, *, elevator: Control, aileron: Control, rudder: Control) -> ControlSetup:
    """Return the set-up a model of this layout starts from: usual channels, two rates, holes in common proportion.

    Channels 1 aileron, 2 elevator, 3 throttle, 4 rudder, 5 and 6 second surfaces; low rate 60 %: common practice, no source.
    """
    fittings = _fittings(airframe, elevator, aileron, rudder)
    pitch = next(f for f in fittings if Command.PITCH in SENSE[f.role])
    throws = {"pitch": elevator.throw_rad, "roll": aileron.throw_rad, "yaw": rudder.throw_rad}
    weights = _weights(pitch, throws)
    has_motor = airframe.motor is not None
    throttle = (ChannelUse(3, "throttle", 1000.0),) if has_motor else ()
    safe = (FailSafe(3, "throttle", LossAction.POSITION, 1000.0),) if has_motor else ()
    return ControlSetup(
        fittings=fittings,
        rates=tuple(
            AxisRates(axis, (RateStep("high", 1.0, 1.0, 0.3), RateStep("low", 0.6, 0.6, 0.2)))
            for axis in (Axis.PITCH, Axis.ROLL, Axis.YAW)
        ),
        phases=(FlightPhase("normal"),),
        weights=weights,
        radio=RadioSheet(click_us=_click_us(pitch, elevator, weights), channels=throttle, fail_safe=safe),
    )


def _weights(pitch: Fitting, throws: dict[str, float]) -> Weights:
    """Return weights that give each command of a combined surface its throw, as far as the travel reaches."""
    if pitch.role not in COMBINED:
        return Weights()
    full = abs(float(motion(pitch.linkage, np.array([-_HALF_SERVO_RAD])).deflection_rad[0]))
    share = {axis: min(1.0, max(0.05, round(throw / full, 2))) for axis, throw in throws.items()}
    return Weights(pitch=share["pitch"], roll=share["roll"], yaw=share["yaw"])


def _click_us(pitch: Fitting, elevator: Control, weights: Weights) -> float:
    slope = abs(float(motion(pitch.linkage, np.zeros(1)).slope[0]))
    per_us = slope * pitch.servo.rad_per_us * weights.of(pitch.role, Command.PITCH)
    return min(12.0, max(0.5, round(2.0 * elevator.rad_per_click / per_us) / 2.0))


def _fittings(airframe: Airframe, elevator: Control, aileron: Control, rudder: Control) -> tuple[Fitting, ...]:
    layout, wing = pitch_control_of(airframe), airframe.wing
    tail = control_surface_of(airframe)
    if layout is PitchControl.ELEVONS:
        return (
            _fitting(ControlRole.LEFT_ELEVON, 1, elevator, _length(wing), wing),
            _fitting(ControlRole.RIGHT_ELEVON, 2, elevator, _length(wing), wing),
        )
    ailerons = (
        _fitting(ControlRole.LEFT_AILERON, 1, aileron, _length(wing), wing),
        _fitting(ControlRole.RIGHT_AILERON, 5, aileron, _length(wing), wing),
    )
    if layout in (PitchControl.V_TAIL, PitchControl.INVERTED_V_TAIL):
        pair = (ControlRole.LEFT_V_TAIL, 2), (ControlRole.RIGHT_V_TAIL, 4)
        return (*ailerons, *(_fitting(role, channel, elevator, _length(tail), tail) for role, channel in pair))
    role = ControlRole.FOREPLANE if layout is PitchControl.FOREPLANE else ControlRole.ELEVATOR
    pitch = _fitting(role, 2, elevator, 2.0 * _length(tail), tail)
    fin = airframe.fin
    if fin is None:
        return (*ailerons, pitch)
    return (*ailerons, pitch, _fitting(ControlRole.RUDDER, 4, rudder, max(0.01, fin.height_m), None))


def _length(surface: Surface) -> float:
    return max(0.01, (surface.control_outer - surface.control_inner) * surface.half_span_m)


_SERVO_SIZES_NM = (0.05, 0.12, 0.2, 0.4, 0.8, 1.6, 3.0)
_SIZING_SPEED_MPS = 28.0
_FULL_SHARE = 0.75


def _fitting(role: ControlRole, channel: int, control: Control, length_m: float, surface: Surface | None) -> Fitting:
    # Whole half millimetres of arm that bring the throw with three quarters of the servo's rotation; a surface with two tasks
    # keeps all of it for both together.
    wanted = control.horn_arm_m * math.sin(control.throw_rad) / math.sin(_FULL_SHARE * _HALF_SERVO_RAD)
    arm = max(0.004, round(wanted * 2000.0) / 2000.0)
    chord = control.chord_m if surface is None else max(s.chord_m for s in surface.sections)
    linkage = Linkage(
        arm_m=arm,
        horn_m=control.horn_arm_m,
        distance_m=round(max(0.04, 0.4 * chord), 3),
        thread_pitch_m=control.thread_pitch_m,
    )
    linkage = replace(linkage, arm_lean_rad=square_lean_rad(linkage))
    end = 1.0 if role in COMBINED else _FULL_SHARE
    load = hinge_moment_nm(
        dynamic_pressure_pa=0.6 * _SIZING_SPEED_MPS**2,
        span_m=length_m,
        chord_m=control.chord_m,
        flap_ratio=0.25,
        deflection_rad=control.throw_rad,
    )
    needed = 2.5 * load * arm / control.horn_arm_m
    torque = next((size for size in _SERVO_SIZES_NM if size >= needed), _SERVO_SIZES_NM[-1])
    servo = Servo(torque_nm=torque)
    return Fitting(role, channel, control.chord_m, length_m, linkage, servo, False, end, end)
