"""Trim corrections: where each surface must rest for the next flight, and how that is set by hand."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

from jinba.core.airframe.layout import pitch_control_of
from jinba.core.bench.trim_transfer import held_now, reset
from jinba.core.configuration import Configuration
from jinba.core.controls.fitting import ControlRole, Fitting, surface_words
from jinba.core.controls.setup import COMMAND_OF
from jinba.core.controls.stabiliser import trims_forbidden
from jinba.core.controls.surface_control import Control
from jinba.core.controls.transfer import SurfaceOrder, Way, sharing
from jinba.core.controls.travel import ruler_m
from jinba.core.controls.trim import rest_words, surface_rest_rad
from jinba.core.correct.actions import Action, ActionKind, Expected, Reads
from jinba.core.diagnose.seen import Seen
from jinba.core.diagnose.speaks import could_not
from jinba.core.diagnose.tendencies import CRAB_LIMIT_DEG, pitch_limit_deg_s, roll_limit_deg_s
from jinba.core.diagnose.update import Belief
from jinba.core.frames import Axis, PitchControl, control_name, response_of_deflection, words_for, words_for_pilot
from jinba.core.observe import predictions
from jinba.core.observe.parameters import Array
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import Trims, design_of
from jinba.core.spoken import a_length

CLICKS_TO_LEAVE = 4
"""Up to this many clicks stay in the radio; more are moved to the clevis: common practice, no source ("several")."""

_SLOW_SHARE = 0.35

_KIND = {Axis.PITCH: ActionKind.ELEVATOR, Axis.ROLL: ActionKind.AILERON, Axis.YAW: ActionKind.RUDDER}
_SURFACE_KIND = {
    ControlRole.ELEVATOR: ActionKind.ELEVATOR,
    ControlRole.FOREPLANE: ActionKind.ELEVATOR,
    ControlRole.RUDDER: ActionKind.RUDDER,
    ControlRole.LEFT_AILERON: ActionKind.AILERON,
    ControlRole.RIGHT_AILERON: ActionKind.AILERON,
    ControlRole.LEFT_FLAPERON: ActionKind.AILERON,
    ControlRole.RIGHT_FLAPERON: ActionKind.AILERON,
    ControlRole.LEFT_ELEVON: ActionKind.ELEVON,
    ControlRole.RIGHT_ELEVON: ActionKind.ELEVON,
    ControlRole.LEFT_V_TAIL: ActionKind.TAIL_SURFACE,
    ControlRole.RIGHT_V_TAIL: ActionKind.TAIL_SURFACE,
}
_AIM: dict[Axis, tuple[Callable[[Array, Moment], float], str]] = {
    Axis.PITCH: (predictions.trim_left_cruise, "pitch_left_over"),
    Axis.ROLL: (predictions.roll_rate_cruise, "roll_cruise"),
    Axis.YAW: (predictions.crab_cruise, "yaw_left_over"),
}


_OWN_CARDS = {Axis.PITCH: {"F2"}, Axis.ROLL: {"F3", "F7"}, Axis.YAW: {"F4"}}
"""Cards that show how an axis flies hands off."""


def _limit(configuration: Configuration, axis: Axis) -> float:
    design = design_of(configuration)
    if axis is Axis.YAW:
        return CRAB_LIMIT_DEG
    return pitch_limit_deg_s(design) if axis is Axis.PITCH else roll_limit_deg_s(design)


def left_over(configuration: Configuration, belief: Belief, trims: Trims, axis: Axis) -> float:
    """Return what is left over hands off on an axis [deg/s; yaw deg] with the surfaces resting there, model bias included.

    Roll: mostly at cruise, a little in slow flight. Derived here (docs/methods/corrections.md).
    """
    predict, key = _AIM[axis]
    moment = Moment(design_of(configuration), trims)
    value = predict(belief.mean, moment) + belief.missed(key, moment.design)
    if axis is Axis.ROLL:
        # What no ballast could take away is shared: mostly level at cruise, a little for slow flight.
        value += _SLOW_SHARE * (_slow_roll(belief, moment) - value)
    return value


def _slow_roll(belief: Belief, moment: Moment) -> float:
    return predictions.roll_rate_slow(belief.mean, moment) + belief.missed("roll_slow", moment.design)


def in_band(configuration: Configuration, belief: Belief, trims: Trims, axis: Axis) -> bool:
    """Return whether an axis flies hands off within its band with the surfaces resting there: nothing to trim.

    Derived here (docs/methods/corrections.md).
    """
    if abs(left_over(configuration, belief, trims, axis)) > _limit(configuration, axis):
        return False
    slow = 0.0 if axis is not Axis.ROLL else _slow_roll(belief, Moment(design_of(configuration), trims))
    return abs(slow) <= _limit(configuration, Axis.ROLL)


def needed_rest_rad(
    configuration: Configuration, belief: Belief, trims: Trims, axis: Axis, *, carries: Axis | None = None
) -> float:
    """Return where a surface must rest [rad] for hands-off flight at cruise, model bias included, others at ``trims``.

    ``carries``: the axis that is levelled with it, None for its own; a model without ailerons is levelled with its rudder.
    Secant on the predicted rate, which is linear in the deflection but for the airspeed. Derived here.
    """

    def rate(angle: float) -> float:
        return left_over(configuration, belief, trims.moved(axis, angle), carries or axis)

    # A secant needs no derivative, and the rate is all but straight in the deflection: two or three rounds.
    a, b = 0.0, 0.02
    fa, fb = rate(a), rate(b)
    if abs(fb - fa) < 1e-9:
        return trims.of(axis)
    for _ in range(6):
        a, b = b, b - fb * (b - a) / (fb - fa)
        fa, fb = fb, rate(b)
        if abs(fb) < 1e-6 or fb == fa:
            break
    return _within_reach(b)


_REACH_RAD = 0.35
"""Twenty degrees: beyond it no surface works as computed, and something else is wrong with the model. Common practice, no source."""


def _within_reach(rest_rad: float) -> float:
    return max(-_REACH_RAD, min(_REACH_RAD, rest_rad))


def clicks_to_leave(configuration: Configuration) -> int:
    """Return how many clicks may stay in the radio: the pilot's threshold, none where a controller reads them as commands."""
    setup = configuration.controls
    if setup is None:
        return CLICKS_TO_LEAVE
    return 0 if trims_forbidden(setup.stabiliser) else setup.threshold_clicks


def trims_wanted(
    configuration: Configuration,
    belief: Belief,
    flown: Trims,
    seen: Seen,
    *,
    altered: bool,
    leave: frozenset[Axis] = frozenset(),
) -> Trims:
    """Return where every surface is to rest: as it flew where that is in its band or nothing was seen of it. [rad]

    ``altered``: balance or thrust line are changed with it; where that takes the elevator out of its band it is pre-set, seen or
    not. ``leave``: axes that stay as they flew. Derived here (docs/methods/corrections.md).
    """
    served = frozenset(a for group in sharing(configuration.control_setup) for a in group)
    trims = flown
    # Yaw moves roll, and roll is set for the pitch trim it flies with: one after the other.
    for axis in _ORDER:
        if axis not in served or axis in leave:
            continue
        carries = _carried(axis, served, seen)
        unseen = not (_OWN_CARDS[carries] & seen.cards) and not (axis is Axis.PITCH and altered)
        if not altered and _said_level(carries, seen):
            continue
        if unseen or in_band(configuration, belief, trims, carries):
            continue
        trims = trims.moved(axis, needed_rest_rad(configuration, belief, trims, axis, carries=carries))
    return trims


_LOOKS = {
    Axis.PITCH: (("F2", "left_over", "holds"),),
    Axis.ROLL: (("F3", "left_over", "level"), ("F7", "roll_slow", "level"), ("F28", "roll_slow", "level")),
    Axis.YAW: (("F4", "left_over", "straight"),),
}
"""Where each axis is looked at hands off, and the word for nothing left over."""


def _said_level(axis: Axis, seen: Seen) -> bool:
    """Whether the pilot trimmed an axis and said of every look at it that nothing is left: his word is nearer than any closed form."""
    words = [
        said.choice == level
        for card_id, key, level in _LOOKS[axis]
        if (r := seen.of(card_id)) is not None and not could_not(r) and (said := r.reading(key)) is not None
    ]
    return bool(words) and all(words) and _LOOKS[axis][0][0] in seen.cards


def _carried(axis: Axis, served: frozenset[Axis], seen: Seen) -> Axis:
    """Return the axis that one levels: its own; roll for the rudder of a model without ailerons whose roll was seen."""
    by_rudder = axis is Axis.YAW and Axis.ROLL not in served and bool(_OWN_CARDS[Axis.ROLL] & seen.cards)
    return Axis.ROLL if by_rudder else axis


def set_trims(
    configuration: Configuration,
    belief: Belief,
    flown: Trims,
    seen: Seen,
    *,
    altered: bool = False,
    leave: frozenset[Axis] = frozenset(),
) -> tuple[Configuration, tuple[Action, ...]]:
    """Return the configuration with every surface resting where hands-off flight wants it, and what to do by hand.

    ``altered``, ``leave``: as in :func:`trims_wanted`. ``flown``: where the axes rested at the end of the last sortie, trim clicks included. [rad] Few clicks stay in the radio;
    where one axis has more, it and all that share a surface with it go to the clevis, an order per surface. An axis that no
    surface answers is left. References: docs/methods/corrections.md (derived here).
    """
    setup = configuration.control_setup
    groups = sharing(setup)
    served = frozenset(a for group in groups for a in group)
    rests = trims_wanted(configuration, belief, flown, seen, altered=altered, leave=leave)
    # What is left as it flew keeps its clicks; a clevis that two axes share is not turned for one of them alone.
    to_clevis = _beyond(configuration, tuple(g for g in groups if not g & leave), rests, flown)
    after, actions = configuration, []
    for axis in _ORDER:
        if axis not in served or axis in to_clevis:
            continue
        control, action = _in_radio(after, axis, rests.of(axis), flown.of(axis))
        after = after.with_control(control)
        actions += [] if action is None else [action]
    # Trimmed in the air it may have flown further off than any clevis should hold it.
    wanted = {a: _within_reach(rests.of(a)) for a in to_clevis}
    if wanted:
        held = {a: held_now(configuration.control(a), rest_rad=flown.of(a)) for a in wanted}
        after, found = reset(after, held, wanted, Way.CLEVIS, axes=tuple(wanted))
        actions += [_by_hand(o, configuration) for o in found if not o.idle]
    return after, tuple(actions)


_ORDER = (Axis.YAW, Axis.PITCH, Axis.ROLL)


def _beyond(c: Configuration, groups: tuple[frozenset[Axis], ...], wanted: Trims, flown: Trims) -> frozenset[Axis]:
    """Return the axes whose trim leaves the radio: more than may stay there, or sharing a surface with one that has more."""
    leave = clicks_to_leave(c)

    def beyond(axis: Axis) -> bool:
        control = c.control(axis)
        if leave == 0:
            return not _settled(control, wanted.of(axis), flown.of(axis))
        return abs(wanted.of(axis) - control.mechanical_rad) > (leave + 0.5) * control.rad_per_click

    return frozenset(a for group in groups if any(beyond(a) for a in group) for a in group)


def _settled(control: Control, rest_rad: float, flown_rad: float) -> bool:
    """Return whether a surface that must hold no click rests where it should, within half of one."""
    # What the radio holds is the resting place less what linkage and sub-trim hold already.
    clicks = round((flown_rad - control.mechanical_rad - control.sub_trim_rad) / control.rad_per_click)
    return clicks == 0 and abs(rest_rad - flown_rad) < 0.5 * control.rad_per_click


def _in_radio(c: Configuration, axis: Axis, rest_rad: float, flown_rad: float) -> tuple[Control, Action | None]:
    """Return the control set by trim clicks alone, and the clicks to give; no action when there are none."""
    control = c.control(axis)
    neutral = control.mechanical_rad + control.sub_trim_rad
    flown = round((flown_rad - neutral) / control.rad_per_click)
    if clicks_to_leave(c) == 0:
        return control, None
    clicks = round((rest_rad - neutral) / control.rad_per_click)
    after = replace(control, clicks=clicks)
    return after, None if clicks == flown else _click_action(c.with_control(after), axis, clicks - flown)


def _click_action(c: Configuration, axis: Axis, change: int) -> Action:
    layout, radio = pitch_control_of(c.airframe), c.control_setup.radio
    response = response_of_deflection(axis, float(change))
    w = words_for_pilot(response, layout, mode=radio.mode, levers_reversed=radio.levers_reversed)
    count = f"{abs(change)} click" + ("s" if abs(change) != 1 else "")
    return Action(
        _KIND[axis],
        float(abs(change)),
        "clicks",
        f"{_capital(control_name(axis, layout))} trim: {count} {w.model}, {w.trim_lever}.",
        "Few enough to stay in the radio.",
        _trim_reading(c.control(axis)),
        surface_words="; ".join(_rests(c, axis)),
        thumb="Rule of thumb: two clicks at a time.",
        expected=_reads_clicks(c.control(axis)),
    )


def _reads_clicks(control: Control) -> Expected:
    ways = [words_for(response_of_deflection(control.axis, sign)).model for sign in (1.0, -1.0)]
    return Expected(Reads.CLICKS, float(control.clicks), 0.0, "clicks", ways[0], ways[1], control.axis.value)


def _rests(c: Configuration, axis: Axis) -> list[str]:
    """Return where the surfaces of an axis rest with their trims, in words."""
    inverted_v = pitch_control_of(c.airframe) is PitchControl.INVERTED_V_TAIL
    offsets = {a: c.control(a).resting_rad for a in Axis}
    setup = c.control_setup
    return [rest_words(f, surface_rest_rad(f, offsets, inverted_v=inverted_v)) for f in setup.moving(COMMAND_OF[axis])]


def _trim_reading(control: Control) -> str:
    if control.clicks == 0:
        return "Trim reads centre."
    way = words_for(response_of_deflection(control.axis, float(control.clicks))).model
    return f"Trim reads {abs(control.clicks)} click{'s' if abs(control.clicks) != 1 else ''} {way} of centre."


def _by_hand(order: SurfaceOrder, c: Configuration) -> Action:
    """Return the order for one surface as an action of the work order."""
    fitting = next(f for f in c.control_setup.fittings if f.role.value == order.role)
    preset = order.rest_rad - order.start_rad
    extra = ""
    if ruler_m(fitting.chord_m, preset) > _WORTH_SAYING_M:
        way = surface_words(fitting.role, preset).removeprefix(fitting.name).strip()
        extra = (
            f" It is set {a_length(ruler_m(fitting.chord_m, preset), 1)} further {way} than it flew, for the new balance and "
            "what is left over."
        )
    turned = order.half_turns != 0
    return Action(
        _SURFACE_KIND[fitting.role],
        abs(order.half_turns) / 2.0 if turned else abs(order.held_us),
        "turns" if turned else "µs",
        f"Centre the trims. {' '.join(order.steps)}",
        f"It stands {order.starts} now. More than several clicks belong in the linkage, not in the radio.{extra}",
        order.find,
        surface_words=order.stands,
        thumb="Rule of thumb: note where the surface stands, centre the trim, turn the clevis until it stands there again.",
        expected=_reads_surface(order, fitting),
    )


_WORTH_SAYING_M = 0.0003

_RULER_M = 0.0006
"""How near a trailing edge is set with a clevis and read with a ruler: common practice, no source."""


def _reads_surface(order: SurfaceOrder, fitting: Fitting) -> Expected:
    ways = ("left", "right") if fitting.role is ControlRole.RUDDER else ("down", "up")
    stands = math.copysign(order.rest_m, order.rest_rad)
    return Expected(Reads.SURFACE, stands, _RULER_M, "m", *ways, order.role, fitting.chord_m)


def _capital(name: str) -> str:
    return name[0].upper() + name[1:]
