"""Trim corrections: where each surface must rest for the next flight, and how that is set by hand."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

from jinba.core.configuration import Configuration
from jinba.core.controls.radio import RadioSheet
from jinba.core.controls.stabiliser import trims_forbidden
from jinba.core.controls.surface_control import Control, transfer_trim
from jinba.core.correct.actions import Action, ActionKind
from jinba.core.diagnose.update import Belief
from jinba.core.frames import Axis, PitchControl, control_name, response_of_deflection, words_for, words_for_pilot
from jinba.core.observe import predictions
from jinba.core.observe.parameters import Array
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import Trims, design_of

CLICKS_TO_LEAVE = 4
"""Up to this many clicks stay in the radio; more are moved to the clevis: common practice, no source ("several")."""

_SLOW_SHARE = 0.35

_KIND = {Axis.PITCH: ActionKind.ELEVATOR, Axis.ROLL: ActionKind.AILERON, Axis.YAW: ActionKind.RUDDER}
_AIM: dict[Axis, tuple[Callable[[Array, Moment], float], str]] = {
    Axis.PITCH: (predictions.pitch_rate_cruise, "pitch_left_over"),
    Axis.ROLL: (predictions.roll_rate_cruise, "roll_cruise"),
    Axis.YAW: (predictions.crab_cruise, "yaw_left_over"),
}


def needed_rest_rad(configuration: Configuration, belief: Belief, trims: Trims, axis: Axis) -> float:
    """Return where a surface must rest [rad] for hands-off flight at cruise, model bias included, others at ``trims``.

    Secant on the predicted rate, which is linear in the deflection but for the airspeed. Derived here.
    """
    predict, key = _AIM[axis]
    design = design_of(configuration)
    bias = belief.bias.get(key, 0.0)

    def rate(angle: float) -> float:
        moment = Moment(design, trims.moved(axis, angle))
        value = predict(belief.mean, moment) + bias
        if axis is Axis.ROLL:
            # What no ballast could take away is shared: mostly level at cruise, a little for slow flight.
            slow = predictions.roll_rate_slow(belief.mean, moment) + belief.bias.get("roll_slow", 0.0)
            value += _SLOW_SHARE * (slow - value)
        return value

    a, b = 0.0, 0.02
    fa, fb = rate(a), rate(b)
    if abs(fb - fa) < 1e-9:
        return trims.of(axis)
    for _ in range(6):
        a, b = b, b - fb * (b - a) / (fb - fa)
        fa, fb = fb, rate(b)
        if abs(fb) < 1e-6 or fb == fa:
            break
    return max(-0.35, min(0.35, b))


def clicks_to_leave(configuration: Configuration) -> int:
    """Return how many clicks may stay in the radio: the pilot's threshold, none where a controller reads them as commands."""
    setup = configuration.controls
    if setup is None:
        return CLICKS_TO_LEAVE
    return 0 if trims_forbidden(setup.stabiliser) else setup.threshold_clicks


def set_rest(
    control: Control,
    rest_rad: float,
    flown_rad: float,
    layout: PitchControl = PitchControl.TAIL,
    *,
    leave: int = CLICKS_TO_LEAVE,
    radio: RadioSheet | None = None,
) -> tuple[Control, Action | None]:
    """Return the control set to rest at ``rest_rad`` and what to do by hand; no action when nothing must be touched.

    ``flown_rad``: where it rested at the end of the last sortie, trim clicks included. Few clicks stay in the radio; more
    than ``leave`` go to the clevis in half turns, the remainder to sub-trim, all trims centred. ``layout``
    decides how the surfaces are named and which way they are said to go, ``radio`` which lever that is for this pilot.
    """
    in_radio = (rest_rad - control.mechanical_rad) / control.rad_per_click
    flown_clicks = round((flown_rad - control.mechanical_rad - control.sub_trim_rad) / control.rad_per_click)
    if leave == 0 and flown_clicks == 0 and abs(rest_rad - flown_rad) < 0.5 * control.rad_per_click:
        return control, None
    if leave > 0 and abs(in_radio) <= leave:
        clicks = round((rest_rad - control.mechanical_rad - control.sub_trim_rad) / control.rad_per_click)
        after = replace(control, clicks=clicks)
        change = clicks - flown_clicks
        return after, None if change == 0 else _click_action(control, change, after, layout, radio)
    transfer = transfer_trim(control, rest_rad)
    after = replace(
        control,
        mechanical_rad=control.mechanical_rad + transfer.turned_rad,
        sub_trim_rad=transfer.sub_trim_rad,
        clicks=0,
    )
    return after, _turn_action(control, transfer.half_turns, after, rest_rad, flown_rad, layout, learned=leave == 0)


def _click_action(
    control: Control, change: int, after: Control, layout: PitchControl, radio: RadioSheet | None
) -> Action:
    response = response_of_deflection(control.axis, float(change))
    w = words_for(response)
    if radio is not None:
        w = words_for_pilot(response, layout, mode=radio.mode, levers_reversed=radio.levers_reversed)
    count = f"{abs(change)} click" + ("s" if abs(change) != 1 else "")
    return Action(
        _KIND[control.axis],
        float(abs(change)),
        "clicks",
        f"{_capital(control_name(control.axis, layout))} trim: {count} {w.model}, {w.trim_lever}.",
        "Few enough to stay in the radio.",
        _trim_reading(after),
        surface_words=_rest_words(control, after.resting_rad, layout),
        thumb="Rule of thumb: two clicks at a time.",
    )


def _trim_reading(control: Control) -> str:
    if control.clicks == 0:
        return "Trim reads centre."
    way = words_for(response_of_deflection(control.axis, float(control.clicks))).model
    return f"Trim reads {abs(control.clicks)} click{'s' if abs(control.clicks) != 1 else ''} {way} of centre."


def _turn_action(
    control: Control,
    half_turns: int,
    after: Control,
    rest_rad: float,
    flown_rad: float,
    layout: PitchControl,
    *,
    learned: bool = False,
) -> Action:
    w = words_for(response_of_deflection(control.axis, rest_rad - control.mechanical_rad), layout)
    turns = abs(half_turns) / 2.0
    preset = rest_rad - flown_rad
    sub = abs(math.degrees(after.sub_trim_rad))
    words = (
        f"{_capital(control_name(control.axis, layout))}: centre the trim, then turn the clevis {_turns(turns)} so that it goes "
        f"{w.model} ({w.surface})"
    )
    rest_of_it = "let the controller learn the remaining" if learned else "put the remaining"
    where = "" if learned else " in sub-trim"
    words += f", and {rest_of_it} {sub:.1f} degrees{where}." if sub > 0.05 else "."
    extra = ""
    if abs(preset) > control.rad_per_click:
        extra = f" It is pre-set {words_for(response_of_deflection(control.axis, preset)).model} by {abs(math.degrees(preset)):.1f} degrees for the new balance and what is left over."
    return Action(
        _KIND[control.axis],
        turns,
        "turns",
        words,
        "More than several clicks belong in the linkage, not in the radio." + extra,
        f"All trims centred; {_rest_words(control, rest_rad, layout)}.",
        surface_words=_rest_words(control, rest_rad, layout),
        thumb="Rule of thumb: note where the surface stands, centre the trim, turn the clevis until it stands there again.",
    )


def _turns(turns: float) -> str:
    whole, half = int(turns), turns % 1 > 0.25
    if whole == 0:
        return "half a turn" if half else "not at all"
    text = f"{whole}{' and a half' if half else ''} turn"
    return text + ("s" if turns > 1 else "")


def _capital(name: str) -> str:
    return name[0].upper() + name[1:]


def _rest_words(control: Control, rest_rad: float, layout: PitchControl) -> str:
    mm = control.millimetres(abs(rest_rad))
    if mm < 0.25:
        return f"{control_name(control.axis, layout)} fair with the fixed surface"
    side = words_for(response_of_deflection(control.axis, rest_rad), layout).surface
    return f"{side}, {mm:.1f} mm off fair at {control.chord_m * 1000:.0f} mm chord"
