"""What to do when it goes wrong in the air: short, in order, in the words of the model and the pilot's own sticks.

Common practice, no source. A card says what to do first and what never to do; the rules of the site and of the country come before
it, and it replaces nobody's training.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from jinba.core.airframe.layout import pitch_control_of
from jinba.core.cards.fitted import axes_of
from jinba.core.configuration import Configuration
from jinba.core.frames import Axis, DirectionWords, Response, axis_of, words_for, words_for_pilot

EMERGENCY_KINDS = ("out_of_trim", "tail_heavy", "lost_link", "battery_flat", "reversed", "parts_gone")


@dataclass(frozen=True, slots=True)
class Emergency:
    """One emergency. ``sign``: how it is told; ``steps``: what the hands do, in order; ``never``: what makes it worse; ``then``: what
    follows on the ground."""

    key: str
    title: str
    sign: str
    steps: tuple[str, ...]
    never: str
    then: str


_THEN = "Down: battery out, wait for the propeller. Then say what happened."
_THEN_GLIDER = "Down: battery out. Then say what happened."


def emergencies_for(configuration: Configuration) -> tuple[Emergency, ...]:
    """Return the emergency cards of a model, in the order of :data:`EMERGENCY_KINDS`; those for a motor's battery only with a motor.

    Directions stand as the model's response and, where the radio was described, the pilot's own stick. Common practice, no source.
    """
    powered = configuration.airframe.motor is not None
    axes = axes_of(configuration) or frozenset(Axis)
    found = (
        _out_of_trim(configuration, axes, powered=powered),
        _tail_heavy(powered=powered),
        _lost_link(powered=powered),
        _battery_flat(powered=powered),
        _reversed(configuration, axes, powered=powered),
        _parts_gone(powered=powered),
    )
    then = _THEN if powered else _THEN_GLIDER
    return tuple(Emergency(key, *said, then) for key, said in zip(EMERGENCY_KINDS, found, strict=True))


_Said = tuple[str, str, tuple[str, ...], str]
"""Title, sign, steps, never."""


def _words(configuration: Configuration, response: Response) -> DirectionWords:
    layout, controls = pitch_control_of(configuration.airframe), configuration.controls
    if controls is None:
        return words_for(response, layout)
    return words_for_pilot(
        response, layout, mode=controls.radio.mode, levers_reversed=tuple(controls.radio.levers_reversed)
    )


def _out_of_trim(configuration: Configuration, axes: Collection[Axis], *, powered: bool) -> _Said:
    held = [_words(configuration, r) for r in Response if axis_of(r) in axes and axis_of(r) is not Axis.YAW]
    power = "Power that it flies well with. " if powered else ""
    return (
        "Too far out of trim to let go",
        "It needs the stick held all the time.",
        (
            f"{power}Height first: climb gently, wings level, into the wind.",
            "Keep holding. Say aloud which way, and how far.",
            *(f"Held {w.stick}: trim it {w.model}, {w.trim_lever}." for w in held),
            "The helper gives the clicks, four at a time, until you say stop.",
            "It does not come right: land holding it, straight in, a little faster than usual.",
        ),
        "Never let go to see what it does.",
    )


def _tail_heavy(*, powered: bool) -> _Said:
    power = "Power steady: each change pitches it. " if powered else ""
    return (
        "Tail-heavy in the air",
        "The nose runs away up and down by itself; the smallest stick is too much.",
        (
            "Low rate, if there is one. Touch the stick, never hold it.",
            f"{power}Keep it faster than slow flight: slow, the nose comes up and stays there.",
            "Wide, flat turns. No loops, no stalls, nothing new.",
            "Land now: long, flat, fast, and fly it onto the ground.",
        ),
        "Never slow it down to find out.",
    )


def _lost_link(*, powered: bool) -> _Said:
    closed = "Throttle closed, other sticks centred: so it comes back quiet." if powered else "Sticks centred."
    return (
        "It does not answer",
        "No control does anything, or only now and then.",
        (
            "Call out loud: no control! Everybody looks up and takes cover.",
            "Transmitter high, aerial not pointing at the model; leave it switched on.",
            closed,
            "It answers again: land at once, whatever it was.",
            "It flies away: note where, how high, which way and when. Warn who must know by the rules of the site.",
        ),
        "Never switch the transmitter off while it is in the air.",
    )


def _battery_flat(*, powered: bool) -> _Said:
    title, sign = "Battery flat", "The motor fades or cuts, or the voltage warning comes."
    first = "Throttle closed: what is left in it moves the surfaces."
    if not powered:
        sign, first = "The voltage warning comes, or servos slow down.", "Few, small movements: each one costs current."
    return (
        title,
        sign,
        (
            first,
            "Nose down a little: keep the speed of the glide.",
            "High: turn to the field now. Low: straight ahead, to where nobody is.",
            "One approach, no go-round. Into the wind if there is height for it.",
        ),
        "Never stretch the glide by pulling, and never turn back low.",
    )


def _reversed(configuration: Configuration, axes: Collection[Axis], *, powered: bool) -> _Said:
    stop = "Still on the ground: throttle closed, stop." if powered else "Still in the hand or on the line: stop."
    nose_up, nose_down = (_words(configuration, r).stick for r in (Response.NOSE_UP, Response.NOSE_DOWN))
    rolls = Axis.ROLL in axes
    steps = [stop, "In the air: leave the one that is wrong centred, and steer with the others."]
    if rolls and Axis.YAW in axes:
        steps.append("Ailerons wrong: ailerons centred, small rudder keeps the wings level.")
    elif rolls:
        steps.append(
            "Rolling wrong: small movements, each the other way round: to lift the left wing, give what drops it."
        )
    steps.append("Pitch wrong: small movements, the other way round:")
    steps.append(f"{nose_down}, lifts the nose; {nose_up}, lowers it.".capitalize())
    steps.append("No turns that are not needed. Down at the first free place, straight ahead.")
    return (
        "A control works the wrong way",
        "It answers the stick by the opposite, and more stick makes it worse.",
        tuple(steps),
        "Never try out in the air which switch may mend it.",
    )


def _parts_gone(*, powered: bool) -> _Said:
    slower = "Throttle back" if powered else "Slow down"
    return (
        "Something broke, flutters or fell off",
        "A buzz, a part that trails or is gone, a control that does little.",
        (
            f"{slower}, nose gently up until the noise stops: speed feeds it.",
            "Hold the speed at which it still answers. No steep turns, no pull.",
            "Away from people, towards free ground.",
            "High enough: slow it step by step. The slowest at which it answers is the landing speed.",
            "Land straight in, into the wind, a little faster than that.",
        ),
        "Never fly one more circuit to look at it.",
    )
