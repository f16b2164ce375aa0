"""Flight cards of controls and stabilisers: flap step, knife-edge, self-levelling, midpoints, gains."""

from __future__ import annotations

from jinba.core.cards.captures import ROLL, UP_DOWN, YAW, both_headings, roll_rating, seconds, stick, trailing_edge
from jinba.core.cards.model import Capture, CaptureKind, Card, Option, Phase

_HEIGHT = "Height first: two mistakes high, clear of people."
_CLIMBS = (Option("sinks", "sinks"), Option("holds", "holds its height"), Option("climbs", "climbs"))
_YES_NO = (Option("yes", "yes"), Option("no", "no"))
_SHAKES = (Option("sluggish", "droops, feels soft"), Option("fine", "is crisp and still"), Option("shakes", "shakes"))


def _rudder(side: str) -> Capture:
    return stick(f"rudder_{side}", f"Rudder held, {side} rudder", *YAW)


CONTROL_CARDS: tuple[Card, ...] = (
    Card(
        "F11",
        "Flap step, smallest first",
        "How much stick each flap setting takes, before any mix.",
        Phase.FLIGHT,
        3,
        (
            "High, slow, level, no flap mix.",
            "A quarter of the flap. How much elevator holds it level?",
            "Half. Again. Stop where it takes more than half the stick.",
            "Full flap only if half was easy.",
            "Flap in, one step after the other.",
        ),
        (
            stick("stick_quarter", "Stick held at a quarter of the flap", *UP_DOWN, required=True),
            stick("stick_half", "Stick held at half the flap", *UP_DOWN),
            stick("stick_full", "Stick held at full flap", *UP_DOWN),
            stick("aileron_held", "Most aileron a gust took at that flap", *ROLL),
        ),
        condition="a third above stall speed · flap step by step · no mix · gyro off",
        needs=("F7", "F8"),
        gust_limit_mps=4.0,
        abort_when="It takes more than half the stick: flap back in at once.",
        cautions=(_HEIGHT, "Flap in again before you think about why."),
        tells="the mix from flap to elevator; different flaps do not follow one line",
        masked_by="a flap mix that is on",
        minutes=1.5,
        requires="flap",
    ),
    Card(
        "F21",
        "Knife-edge, both sides",
        "What the rudder couples into pitch and roll.",
        Phase.FLIGHT,
        4,
        (
            "High, full power, straight and level, along the strip.",
            "Roll to knife-edge, right rudder holds it up. Which way does it pitch and roll?",
            "Level. The other side, left rudder.",
        ),
        (
            Capture("height_right", CaptureKind.CHOICE, "With right rudder it", True, _CLIMBS),
            _rudder("right"),
            stick("pitch_right", "Elevator needed to keep straight, right rudder", *UP_DOWN),
            stick("roll_right", "Aileron needed to stay on edge, right rudder", *ROLL),
            Capture("height_left", CaptureKind.CHOICE, "With left rudder it", True, _CLIMBS),
            _rudder("left"),
            stick("pitch_left", "Elevator needed to keep straight, left rudder", *UP_DOWN),
            stick("roll_left", "Aileron needed to stay on edge, left rudder", *ROLL),
        ),
        condition="full power · flaps up · gyro off",
        needs=("F12", "F14"),
        gust_limit_mps=4.0,
        abort_when="It will not hold height: roll level, climb.",
        cautions=(_HEIGHT, "Never towards people."),
        tells="mixes from rudder to elevator and aileron; climbs: less rudder",
        masked_by="a balance that is not settled",
        inverted=True,
        powered=True,
        requires="rudder",
        minutes=1.0,
    ),
    Card(
        "F23",
        "Self-levelling, hands off",
        "Does the level reference hold the height?",
        Phase.FLIGHT,
        2,
        (
            "High, self-levelling, cruise throttle, into the wind.",
            "Hands off. Does it climb, hold or sink?",
            "Time a known height, or estimate the height over half a minute.",
        ),
        (
            Capture("path", CaptureKind.CHOICE, "Hands off it", True, _CLIMBS),
            Capture("height", CaptureKind.LEVEL, "Height gained or lost", unit="m", highest=300),
            seconds("seconds", "in this time", highest=600),
            both_headings("Timed on both headings to the wind"),
        ),
        condition="self-levelling · cruise throttle",
        needs=("F2", "F3"),
        cautions=(_HEIGHT, "Hand on the mode switch: back to pass-through at once."),
        tells="level reference, in degrees",
        masked_by="a throttle that is not the cruise throttle",
        minutes=1.0,
        requires="stabiliser",
    ),
    Card(
        "F24",
        "Servo midpoint learning",
        "The controller takes the held trim as its midpoints.",
        Phase.FLIGHT,
        2,
        (
            "Level, steady, hands nearly off.",
            "Learning on for three seconds, as the device's manual says.",
            "Land and disarm with it still on, if that is what stores it.",
            "Power off, power on: measure where each surface rests.",
        ),
        (
            Capture("stored", CaptureKind.YES_NO, "Found again after re-powering", True, _YES_NO),
            Capture("elevator_mm", CaptureKind.SURFACE, "Elevator rests off fair by", unit="mm", highest=60),
            trailing_edge("elevator_way", "It stands with its"),
        ),
        condition="steady level flight · cruise throttle",
        needs=("F23",),
        cautions=(_HEIGHT, "Propeller off before you measure."),
        tells="the learned midpoint is the trim measure of this model",
        minutes=1.0,
        requires="stabiliser",
    ),
    Card(
        "F25",
        "Gains: proportional, then integral",
        "Raise until it shakes, then back off; then a climb.",
        Phase.FLIGHT,
        3,
        (
            "High, rate-stabilised, cruise. Short stick inputs: does it shake?",
            "45° climb at two thirds power, hands off. Does the nose dip, does it roll away?",
            "Land, change one gain, fly it again.",
        ),
        (
            Capture("shakes", CaptureKind.CHOICE, "It", True, _SHAKES),
            Capture(
                "climb_nose",
                CaptureKind.CHOICE,
                "In the climb the nose",
                False,
                (Option("holds", "holds"), Option("dips", "dips")),
            ),
            roll_rating("climb_roll", "In the climb it", required=False),
        ),
        condition="rate-stabilised · cruise, then a 45° climb at 60 %",
        needs=("F3", "F23"),
        abort_when="It shakes: pass-through at once, land.",
        cautions=(_HEIGHT, "Hand on the mode switch."),
        tells="gains, one step at a time",
        minutes=1.0,
        requires="stabiliser",
    ),
)
