"""Tip ballast and thrust shims: only when the evidence separates their cause from its twin."""

from __future__ import annotations

import math
from dataclasses import replace

from jinba.core.configuration import Configuration
from jinba.core.controls.shims import shim_m
from jinba.core.correct.actions import Action, ActionKind, HeldBack
from jinba.core.diagnose.causes import NOT_SEPARATED
from jinba.core.diagnose.seen import Seen
from jinba.core.diagnose.tendencies import POWER_PITCH_LIMIT, ROLL_LIMIT_DEG_S, propagate
from jinba.core.diagnose.update import Belief
from jinba.core.frames import ThrustLine, left_or_right, thrust_tilt_response, words_for
from jinba.core.mass.ballast import tip_ballast_kg
from jinba.core.mass.items import Item, ItemKind
from jinba.core.observe import predictions
from jinba.core.observe.parameters import PARAMETERS, P
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import Trims, design_of
from jinba.core.power.propulsion import motors_of, thrust_line_of, tilted_down
from jinba.core.spoken import a_length, a_mass

_SMALLEST_LATERAL = 0.0025
"""A lateral offset below this is left to the ailerons [fraction of span]."""

_LARGEST_TILT_RAD = math.radians(3.0)
_TIP_FRACTION = 0.95
_FOUR_IN_FIVE = 0.8416
"""Standard normal quantile of 0.8 (table)."""


def correct_lateral(
    configuration: Configuration, belief: Belief, trims: Trims, seen: Seen
) -> tuple[Configuration, Action | None, HeldBack | None]:
    """Return the configuration with tip ballast, or the reason why it is held back.

    Ballast only where a wing grows heavy in slow flight, and when the flights tell a heavy wing from a twist: F3 and F7 flown
    in this setup, posterior over prior sigma of the lateral balance at most 0.75 and the mean beyond its sigma. Otherwise the
    ailerons carry it and F7 or a gauge is asked for. ``trims``: where the surfaces rest in flight. [rad]
    """
    design = design_of(configuration)
    span = design.aero.planform.span_m
    mean, sigma = float(belief.mean[P.LATERAL_CG]), float(belief.sigma[P.LATERAL_CG])
    offset = design.balance.mass.y_m / span + mean
    slow = predictions.roll_rate_slow(belief.mean, Moment(design, trims)) + belief.bias.get("roll_slow", 0.0)
    if abs(offset) < _SMALLEST_LATERAL or abs(slow) <= ROLL_LIMIT_DEG_S:
        return configuration, None, None
    # Lead in a tip cures a heavy wing and worsens a twist at another speed: without evidence for one of them nothing is added.
    told = sigma / PARAMETERS[P.LATERAL_CG].sigma <= NOT_SEPARATED and abs(mean) > sigma
    separated = told and {"F3", "F7"} <= seen.cards
    light = left_or_right(-offset)
    if not separated:
        return (
            configuration,
            None,
            HeldBack(
                ActionKind.TIP_BALLAST,
                f"No ballast in the {light} tip yet: what was flown does not tell a heavy wing from a twisted one.",
                "Fly F7 (slow, hands off) or measure the incidence at both tips.",
                ("F7",),
            ),
        )
    arm = _TIP_FRACTION * span / 2.0
    mass = tip_ballast_kg(mass_kg=design.balance.mass.mass_kg, y_cg_m=offset * span, tip_arm_m=arm)
    piece = 0.001 if mass < 0.02 else 0.002
    mass = round(mass / piece) * piece
    if mass <= 0:
        return configuration, None, None
    side = 1.0 if light == "right" else -1.0
    item = Item(
        f"tip-{light}-{len(configuration.items)}",
        f"Ballast in the {light} tip",
        mass,
        design.balance.x_m,
        side * arm,
        kind=ItemKind.BALLAST,
    )
    action = Action(
        ActionKind.TIP_BALLAST,
        round(mass * 1000.0),
        "g",
        f"{a_mass(mass)} in the {light} tip, {a_length(arm)} from the centre line, at the balance station.",
        f"The {left_or_right(offset)} wing is heavy: it grows heavier as the model slows, a twist would fade.",
        "Hung on nose and tail, the wings stay level.",
        thumb="Rule of thumb: ballast at the light tip until slow flight stays level, then about one click of aileron.",
    )
    return replace(configuration, items=(*configuration.items, item)), action, None


def correct_thrust_line(
    configuration: Configuration, belief: Belief, trims: Trims, seen: Seen
) -> tuple[Configuration, Action | None]:
    """Return the configuration with washers behind the motor, when full power pitches it out of its band.

    Only where F5 or F28 was flown in this setup and has said something about the thrust line; judged with the balance and the
    elevator it is going to fly with (``trims`` [rad]): washers cure what power does, not what a move of the pack leaves. At
    most 3 degrees, in steps of half a degree. Words follow the signed arm: on a pusher down-thrust pitches the nose up.
    """
    motor = thrust_line_of(configuration.airframe)
    # Nothing flown under power: a washer would answer the bench's own guess.
    informed = belief.sigma[P.THRUST_DOWN] < 0.96 * PARAMETERS[P.THRUST_DOWN].sigma
    if motor is None or not informed or not {"F5", "F28"} & seen.cards:
        return configuration, None
    design = design_of(configuration)
    bias = belief.bias.get("pitch_full", 0.0)

    def rate(tilt: float) -> float:
        changed = replace(configuration, airframe=tilted_down(configuration.airframe, tilt))
        return predictions.pitch_rate_power(belief.mean, Moment(design_of(changed), trims), "full") + bias

    now = rate(0.0)
    limit = POWER_PITCH_LIMIT / design.cruise_speed_mps
    # Washers are for what is known to lie outside: the chance that it does not is one in five at most.
    _, sigma = propagate(lambda x, m: predictions.pitch_rate_power(x, m, "full"), Moment(design, trims), belief)
    if abs(now) <= limit + _FOUR_IN_FIVE * sigma:
        return configuration, None
    # The signed arm is inside the prediction: on a pusher the slope has the other sign by itself.
    slope = (rate(0.02) - now) / 0.02
    tilt = max(-_LARGEST_TILT_RAD, min(_LARGEST_TILT_RAD, -now / slope if abs(slope) > 1e-6 else 0.0))
    # Half a degree is about the thinnest washer there is.
    tilt = round(math.degrees(tilt) * 2.0) / 2.0
    if tilt == 0.0 or abs(rate(math.radians(tilt))) >= abs(now):
        return configuration, None
    way = ThrustLine.DOWN if tilt > 0 else ThrustLine.UP
    response = thrust_tilt_response(way, x_motor_ahead_of_cg_m=design.balance.x_m - motor.x_m)
    thick = shim_m(tilt_rad=math.radians(abs(tilt)), spacing_m=motor.bolt_spacing_m) * 1000.0
    action = Action(
        ActionKind.THRUST_LINE,
        abs(tilt),
        "degrees",
        f"Tilt {_the_motors(configuration)}: forward end {way.value} by {abs(tilt):.1f} degrees, {a_length(thick / 1000, 1)} of washers over bolt rows {a_length(motor.bolt_spacing_m)} apart.",
        f"Full power then pitches the {words_for(response).model.replace('nose ', 'nose further ')} than now.",
        "Prove it by F5; putting the washers back must bring the old behaviour back.",
        thumb="Rule of thumb: climbs with power, add down-thrust. That holds for a tractor only.",
    )
    return replace(configuration, airframe=tilted_down(configuration.airframe, math.radians(tilt))), action


def _the_motors(configuration: Configuration) -> str:
    motors = motors_of(configuration.airframe)
    return "the motor" if sum(m.count for m in motors) == 1 else "every motor"
