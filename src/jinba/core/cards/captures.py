"""Captures shared by several cards: the worded scales, so that the same word means the same everywhere."""

from __future__ import annotations

from jinba.core.cards.model import Capture, CaptureKind, Option
from jinba.core.frames import Response

PITCH_DRIFT = (
    Option("drops", "drops away fast"),
    Option("sinks", "nose sinks"),
    Option("holds", "holds"),
    Option("rises", "nose rises"),
    Option("rears", "rears up"),
)
ROLL_DRIFT = (
    Option("left_fast", "rolls left fast"),
    Option("left", "drifts left"),
    Option("level", "stays level"),
    Option("right", "drifts right"),
    Option("right_fast", "rolls right fast"),
)
YAW_DRIFT = (
    Option("left_much", "nose well left"),
    Option("left", "nose a little left"),
    Option("straight", "straight"),
    Option("right", "nose a little right"),
    Option("right_much", "nose well right"),
)
WING = (Option("left", "left wing"), Option("none", "neither"), Option("right", "right wing"))


def pitch_rating(key: str, label: str, *, required: bool = True) -> Capture:
    """Return a five-step pitch rating, the highest (rears up) laid out on top."""
    return Capture(key, CaptureKind.RATING, label, required, PITCH_DRIFT, upright=True)


def roll_rating(key: str, label: str, *, required: bool = True) -> Capture:
    """Return a five-step roll rating, left on the left, as seated in the cockpit."""
    return Capture(key, CaptureKind.RATING, label, required, ROLL_DRIFT)


def yaw_rating(key: str, label: str, *, required: bool = False) -> Capture:
    """Return a five-step yaw rating, left on the left, as seated in the cockpit."""
    return Capture(key, CaptureKind.RATING, label, required, YAW_DRIFT)


def wing_choice(key: str, label: str, *, required: bool = True) -> Capture:
    """Return the choice of a wing, named as seated in the cockpit."""
    return Capture(key, CaptureKind.CHOICE, label, required, WING, as_seated=True)


def clicks(key: str, label: str, *directions: Response, required: bool = True) -> Capture:
    """Return a count of trim clicks in two directions."""
    return Capture(key, CaptureKind.COUNT, label, required, directions=directions, unit="clicks", highest=100)


def stick(key: str, label: str, *directions: Response, required: bool = False) -> Capture:
    """Return a held stick as a fraction of full."""
    return Capture(key, CaptureKind.STICK, label, required, directions=directions, unit="of full stick", highest=1.0)


def seconds(key: str, label: str, *, required: bool = False, highest: float = 60.0) -> Capture:
    """Return a stopwatch measure in seconds; "did not" within the time is kept as such. ``highest`` [s]."""
    return Capture(key, CaptureKind.TIMED, label, required, unit="s", highest=highest)


def both_headings(label: str) -> Capture:
    """Return whether something was seen with the wind and against it: what shows on one heading only is the wind's."""
    return Capture("both_headings", CaptureKind.YES_NO, label, False, (Option("yes", "yes"), Option("no", "no")))


def passed(key: str, label: str) -> Capture:
    """Return a pass / fail measure."""
    return Capture(key, CaptureKind.YES_NO, label, True, (Option("yes", "yes"), Option("no", "no")))


def trailing_edge(key: str, label: str) -> Capture:
    """Return which way a surface stands off fair."""
    return Capture(
        key, CaptureKind.CHOICE, label, False, (Option("up", "trailing edge up"), Option("down", "trailing edge down"))
    )


def trailing_edge_sideways(key: str, label: str) -> Capture:
    """Return which way an upright surface stands off fair, seen from behind."""
    return Capture(
        key,
        CaptureKind.CHOICE,
        label,
        False,
        (Option("left", "trailing edge left"), Option("right", "trailing edge right")),
    )


TOO_HOT = "too_hot"


def heat(key: str, label: str) -> Capture:
    """Return how hot a part is to a hand; a thermometer is nowhere when it is wanted."""
    options = (Option("warm", "cool or warm"), Option("hot", "hot, can be held"), Option(TOO_HOT, "too hot to hold"))
    return Capture(key, CaptureKind.CHOICE, label, False, options)


UP_DOWN = (Response.NOSE_UP, Response.NOSE_DOWN)
ROLL = (Response.ROLL_LEFT, Response.ROLL_RIGHT)
YAW = (Response.YAW_LEFT, Response.YAW_RIGHT)
