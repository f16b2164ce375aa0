"""The catalogue for one model: in the words of what pitches it, and without what it does not have."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

from jinba.core.airframe.layout import pitch_control_of
from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.ground_cards import direction_card, loosened_card, pack_card, resting_card, stabiliser_card
from jinba.core.cards.model import Card
from jinba.core.configuration import Configuration, Launch, balance_of
from jinba.core.controls.fitting import Command
from jinba.core.controls.setup import COMMAND_OF
from jinba.core.controls.switches import Job
from jinba.core.frames import Axis, DirectionWords, PitchControl, Response, words_for, words_for_pilot

_WHOLE = 0.05
"""Hinge line [of the chord] up to which a surface turns as a whole: common practice, no source."""


@dataclass(frozen=True, slots=True)
class FlownWith:
    """What of a model may have flown a card with the pilot, and is asked about on the console: only what is there."""

    motor: bool
    stabiliser: bool
    flaps: bool
    gear: bool


def flown_with(configuration: Configuration) -> FlownWith:
    """Return what of a model may have flown a card with the pilot, as the bench describes it. By definition."""
    setup, gear = configuration.controls, configuration.airframe.gear
    by_switch = setup is not None and any(Job.GEAR in s.jobs for s in setup.radio.switches)
    return FlownWith(
        motor=configuration.airframe.motor is not None,
        stabiliser=setup is not None and setup.stabiliser is not None,
        flaps=setup is not None and bool(setup.moving(Command.FLAP)),
        gear=by_switch or (gear is not None and gear.folds),
    )


def directions_of(configuration: Configuration) -> dict[str, DirectionWords]:
    """Return every direction of a model in words, by its response; of the pilot's own sticks and levers where his radio is described."""
    layout, setup = pitch_control_of(configuration.airframe), configuration.controls
    if setup is None:
        return {r.value: words_for(r, layout) for r in Response}
    radio = setup.radio
    return {
        r.value: words_for_pilot(r, layout, mode=radio.mode, levers_reversed=radio.levers_reversed) for r in Response
    }


def axes_of(configuration: Configuration) -> frozenset[Axis]:
    """Return the axes that some surface of a model answers."""
    setup = configuration.control_setup
    return frozenset(axis for axis, command in COMMAND_OF.items() if setup.moving(command))


def cards_of(configuration: Configuration) -> dict[str, Card]:
    """Return the catalogue for a model: no question about a surface that is not there."""
    a = configuration.airframe
    turning = a.pitch_surface
    all_moving = turning is not None and turning.hinge_fraction <= _WHOLE
    motor = a.motor
    # Aft of the balance point it pushes: a throwing hand is ahead of it.
    pusher = motor is not None and motor.x_m > balance_of(configuration).x_m
    return _cards(pitch_control_of(a), axes_of(configuration), all_moving, motor is not None) | _take_off(
        configuration.launch, motor is not None, pusher
    )


@lru_cache(maxsize=64)
def _cards(layout: PitchControl, axes: frozenset[Axis], all_moving: bool, motor: bool) -> dict[str, Card]:
    made = {
        "B4": direction_card(layout, axes),
        "B11": stabiliser_card(layout, axes, all_moving=all_moving),
        "A1": pack_card(motor=motor),
        "A2": loosened_card(motor=motor),
        "A3": resting_card(layout, axes),
    }
    if Axis.ROLL not in axes:
        made["F3"] = _without_ailerons(CARDS["F3"])
    return CARDS | made


@lru_cache(maxsize=16)
def _take_off(launch: Launch, has_motor: bool, pusher: bool) -> dict[str, Card]:
    """Return F1 as a model is launched, with the cautions where the hand is. Common practice, no source."""
    card = CARDS["F1"]
    if launch is Launch.WHEELS:
        return {}
    if launch is Launch.BUNGEE:
        return {
            "F1": replace(
                card,
                steps=(
                    "Bungee pegged into wind, nobody beside or ahead of it, a helper at the release.",
                    "Wings level, nose a little up; release.",
                    "Off the line: power only then. Climb straight, wings level, to height.",
                ),
                condition="bungee or catapult · low rates",
                cautions=(
                    "Nobody in line with the bungee, ahead or behind.",
                    "Motor armed only when every hand is clear of propeller and line.",
                    "Both thumbs on the sticks.",
                ),
            )
        }
    hand = (
        "Pusher: the propeller turns behind the throwing hand. Throw first, power when the hand is clear."
        if pusher
        else "Hand behind the propeller and below the wing; sleeves and straps clear."
        if has_motor
        else "A straight push, not a swing round the shoulder."
    )
    return {
        "F1": replace(
            card,
            steps=(
                "Into wind, a helper throws, you fly. Count down aloud.",
                "Thrown level or a little up, wings level, straight; never steep.",
                "Let it gather speed before it climbs. Straight, wings level, to height.",
            ),
            condition=f"thrown by hand{' · power as agreed' if has_motor else ''} · low rates",
            cautions=(hand, "Everyone behind you.", "Both thumbs on the sticks."),
        )
    }


def _without_ailerons(card: Card) -> Card:
    """Return F3 of a model that rolls by its rudder: nothing to trim with, and all the more to be seen."""
    return replace(
        card,
        title="Roll, hands off",
        purpose="Without ailerons a heavy wing is carried by the rudder: see it first.",
        steps=(
            "Level, coming towards you, rudder where it flies straight.",
            "Hands off from level, twice. Time to thirty degrees of bank.",
            "Turn gently and let go: does it come out by itself?",
        ),
        captures=tuple(c for c in card.captures if c.key != "roll_clicks"),
        masked_by="rudder out of trim: it is the only roll control",
    )
