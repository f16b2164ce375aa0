"""Bench, ground and after-flight cards."""

from __future__ import annotations

from dataclasses import replace

from jinba.core.cards.captures import heat, passed, trailing_edge, trailing_edge_sideways
from jinba.core.cards.incident import AFTER_REPAIR
from jinba.core.cards.model import Capture, CaptureKind, Card, Option, Phase
from jinba.core.controls.pulses import NEUTRAL_US
from jinba.core.frames import Axis, PitchControl, Response, words_for
from jinba.core.spoken import a_length

_PROP_OFF = "Propeller off, or the motor disconnected, for every set-up step."


_ASKED = {
    Axis.PITCH: ("elevator", "Stick back", Response.NOSE_UP),
    Axis.ROLL: ("aileron", "Stick right", Response.ROLL_RIGHT),
    Axis.YAW: ("rudder", "Rudder stick right", Response.YAW_RIGHT),
}


def direction_card(layout: PitchControl, axes: frozenset[Axis] = frozenset(Axis)) -> Card:
    """Return B4, every control the right way, with the surfaces' words of a layout; only of the axes a model has."""
    asked = [a for axis, a in _ASKED.items() if axis in axes]
    said = {key: f"{stick}: {words_for(response, layout).surface}" for key, stick, response in asked}
    return Card(
        "B4",
        "Every control the right way",
        "A reversed control ends the first flight in seconds.",
        Phase.BENCH,
        0,
        ("Stand behind the model.", *(f"{words}." for words in said.values())),
        tuple(passed(key, words) for key, words in said.items()),
        cautions=(_PROP_OFF,),
        abort_when="Any one reversed: stop, correct, start this card again.",
    )


def stabiliser_card(layout: PitchControl, axes: frozenset[Axis] = frozenset(Axis), *, all_moving: bool = False) -> Card:
    """Return B11, the stabiliser works against every tilt, with the surfaces' words of a layout.

    ``all_moving``: what pitches the model turns as a whole, so that its leading edge is what one sees go. A tilt is answered by
    the opposite response: nose down by nose up.
    """
    pitch = words_for(Response.NOSE_UP, layout).surface
    if all_moving:
        pitch += ", its leading edge up" if layout is PitchControl.FOREPLANE else ", its leading edge down"
    against = [f"tilt the nose down: {pitch}"]
    against += [f"roll it right: {words_for(Response.ROLL_LEFT, layout).surface}"] if Axis.ROLL in axes else []
    against += [f"swing the nose right: {words_for(Response.YAW_LEFT, layout).surface}"] if Axis.YAW in axes else []
    return Card(
        "B11",
        "Stabiliser directions and level",
        "A reversed stabiliser flies the model into the ground by itself.",
        Phase.BENCH,
        0,
        (
            "Arrow and mounting as set.",
            *(f"Each mode, {words}." for words in against),
            "Gains low for the first flight.",
            "Nose propped at the cruise attitude: the level reads zero.",
            f"Trims centred; every channel rests at {NEUTRAL_US:.0f} µs.",
        ),
        (passed("stabiliser", "Every surface works against the tilt, level set"),),
        cautions=(_PROP_OFF,),
        requires="stabiliser",
        abort_when="Any surface follows the tilt: stop, reverse it in the device, start again.",
    )


BENCH_CARDS: tuple[Card, ...] = (
    Card(
        "B1",
        "Structure and propeller",
        "Nothing may come loose.",
        Phase.BENCH,
        0,
        (
            "Pull each hinge.",
            "Shake each servo and link.",
            "Check wing retention.",
            "Check every visible fastener.",
            "Propeller: right way round, balanced, tight. Then take it off again for the rest.",
        ),
        (passed("sound", "Everything sound"),),
        cautions=(_PROP_OFF,),
        abort_when="A crack, a loose hinge or a soft spot: repair first.",
    ),
    Card(
        "B2",
        "Neutrals fair and square",
        "Surfaces in line, set with the clevis, not with the radio.",
        Phase.BENCH,
        0,
        (
            "Centre every trim.",
            "Look along the whole span of each surface.",
            "Turn the clevis until it is fair.",
            "Wiggle each surface: no slop.",
        ),
        (
            passed("fair", "All surfaces fair, no slop"),
            Capture(
                "elevator_rests_mm", CaptureKind.SURFACE, "Elevator off fair by", unit="mm", highest=60, passes_to=3.0
            ),
        ),
        cautions=(_PROP_OFF,),
        tells=f"{a_length(0.003)} off is already too much for a small surface.",
    ),
    Card(
        "B3",
        "Incidence, both sides",
        "A wing glued back is a new wing.",
        Phase.BENCH,
        0,
        (
            "Model level on its stand.",
            "Incidence at root and tip, left and right.",
            "Tail against the wing, fin upright.",
            "Enter what was read on the airframe sheet.",
        ),
        (passed("incidence", "Both sides read, alike, and entered"),),
        cautions=(_PROP_OFF,),
        abort_when="Half a degree between the sides: straighten it first.",
        requires=AFTER_REPAIR,
    ),
    direction_card(PitchControl.TAIL),
    Card(
        "B5",
        "Throws of every rate",
        "Measured at the trailing edge, both ways.",
        Phase.BENCH,
        0,
        (
            "Lay the throw gauge or a ruler at the trailing edge, at the chord in the set-up sheet.",
            "Each rate, full stick, both ways: compare with the sheet.",
            "Full flap, full trims and both sticks in the corners: nothing binds, no servo hums.",
        ),
        (passed("throws", "Every throw as on the sheet, nothing binds"),),
        cautions=(_PROP_OFF,),
        tells="A throw that differs by more than a tenth: another hole, another end point, or slop.",
    ),
    Card(
        "B6",
        "Radio memory",
        "A copied memory brings another model's trims.",
        Phase.BENCH,
        0,
        (
            "Read the model name aloud.",
            "Trims at centre.",
            "Sub-trims known and written down.",
            "Timer set.",
            "Rates: low for the first flight.",
            "Copied from another model? Go through its trims, sub-trims and mixes.",
            "Switches: motor cut alone, no switch with two jobs.",
        ),
        (passed("memory", "Right memory, trims centred, timer set"),),
        cautions=(_PROP_OFF,),
    ),
    Card(
        "B7",
        "Mass and balance, ready to fly",
        "Weigh and balance with the pack that will fly.",
        Phase.BENCH,
        0,
        (
            "Fit the flight pack where it will fly, strapped.",
            "Weigh.",
            "Low wing upside down, high wing upright.",
            "Read the balance station from the datum.",
            "Prompt tail drop: do not fly.",
        ),
        (passed("balance", "Balance point read and entered"),),
        cautions=("Pack not connected while you handle the model.",),
    ),
    stabiliser_card(PitchControl.TAIL),
)

GROUND_CARDS: tuple[Card, ...] = (
    Card(
        "G1",
        "Range check",
        "The link must hold with power reduced.",
        Phase.GROUND,
        0,
        ("Set reduced power as the radio's manual says.", "Walk the distance.", "Helper watches every surface."),
        (passed("range", "Full control at the distance"),),
        cautions=("Helper holds the model; hands clear of the propeller.",),
        abort_when="Any glitch: do not fly.",
    ),
    Card(
        "G2",
        "Fail-safe, channel by channel",
        "Losing the link must cut the motor.",
        Phase.GROUND,
        0,
        (
            "Hold the model fast.",
            "Switch the transmitter off.",
            "Motor stops, surfaces go where you set them.",
            "Switch on again.",
        ),
        (passed("failsafe", "Motor cut; every channel as set"),),
        cautions=("Model held, propeller arc clear of people.", "Any later edit re-opens this card."),
        abort_when="Motor keeps running: do not fly.",
    ),
    Card(
        "G7",
        "Wind, sun, people, ground",
        "Go, caution or no-go, on the spot.",
        Phase.GROUND,
        0,
        (
            "Measure wind and gusts for a minute.",
            "Look where the sun stands on final.",
            "Who is under the pattern? Who comes by?",
            "Long open ground straight ahead? Is the grass wet or long?",
            "Thunder, heard or seen: no flight for half an hour.",
            "Rested, sober, warm hands, nothing on your mind?",
        ),
        (
            passed("site", "Site clear, wind within limits"),
            passed("people", "Nobody under the pattern, nobody in front"),
            passed("thunder", "No thunder heard or seen"),
            passed("fit", "Fit to fly"),
            Capture(
                "ground",
                CaptureKind.CHOICE,
                "The ground",
                False,
                (Option("good", "dry and short"), Option("wet", "wet"), Option("long", "long grass")),
            ),
        ),
        cautions=("Nobody in front of or beside the model at launch.", "Site rules and local law come first."),
    ),
)

VOLTS_AFTER_MINUTES = 5.0
"""Volts are read so long after touch-down, the same each time [min]: common practice, no source."""

_SEPARATE = (PitchControl.TAIL, PitchControl.FOREPLANE)


def resting_card(layout: PitchControl, axes: frozenset[Axis]) -> Card:
    """Return A3, where the surfaces rest: of ailerons and rudder too, where they are surfaces of their own and the model has them."""
    card = next(c for c in AFTER_CARDS if c.id == "A3")
    *before, noted = card.captures
    own = axes if layout in _SEPARATE else frozenset[Axis]()
    if Axis.ROLL in own:
        before += [
            Capture("aileron_mm", CaptureKind.SURFACE, "Right aileron off fair by", unit="mm", highest=60),
            trailing_edge("aileron_way", "The right aileron stands with its"),
        ]
    if Axis.YAW in own:
        before += [
            Capture("rudder_mm", CaptureKind.SURFACE, "Rudder off fair by", unit="mm", highest=60),
            trailing_edge_sideways("rudder_way", "From behind, the rudder stands with its"),
        ]
    return replace(card, captures=(*before, noted))


def pack_card(*, motor: bool) -> Card:
    """Return A1, the pack after the flight: of the motor's minutes and currents only where there is one."""
    card = next(c for c in AFTER_CARDS if c.id == "A1")
    return card if motor else replace(card, captures=tuple(c for c in card.captures if c.key in ("minutes", "volts")))


def loosened_card(*, motor: bool) -> Card:
    """Return A2, what vibration has loosened: heat only of what is there."""
    card = next(c for c in AFTER_CARDS if c.id == "A2")
    return card if motor else replace(card, captures=tuple(c for c in card.captures if c.key != "motor_heat"))


AFTER_CARDS: tuple[Card, ...] = (
    Card(
        "A1",
        "Pack after the flight",
        "Minutes and volts make the next timer honest.",
        Phase.AFTER,
        0,
        ("Disconnect the pack first.", "Wait the same time as always, then read its volts."),
        (
            Capture("minutes", CaptureKind.READING, "Minutes flown", True, unit="min", highest=600, by_clock=True),
            Capture(
                "volts",
                CaptureKind.READING,
                "Volts at rest, of a cell or of the pack",
                unit="V",
                highest=130,
                wait_minutes=VOLTS_AFTER_MINUTES,
            ),
            Capture(
                "motor_minutes",
                CaptureKind.READING,
                "Of the minutes, those with the motor running",
                unit="min",
                highest=600,
                on_wish=True,
            ),
            Capture(
                "current_full",
                CaptureKind.READING,
                "Current at full throttle in the air, measured",
                unit="A",
                highest=500,
                on_wish=True,
            ),
            Capture(
                "current_cruise",
                CaptureKind.READING,
                "Current in level cruise, measured",
                unit="A",
                highest=500,
                on_wish=True,
            ),
        ),
        cautions=(
            "Disconnect before you touch anything near the propeller.",
            "Puffed or hot pack: outside, away from the car.",
        ),
    ),
    Card(
        "A2",
        "Fasteners, hinges, heat",
        "What vibration has loosened.",
        Phase.AFTER,
        0,
        (
            "Servo screws first, then nuts.",
            "Every hinge.",
            "Motor, speed controller, pack: warm is fine, too hot to hold is not.",
        ),
        (
            heat("motor_heat", "Motor and controller, by hand"),
            heat("pack_heat", "Pack, by hand"),
            passed("tight", "Everything tight"),
        ),
        cautions=("Pack disconnected.",),
    ),
    Card(
        "A3",
        "Where the surfaces rest",
        "Read before any trim is touched.",
        Phase.AFTER,
        0,
        ("Leave the trims as flown.", "Measure each trailing edge against the fixed surface."),
        (
            Capture("elevator_mm", CaptureKind.SURFACE, "Elevator trailing edge off fair by", unit="mm", highest=60),
            trailing_edge("elevator_way", "It stands with its"),
            passed("noted", "Read with trims as flown"),
        ),
        cautions=("Propeller off before the radio is on again.",),
    ),
)
