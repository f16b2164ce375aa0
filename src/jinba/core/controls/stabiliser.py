"""Stabilisers and flight controllers in generic terms: trims and neutrals, level reference, midpoints, gains, modes."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated

from jinba.core.controls.switches import MODE_WORDS, FlightMode
from jinba.core.declare import OPENS_NOTHING, Change, Count, Opens, Radians, Share, Sister
from jinba.core.errors import JinbaError, check_range, check_text
from jinba.core.frames import Axis
from jinba.core.said import Said, finding


class Device(StrEnum):
    """What stands between receiver and servos."""

    GYRO = "gyro"
    CONTROLLER = "controller"


class Learning(StrEnum):
    """How a controller learns the servo midpoints."""

    NONE = "none"
    ONE_SHOT = "one_shot"
    CONTINUOUS = "continuous"


class GainSeen(StrEnum):
    """What a gain showed in flight."""

    SLUGGISH = "sluggish"
    FINE = "fine"
    OSCILLATES = "oscillates"
    NOSE_DIPS = "nose_dips"
    ROLLS_AWAY = "rolls_away"


@dataclass(frozen=True, slots=True)
class GainEntry:
    """One gain flown and what was seen. ``term``: P or I; ``value`` in the device's own numbers."""

    axis: Axis
    term: str
    value: Share
    seen: Annotated[GainSeen, OPENS_NOTHING]
    sortie: Annotated[Count, OPENS_NOTHING] = 0

    def __post_init__(self) -> None:
        if self.term not in ("P", "I"):
            raise JinbaError(f"Gain {self.term!r}: P or I.", name="term")
        check_range("gain", self.value, unit="", low=0.0, high=1e5)


@dataclass(frozen=True, slots=True)
class ModeProof:
    """A mode that was proved in flight: when, in which sortie, and whether it hunted."""

    mode: FlightMode
    proved_on: str
    sortie: Count = 0
    hunted: bool = False

    def __post_init__(self) -> None:
        check_text("date of the proof", self.proved_on, longest=20)


@dataclass(frozen=True, slots=True)
class Stabiliser:
    """A gyro or flight controller as it is set.

    ``mounting``: how it lies, in words; ``directions_checked``, ``calibrated``: seen to be right since it was mounted.
    ``level_board_rad``, ``level_mode_rad``: the two places where a level reference may hide, nose up positive; one of them
    must be zero. ``stored_proved``: midpoints were found again after re-powering.
    """

    device: Device = Device.CONTROLLER
    mounting: str = "arrow forward, flat"
    directions_checked: Annotated[bool, OPENS_NOTHING, Sister.ANEW] = False
    calibrated: Annotated[bool, OPENS_NOTHING, Sister.ANEW] = False
    level_board_rad: Radians = 0.0
    level_mode_rad: Radians = 0.0
    learning: Learning = Learning.NONE
    stored_proved: Annotated[bool, OPENS_NOTHING, Sister.ANEW] = False
    gains: Annotated[tuple[GainEntry, ...], Opens(Change.GAINS, "gains changed")] = ()
    proofs: Annotated[tuple[ModeProof, ...], OPENS_NOTHING, Sister.ANEW] = ()

    def __post_init__(self) -> None:
        check_text("how it is mounted", self.mounting, longest=80)
        for place, value in (("board", self.level_board_rad), ("mode", self.level_mode_rad)):
            check_range(f"level reference ({place})", value, unit="rad", low=-0.4, high=0.4)
        if len(self.gains) > 60 or len(self.proofs) > 60:
            raise JinbaError("At most sixty gains and proofs are kept.", name="stabiliser")

    @property
    def level_rad(self) -> float:
        """The level reference that acts: both places add up. [rad, nose up positive]

        Derived here (docs/methods/level-reference.md).
        """
        return self.level_board_rad + self.level_mode_rad


TRIMS_FORBIDDEN = (
    "Never trim with the radio: the controller reads a neutral other than 1500 µs as a standing command and flies it. "
    "Let it learn the midpoints, or turn the clevis."
)
TRIMS_HARMLESS = "Radio trims are allowed: trim with the gyro switched off, then centre it again for the gyro."


def trims_forbidden(stabiliser: Stabiliser | None) -> bool:
    """Return whether radio trims must not be used: with a flight controller a trimmed neutral is a command."""
    return stabiliser is not None and stabiliser.device is Device.CONTROLLER


def masks(mode: FlightMode) -> tuple[str, ...]:
    """Return what must not be concluded from a flight in a mode, in words."""
    if mode is FlightMode.PASS_THROUGH:
        return ()
    if mode is FlightMode.RATE:
        return ("balance and static margin", "trim", "thrust line", "the stall, which it hides")
    return ("balance and static margin", "trim", "thrust line", "lateral balance", "stall", "spiral")


def stabiliser_findings(s: Stabiliser, *, clicks: tuple[int, int, int], midpoints_known: bool) -> tuple[Said, ...]:
    """Return what is wrong with a stabiliser as set; ``clicks`` of pitch, roll and yaw now in the radio."""
    found: list[Said] = []
    if not s.directions_checked:
        found.append(
            finding(
                "directions",
                "Directions not checked: tilt the model by hand; every surface must move against the tilt, in each mode.",
                stops=True,
            )
        )
    if s.device is Device.CONTROLLER and not s.calibrated:
        found.append(finding("calibration", "The accelerometer is not calibrated in six positions.", stops=True))
    if abs(s.level_board_rad) > 1e-6 and abs(s.level_mode_rad) > 1e-6:
        total = math.degrees(s.level_rad)
        found.append(
            finding(
                "level_twice",
                f"The level reference is entered twice and adds up to {abs(total):.1f}° nose {_up(total)}: keep it on the board, "
                "set the other to zero.",
                stops=True,
            )
        )
    if s.device is Device.CONTROLLER and any(clicks):
        found.append(finding("trims", TRIMS_FORBIDDEN, stops=True))
    if s.device is Device.GYRO:
        found.append(finding("trims", TRIMS_HARMLESS))
    if s.learning is not Learning.NONE and not s.stored_proved:
        found.append(
            finding(
                "not_stored",
                "Midpoints learned but not proved: often they are stored only on disarming with the mode still on. Power off "
                "and on, then measure the surfaces.",
            )
        )
    if s.learning is Learning.NONE and midpoints_known:
        found.append(
            finding("stale_midpoints", "Midpoints are noted, but learning is off: are they from this linkage?")
        )
    if s.proofs and any(p.hunted for p in s.proofs):
        found.append(
            finding("hunting", "Circle or return-home hunts: a wrong level reference does that. Set it first.")
        )
    return tuple(found)


def _up(value: float) -> str:
    return "up" if value >= 0 else "down"


@dataclass(frozen=True, slots=True)
class LevelCorrection:
    """What self-levelling flight says of the level reference.

    ``path_rad``: angle of the flight path seen, climb positive; ``change_rad``: change of the reference, nose up positive;
    ``sigma_rad``; ``factor``: degrees of reference per degree of path; ``thumb_rad``: what the rule of thumb would do.
    """

    path_rad: float
    change_rad: float
    sigma_rad: float
    factor: float
    thumb_rad: float
    words: str


def level_correction(
    *,
    height_m: float,
    seconds: float,
    speed_mps: float,
    lift: float,
    lift_slope: float,
    cd_zero: float,
    induced_factor: float,
    thrust_fall: float = 1.0,
    height_sigma: float = 0.3,
) -> LevelCorrection:
    """Return the change of the level reference that makes self-levelling flight at this throttle hold its height.

    The controller holds attitude t = a + g. At fixed throttle g = (T - D)/W, so a change of a moves speed and with it the
    path: dt/dg = 1 + (CL^2/a_w)/[CD0 - k CL^2 + s (CD0 + k CL^2)/2], s = -(V/T) dT/dV. The reference changes by that
    factor times the path angle, against it. 1.2 to 3.4 for models at cruise.

    Parameters
    ----------
    height_m : height gained (+) or lost (-) over ``seconds``. [m], [s]
    speed_mps : cruise speed. [m/s]
    lift, lift_slope, cd_zero, induced_factor : CL at cruise [-], slope [1/rad], drag polar CD = CD0 + k CL^2. [-]
    thrust_fall : s; 0 for a jet, about 1 for a propeller. [-]
    height_sigma : relative error of the estimated height, 0.3 by eye. [-]

    Raises: OutOfRangeError; on the back side of the drag curve, where the factor would not be finite.
    References: derived here (docs/methods/level-reference.md); speed stability, Etkin and Reid, 1996, ch. 7 (from memory).
    """
    check_range("time", seconds, unit="s", low=1.0, high=600.0)
    check_range("height gained or lost", abs(height_m), unit="m", low=0.0, high=300.0)
    check_range("cruise speed", speed_mps, unit="m/s", low=2.0, high=150.0)
    sine = height_m / (seconds * speed_mps)
    check_range(
        "height over distance", abs(sine), unit="", low=0.0, high=0.7, hint="That is no cruise: check height and time."
    )
    induced = induced_factor * lift**2
    restoring = cd_zero - induced + thrust_fall * 0.5 * (cd_zero + induced)
    check_range(
        "speed stability",
        restoring,
        unit="",
        low=0.002,
        hint="So slow that more attitude only sinks: fly it faster, then set the level reference.",
    )
    factor = 1.0 + lift**2 / lift_slope / restoring
    path = math.asin(sine)
    change = -factor * path
    thumb = -math.copysign(min(2.0, max(1.0, round(abs(math.degrees(path))))) * math.pi / 180, path) if path else 0.0
    sigma = abs(change) * math.hypot(height_sigma, 0.25 * (factor - 1.0) / factor) + math.radians(0.3)
    return LevelCorrection(path, change, sigma, factor, thumb, _level_words(path, change))


def _level_words(path: float, change: float) -> str:
    if abs(math.degrees(path)) < 0.1:
        return "It holds its height: leave the level reference as it is."
    seen = "climbs" if path > 0 else "sinks"
    way = "Lower" if change < 0 else "Raise"
    return (
        f"It {seen} by {abs(math.degrees(path)):.1f}°. {way} the level reference by {abs(math.degrees(change)):.1f}°."
    )


@dataclass(frozen=True, slots=True)
class NextGain:
    """The next value of a gain to fly, why, and whether it is settled."""

    axis: Axis
    term: str
    value: float
    words: str
    settled: bool


_BACK_OFF = 0.75
_RAISE = 1.25


_FLOWN_P = {"sluggish": GainSeen.SLUGGISH, "fine": GainSeen.FINE, "shakes": GainSeen.OSCILLATES}


def gains_as_flown(
    log: tuple[GainEntry, ...], *, shakes: str | None, nose: str | None, rolls: bool | None
) -> tuple[GainEntry, ...]:
    """Return what a flight (F25) showed of the gains that stand: P by how it shook, I by the climb; pitch, and roll for its own.

    ``rolls``: it rolled away in the climb, None where nobody looked. What was never set is not judged.
    """
    standing = {(e.axis, e.term): e for e in log}
    said = [
        ((Axis.PITCH, "P"), None if shakes is None else _FLOWN_P[shakes]),
        ((Axis.PITCH, "I"), None if nose is None else GainSeen.NOSE_DIPS if nose == "dips" else GainSeen.FINE),
        ((Axis.ROLL, "I"), None if rolls is None else GainSeen.ROLLS_AWAY if rolls else GainSeen.FINE),
    ]
    return tuple(
        GainEntry(*key, standing[key].value, seen) for key, seen in said if seen is not None and key in standing
    )


def next_gains(log: tuple[GainEntry, ...]) -> tuple[NextGain, ...]:
    """Return the next value of each gain in the log.

    P: raised by a quarter until it oscillates, then three quarters of the lowest value that did, never above it again.
    I: raised by a quarter while the nose dips or it rolls away in the climb, just enough. Common practice, no source.
    """
    keys = dict.fromkeys((e.axis, e.term) for e in log)
    return tuple(_next(axis, term, [e for e in log if (e.axis, e.term) == (axis, term)]) for axis, term in keys)


def _next(axis: Axis, term: str, log: list[GainEntry]) -> NextGain:
    last = log[-1]
    ceiling = min((e.value for e in log if e.seen is GainSeen.OSCILLATES), default=None)
    if last.seen is GainSeen.OSCILLATES:
        assert ceiling is not None
        return NextGain(
            axis,
            term,
            _tidy(_BACK_OFF * ceiling),
            f"It oscillates at {ceiling:g}: back to three quarters of that.",
            False,
        )
    if last.seen is GainSeen.FINE:
        if term == "P" and ceiling is None:
            return NextGain(
                axis, term, _tidy(_RAISE * last.value), "Fine so far: a quarter more, until it oscillates.", False
            )
        return NextGain(axis, term, last.value, "Settled: leave it.", True)
    wanted = _RAISE * last.value
    if ceiling is not None and wanted >= 0.9 * ceiling:
        words = f"It wants more, but oscillates at {ceiling:g}: look for slop and soft mounting instead."
        return NextGain(axis, term, last.value, words, True)
    why = {
        GainSeen.SLUGGISH: "Droops and feels soft",
        GainSeen.NOSE_DIPS: "The nose dips in the climb",
        GainSeen.ROLLS_AWAY: "It rolls away in the climb",
    }[last.seen]
    return NextGain(axis, term, _tidy(wanted), f"{why}: a quarter more, just enough.", False)


def _tidy(value: float) -> float:
    return float(f"{value:.3g}")


def mode_words(mode: FlightMode) -> str:
    """Return what a mode is called."""
    return MODE_WORDS[mode]
