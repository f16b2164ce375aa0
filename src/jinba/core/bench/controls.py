"""Everything the controls desk shows for a configuration: one call for every what-if."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from jinba.core.airframe.layout import control_surface_of, pitch_control_of
from jinba.core.bench.authority import RateAuthority, ThrowSchool, rate_authority, throw_schools
from jinba.core.bench.direction_walk import WalkStep, direction_walk
from jinba.core.bench.mix_values import MixValue, mix_values, mix_words
from jinba.core.bench.saturation import Saturation, WeightSchool, saturation, weight_schools
from jinba.core.bench.trim_transfer import held_now
from jinba.core.cards.model import CardRecord, Outcome
from jinba.core.configuration import Configuration
from jinba.core.controls.deflections import STICK_SIGN, click_rad
from jinba.core.controls.fitting import ControlRole, Fitting, up_words
from jinba.core.controls.four_bar import LinkageError
from jinba.core.controls.mixing import motor_outputs
from jinba.core.controls.pulses import NEUTRAL_US
from jinba.core.controls.radio import radio_findings, reopened
from jinba.core.controls.setup import ControlSetup
from jinba.core.controls.stabiliser import (
    TRIMS_FORBIDDEN,
    GainEntry,
    NextGain,
    Stabiliser,
    gains_as_flown,
    masks,
    next_gains,
    stabiliser_findings,
    trims_forbidden,
)
from jinba.core.controls.switches import FlightMode
from jinba.core.controls.transfer import SurfaceOrder, Way, orders
from jinba.core.controls.travel import Travel, ruler_m, travel
from jinba.core.controls.trim import AxisTrim, deflection_for, rest_words
from jinba.core.frames import (
    Axis,
    PitchControl,
    control_name,
    response_of_deflection,
    sticks_words,
    words_for,
    words_for_pilot,
)
from jinba.core.observe.measures import MEASURES
from jinba.core.observe.situation import design_of
from jinba.core.said import Said, finding
from jinba.core.spoken import a_length

DIVE_OVER_CRUISE = 1.8
"""Fastest dive over cruise when nobody has said: common practice, no source."""

TRIAL_CARDS = tuple(dict.fromkeys(card_id for card_id, _ in MEASURES))
"""Cards with a measure: the effect of a change on one is a number."""

_AGREE = 0.24
"""A click is small: measured and computed agree within a quarter. Common practice, no source."""


@dataclass(frozen=True, slots=True)
class FittingAnswer:
    """What one fitting does, or why it cannot be fitted; ``up``, ``down``: what the two ways of its surface are called."""

    role: ControlRole
    name: str
    up: str
    down: str
    travel: Travel | None
    problem: str


@dataclass(frozen=True, slots=True)
class Agreement:
    """What a trim click moves by the linkage and as measured [rad], and what to think of it."""

    axis: Axis
    per_click_rad: float
    measured_per_click_rad: float
    agrees: bool
    words: str


@dataclass(frozen=True, slots=True)
class AxisWays:
    """What the two ways of an axis are called, in the signs of ``core.frames``; and its control.

    ``first``, ``second``: the ways of stick back or right, and forward or left, as the rates have them.
    """

    axis: Axis
    name: str
    positive: str
    negative: str
    first: str
    second: str


@dataclass(frozen=True, slots=True)
class Masked:
    """What must not be concluded from flights in a mode."""

    mode: FlightMode
    what: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class ControlsAnswer:
    """All of the controls desk.

    ``trial_cards``: those a change can be proved by; ``starting_stabiliser``: a device as it is set when it is fitted.
    ``started``: nothing was set yet, this is the set-up to start from. ``x_motor_ahead_m``: signed arm of the motor ahead
    of the balance point, 0 for a glider.
    """

    setup: ControlSetup
    started: bool
    dive_speed_mps: float
    ways: tuple[AxisWays, ...]
    mixes: tuple[str, ...]
    sticks: str
    x_motor_ahead_m: float
    thrust_words: str
    fittings: tuple[FittingAnswer, ...]
    rates: tuple[RateAuthority, ...]
    throw_schools: tuple[ThrowSchool, ...]
    agreements: tuple[Agreement, ...]
    saturation: tuple[Saturation, ...]
    weight_schools: tuple[WeightSchool, ...]
    mix_values: tuple[MixValue, ...]
    ledger: tuple[AxisTrim, ...]
    surfaces: tuple[SurfaceOrder, ...]
    trim_problem: str
    trim_warning: str
    radio: tuple[Said, ...]
    stabiliser: tuple[Said, ...]
    midpoints: tuple[str, ...]
    gains: tuple[NextGain, ...]
    masked: tuple[Masked, ...]
    walk: tuple[WalkStep, ...]
    trial_cards: tuple[str, ...]
    starting_stabiliser: Stabiliser


def controls_answer(c: Configuration, *, records: tuple[CardRecord, ...] = ()) -> ControlsAnswer:
    """Return everything the controls desk shows; ``records``: cards logged in the present configuration."""
    design, setup = design_of(c), c.control_setup
    inverted_v = pitch_control_of(c.airframe) is PitchControl.INVERTED_V_TAIL
    dive = setup.dive_speed_mps or DIVE_OVER_CRUISE * design.cruise_speed_mps
    offsets = trim_offsets(c)
    surfaces, trim_problem = _surfaces(c)
    device = setup.stabiliser
    clicks = (c.elevator.clicks, c.aileron.clicks, c.rudder.clicks)
    return ControlsAnswer(
        setup=setup,
        started=c.controls is None,
        dive_speed_mps=dive,
        ways=axis_ways(c),
        mixes=(*(mix_words(m) for m in setup.mixes), *_motor_words(setup)),
        sticks=sticks_words(setup.radio.mode),
        x_motor_ahead_m=0.0 if c.airframe.motor is None else design.balance.x_m - c.airframe.motor.x_m,
        thrust_words=thrust_words(c),
        fittings=tuple(_fitting(c, f, dive, setup.radio.click_us) for f in setup.fittings),
        rates=tuple(
            rate_authority(design, setup, r.axis, step, dive_mps=dive) for r in setup.rates for step in r.steps
        ),
        throw_schools=throw_schools(design, setup),
        agreements=tuple(a for axis in Axis if (a := _agreement(c, setup, axis)) is not None),
        saturation=saturation(setup, offsets, inverted_v=inverted_v),
        weight_schools=weight_schools(setup, inverted_v=inverted_v),
        mix_values=mix_values(setup, records),
        ledger=_ledger(c, setup),
        surfaces=surfaces,
        trim_problem=trim_problem,
        trim_warning=TRIMS_FORBIDDEN if trims_forbidden(device) else "",
        radio=radio_findings(
            setup.radio,
            tuple((f.channel, f.name) for f in setup.fittings),
            has_motor=c.airframe.motor is not None,
            pack_minutes=c.pack_minutes,
            has_controller=trims_forbidden(device),
        ),
        stabiliser=()
        if device is None
        else stabiliser_findings(
            device, clicks=clicks, midpoints_known=any(f.learned_us is not None for f in setup.fittings)
        ),
        midpoints=_midpoint_words(setup),
        gains=() if device is None else next_gains((*device.gains, *flown_gains(device, records))),
        masked=() if device is None else tuple(Masked(p.mode, masks(p.mode)) for p in device.proofs),
        walk=direction_walk(c, setup),
        trial_cards=TRIAL_CARDS,
        starting_stabiliser=Stabiliser(),
    )


def flown_gains(device: Stabiliser, records: tuple[CardRecord, ...]) -> tuple[GainEntry, ...]:
    """Return what the newest gain card (F25) says of the gains as they stand; nothing without one."""
    record = next((r for r in reversed(records) if r.card_id == "F25" and r.outcome is Outcome.DONE), None)
    if record is None:
        return ()
    shakes, nose, roll = (record.reading(k) for k in ("shakes", "climb_nose", "climb_roll"))
    return gains_as_flown(
        device.gains,
        shakes=None if shakes is None else shakes.choice,
        nose=None if nose is None else nose.choice,
        rolls=None if roll is None or roll.choice is None else roll.choice != "level",
    )


@lru_cache(maxsize=64)
def stopping(c: Configuration) -> tuple[Said, ...]:
    """Return what the controls desk says must not be flown like this; nothing while nobody has set the controls."""
    if c.controls is None:
        return ()
    answer = controls_answer(c)
    found = [*answer.radio, *answer.stabiliser]
    for f in answer.fittings:
        found += () if f.travel is None else f.travel.findings
    problems = [finding("linkage", f"{f.name}: {f.problem}", stops=True) for f in answer.fittings if f.problem]
    low = [finding("rate_too_low", r.words, stops=True) for r in answer.rates if r.floor_passed is False]
    return (*problems, *(f for f in found if f.stops), *low)


def thrust_words(c: Configuration) -> str:
    """Return where the forward end of the thrust axis points now, in words."""
    motor = c.airframe.motor
    if motor is None:
        return "no motor"
    parts = [
        f"{math.degrees(abs(angle)):.1f}° {way[0] if angle > 0 else way[1]}"
        for angle, way in ((motor.tilt_down_rad, ("down", "up")), (motor.tilt_right_rad, ("right", "left")))
        if abs(angle) > 1e-4
    ]
    return "the forward end points " + " and ".join(parts) if parts else "straight ahead"


def _motor_words(setup: ControlSetup) -> tuple[str, ...]:
    """Return what differential thrust does at half throttle, full rudder to the left, in words."""
    if setup.differential_thrust == 0.0:
        return ()
    left, right = motor_outputs(np.array([0.5]), np.array([1.0]), share=setup.differential_thrust)
    return (
        f"full left rudder at half throttle: left motor {100 * left[0]:.0f} %, right motor {100 * right[0]:.0f} %; with the throttle closed "
        "both stand still",
    )


def _midpoint_words(setup: ControlSetup) -> tuple[str, ...]:
    """Return the learned midpoints in microseconds and millimetres: the trim measure of a model that has no clicks."""
    return tuple(
        f"{f.name}: {f.learned_us:.0f} µs, {rest_words(f, deflection_for(f, f.learned_us - NEUTRAL_US))}"
        for f in setup.fittings
        if f.learned_us is not None
    )


def axis_ways(c: Configuration) -> tuple[AxisWays, ...]:
    """Return the words for the two ways of each axis."""
    layout = pitch_control_of(c.airframe)

    def word(axis: Axis, sign: float) -> str:
        return words_for(response_of_deflection(axis, sign)).model

    def ways(axis: Axis) -> AxisWays:
        sign = STICK_SIGN[axis]
        return AxisWays(
            axis, control_name(axis, layout), word(axis, 1.0), word(axis, -1.0), word(axis, sign), word(axis, -sign)
        )

    return tuple(ways(a) for a in Axis)


def with_reopened(before: Configuration, after: Configuration) -> Configuration:
    """Return the setup with the fail-safe proofs that an edit has opened again taken out."""
    if before.controls is None or after.controls is None or before.controls.radio == after.controls.radio:
        return after
    return replace(after, controls=replace(after.controls, radio=reopened(before.controls.radio, after.controls.radio)))


def trim_offsets(c: Configuration) -> dict[Axis, float]:
    """Return what trim and sub-trim of each axis hold in the radio [rad, signs of ``core.frames``]. Derived here."""
    return {axis: c.control(axis).resting_rad - c.control(axis).mechanical_rad for axis in Axis}


def _fitting(c: Configuration, f: Fitting, dive_mps: float, click_us: float) -> FittingAnswer:
    down, up = up_words(f.role)
    try:
        found = travel(
            f,
            speed_mps=dive_mps,
            density_kg_m3=c.density_kg_m3,
            section_chord_m=section_chord_m(c, f),
            click_us=click_us,
        )
    except LinkageError as problem:
        return FittingAnswer(f.role, f.name, up, down, None, problem.title)
    return FittingAnswer(f.role, f.name, up, down, found, "")


def section_chord_m(c: Configuration, f: Fitting) -> float:
    """Return the chord of the whole section at a control surface [m]: mean over its span, never less than the control's.

    Derived here.
    """
    airframe = c.airframe
    if f.role is ControlRole.RUDDER and airframe.fin is not None:
        chord = 0.5 * (airframe.fin.root_chord_m + airframe.fin.tip_chord_m)
    else:
        on_tail = f.role in (
            ControlRole.ELEVATOR,
            ControlRole.FOREPLANE,
            ControlRole.LEFT_V_TAIL,
            ControlRole.RIGHT_V_TAIL,
        )
        surface = control_surface_of(airframe) if on_tail else airframe.wing
        chord = 0.5 * (surface.sections[0].chord_m + surface.sections[-1].chord_m)
    return max(chord, 1.03 * f.chord_m)


def _agreement(c: Configuration, setup: ControlSetup, axis: Axis) -> Agreement | None:
    click = click_rad(setup, axis)
    if click == 0.0:
        return None
    measured, chord = c.control(axis).rad_per_click, c.chord_m(axis)
    agrees = abs(click / measured - 1.0) <= _AGREE
    name = control_name(axis, pitch_control_of(c.airframe))
    if agrees:
        words = f"Linkage and measurement agree on what a click does to the {name}."
    else:
        words = (
            f"A click of the {name} measured {a_length(ruler_m(chord, measured), 2)}, the linkage says "
            f"{a_length(ruler_m(chord, click), 2)}. Measure again, or take the linkage's."
        )
    return Agreement(axis, click, measured, agrees, words)


def _ledger(c: Configuration, setup: ControlSetup) -> tuple[AxisTrim, ...]:
    rows = []
    layout = pitch_control_of(c.airframe)
    for phase in setup.phases:
        for axis in Axis:
            control = c.control(axis)
            clicks = control.clicks if phase is setup.phases[0] else phase.clicks_of(axis)
            angle = clicks * control.rad_per_click
            words = "centred"
            if clicks:
                w = words_for_pilot(
                    response_of_deflection(axis, float(clicks)),
                    layout,
                    mode=setup.radio.mode,
                    levers_reversed=setup.radio.levers_reversed,
                )
                words = f"{abs(clicks)} click{'s' if abs(clicks) > 1 else ''} {w.model}: {w.surface}; {w.trim_lever}"
            rows.append(
                AxisTrim(
                    axis,
                    phase.name,
                    clicks,
                    abs(clicks) * setup.radio.click_us,
                    abs(angle),
                    ruler_m(c.chord_m(axis), angle),
                    words,
                    abs(clicks) > setup.threshold_clicks,
                )
            )
    return tuple(rows)


def _surfaces(c: Configuration) -> tuple[tuple[SurfaceOrder, ...], str]:
    """Return what moving all trims to the clevises would be, surface by surface, or why it cannot be said."""
    rests = {a: held_now(c.control(a)) for a in Axis}
    inverted_v = pitch_control_of(c.airframe) is PitchControl.INVERTED_V_TAIL
    wanted = {a: r.rest_rad for a, r in rests.items()}
    try:
        return orders(c.control_setup, rests, wanted, Way.CLEVIS, inverted_v=inverted_v), ""
    except LinkageError as problem:
        return (), problem.title
