"""The radio sheet: stick mode, channels, switches, fail-safe, timers, and what in it would hurt somebody."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import pairwise

from jinba.core.controls.pulses import check_pulse
from jinba.core.controls.travel import Finding
from jinba.core.errors import JinbaError, check_range, check_text


class Job(StrEnum):
    """What a switch may do."""

    MOTOR_CUT = "motor_cut"
    MODE = "mode"
    LAUNCH = "launch"
    RATES = "rates"
    FLAPS = "flaps"
    GEAR = "gear"
    GYRO = "gyro"
    TIMER = "timer"
    TRAINER = "trainer"
    OTHER = "other"


class FlightMode(StrEnum):
    """Modes of a stabiliser or flight controller, by what they do."""

    PASS_THROUGH = "pass_through"
    RATE = "rate"
    SELF_LEVEL = "self_level"
    CIRCLE = "circle"
    RETURN = "return"
    LAUNCH = "launch"


JOB_WORDS: dict[Job, str] = {
    Job.MOTOR_CUT: "motor cut (disarm)",
    Job.MODE: "flight mode",
    Job.LAUNCH: "launch mode",
    Job.RATES: "rates",
    Job.FLAPS: "flaps",
    Job.GEAR: "landing gear",
    Job.GYRO: "gyro",
    Job.TIMER: "timer",
    Job.TRAINER: "trainer",
    Job.OTHER: "something else",
}
MODE_WORDS: dict[FlightMode, str] = {
    FlightMode.PASS_THROUGH: "pass-through",
    FlightMode.RATE: "rate-stabilised",
    FlightMode.SELF_LEVEL: "self-levelling",
    FlightMode.CIRCLE: "circle",
    FlightMode.RETURN: "return-home",
    FlightMode.LAUNCH: "launch",
}
# By how much they take out of the pilot's hands.
_HELP = {mode: rank for rank, mode in enumerate(FlightMode)}


@dataclass(frozen=True, slots=True)
class Switch:
    """A switch: where it stands, its jobs, and the modes of its positions if it chooses modes.

    ``side`` and ``place``: left or right shoulder, counted from outside; neighbours differ by one. ``positions`` 2 or 3,
    the first is away from the pilot. ``momentary``: springs back.
    """

    name: str
    side: str
    place: int
    positions: int = 2
    jobs: tuple[Job, ...] = ()
    modes: tuple[FlightMode, ...] = ()
    momentary: bool = False

    def __post_init__(self) -> None:
        if not check_text("name of the switch", self.name.strip(), longest=20):
            raise JinbaError("Give the switch the name that stands beside it on the radio.", name="switch")
        if self.side not in ("left", "right"):
            raise JinbaError(f"Switch {self.name}: its side is left or right.", name="side")
        check_range(f"place of switch {self.name}", self.place, unit="", low=1, high=12)
        check_range(f"positions of switch {self.name}", self.positions, unit="", low=2, high=3)
        if Job.MODE in self.jobs and len(self.modes) != self.positions:
            raise JinbaError(
                f"Switch {self.name} chooses modes: say the mode of each of its {self.positions} positions.",
                name="modes",
            )


class LossAction(StrEnum):
    """What a channel does when the signal is lost."""

    HOLD = "hold"
    POSITION = "position"
    NO_PULSE = "no_pulse"


@dataclass(frozen=True, slots=True)
class FailSafe:
    """What one channel does without signal: the action, its pulse [us] when it is a position, and the date it was proved.

    ``proved_on`` is empty until it was seen to work; any edit empties it again.
    """

    channel: int
    use: str
    action: LossAction
    pulse_us: float = 1500.0
    proved_on: str = ""

    def __post_init__(self) -> None:
        check_range("fail-safe channel", self.channel, unit="", low=1, high=32)
        check_text("use of the channel", self.use, longest=40)
        check_pulse(f"fail-safe pulse of channel {self.channel}", self.pulse_us)
        check_text("date of the proof", self.proved_on, longest=20)


@dataclass(frozen=True, slots=True)
class ChannelUse:
    """A channel that moves no surface: throttle, mode, gear, ... ``neutral_us`` as the radio sends it at rest."""

    channel: int
    use: str
    neutral_us: float = 1500.0

    def __post_init__(self) -> None:
        check_range("channel", self.channel, unit="", low=1, high=32)
        check_text("use of the channel", self.use, longest=40)
        check_pulse(f"neutral of channel {self.channel}", self.neutral_us)


@dataclass(frozen=True, slots=True)
class Timer:
    """A timer: what it is for, minutes, and what starts it."""

    name: str
    minutes: float
    starts_with: str = "throttle"

    def __post_init__(self) -> None:
        check_text("timer", self.name, longest=30)
        check_text("what starts the timer", self.starts_with, longest=40)
        check_range("timer", self.minutes, unit="min", low=0.2, high=600.0)


@dataclass(frozen=True, slots=True)
class RadioSheet:
    """Everything set in the transmitter besides rates and mixes.

    ``mode`` 1 to 4; ``levers_reversed``: axes whose trim lever works the other way round. ``click_us`` of one trim click.
    ``copied_from``: the memory this one was copied from, empty for a fresh one; ``copy_checked``: its trims, sub-trims and
    mixes were gone through.
    """

    mode: int = 2
    levers_reversed: tuple[str, ...] = ()
    click_us: float = 4.0
    channels: tuple[ChannelUse, ...] = ()
    switches: tuple[Switch, ...] = ()
    fail_safe: tuple[FailSafe, ...] = ()
    timers: tuple[Timer, ...] = ()
    copied_from: str = ""
    copy_checked: bool = False

    def __post_init__(self) -> None:
        check_range("stick mode", self.mode, unit="", low=1, high=4)
        check_range("one trim click", self.click_us, unit="µs", low=0.2, high=40.0)
        check_text("copied from", self.copied_from, longest=60)
        wrong = [a for a in self.levers_reversed if a not in ("pitch", "roll", "yaw")]
        if wrong:
            raise JinbaError(f"{wrong[0]!r} has no trim lever: pitch, roll or yaw.", name="levers_reversed")
        _no_twice("switch", [s.name.strip().lower() for s in self.switches])
        _no_twice("place on the radio", [f"{s.side} {s.place}" for s in self.switches])
        _no_twice("fail-safe channel", [str(f.channel) for f in self.fail_safe])
        if max(len(self.switches), len(self.channels), len(self.fail_safe)) > 32 or len(self.timers) > 6:
            raise JinbaError("More than a radio has: at most 32 switches and channels, 6 timers.", name="radio")


def _no_twice(what: str, keys: list[str]) -> None:
    seen: set[str] = set()
    for key in keys:
        if key in seen:
            raise JinbaError(f"The {what} {key!r} is used twice: give each its own.", name=what)
        seen.add(key)


def switch_conflicts(switches: tuple[Switch, ...], *, has_motor: bool) -> tuple[Finding, ...]:
    """Return what in a switch map would hurt somebody, the worst first. Rules of the field: common practice, no source."""
    found: list[Finding] = []
    for s in switches:
        if len(s.jobs) > 1:
            jobs = " and ".join(JOB_WORDS[j] for j in s.jobs)
            found.append(
                Finding(
                    "two_jobs",
                    f"Switch {s.name} has more than one job: {jobs}. Give each its own switch.",
                    True,
                    (s.name,),
                )
            )
        found += _launch(s) + _mode_order(s)
    found += _twice(switches) + _neighbours(switches)
    if has_motor and not any(Job.MOTOR_CUT in s.jobs for s in switches):
        found.append(Finding("no_motor_cut", "No switch cuts the motor: set one before the propeller goes on.", True))
    return tuple(sorted(found, key=lambda f: not f.stops))


def _launch(s: Switch) -> list[Finding]:
    if Job.LAUNCH not in s.jobs:
        return []
    if Job.MOTOR_CUT in s.jobs:
        words = f"Switch {s.name} both arms and chooses launch mode: after a cut in the air it waits for a throw, with no motor."
        return [Finding("launch_blocks_arming", words, True, (s.name,))]
    if s.momentary:
        return []
    words = (
        f"Launch mode stays on with switch {s.name}: cut by mistake in the air, the motor would wait for a throw before it "
        "runs again. Put launch on the mode switch, or switch it off as the first thing after each launch."
    )
    return [Finding("launch_blocks_arming", words, True, (s.name,))]


def _mode_order(s: Switch) -> list[Finding]:
    if Job.MODE not in s.jobs or len(s.modes) < 2:
        return []
    ranks = [_HELP[m] for m in s.modes]
    found = []
    if ranks not in (sorted(ranks), sorted(ranks, reverse=True)):
        order = ", ".join(MODE_WORDS[m] for m in s.modes)
        found.append(
            Finding(
                "mode_order",
                f"Modes on switch {s.name} jump ({order}): order them from pass-through to the most help, so that one end is "
                "always the sticks alone.",
                False,
                (s.name,),
            )
        )
    if len(set(s.modes)) < len(s.modes):
        found.append(Finding("mode_twice", f"Switch {s.name} has the same mode twice.", False, (s.name,)))
    return found


def _twice(switches: tuple[Switch, ...]) -> list[Finding]:
    found = []
    for job in Job:
        names = [s.name for s in switches if job in s.jobs]
        if job is not Job.OTHER and len(names) > 1:
            found.append(
                Finding(
                    "job_twice",
                    f"Switches {' and '.join(names)} both do {JOB_WORDS[job]}: one would undo the other.",
                    True,
                    tuple(names),
                )
            )
    return found


def _neighbours(switches: tuple[Switch, ...]) -> list[Finding]:
    found = []
    for a, b in pairwise(sorted(switches, key=lambda s: (s.side, s.place))):
        if a.side != b.side or b.place - a.place != 1:
            continue
        jobs = {*a.jobs, *b.jobs}
        split = (Job.MOTOR_CUT in a.jobs) != (Job.MOTOR_CUT in b.jobs)
        if split and {Job.MOTOR_CUT, Job.MODE} <= jobs:
            found.append(
                Finding(
                    "cut_beside_mode",
                    f"Motor cut and flight mode are neighbours ({a.name} and {b.name}): a thumb that wants the mode cuts the "
                    "motor. Move one to the other side.",
                    True,
                    (a.name, b.name),
                )
            )
    return found


def radio_findings(
    radio: RadioSheet,
    surface_channels: tuple[tuple[int, str], ...],
    *,
    has_motor: bool,
    pack_minutes: float,
    has_controller: bool,
) -> tuple[Finding, ...]:
    """Return what is wrong in the radio sheet: channels, copied memory, fail-safe, timers, neutrals, then switches.

    ``surface_channels``: (channel, what it moves) of every servo.
    """
    found = _channels(radio, surface_channels)
    if radio.copied_from and not radio.copy_checked:
        found.append(
            Finding(
                "copied_memory",
                f"This memory was copied from {radio.copied_from}: it carries that model's trims, sub-trims and mixes. Go "
                "through each before it flies.",
                True,
            )
        )
    found += _fail_safe(radio, has_motor=has_motor)
    for timer in radio.timers:
        if timer.minutes > pack_minutes + 1e-9:
            found.append(
                Finding(
                    "timer_long",
                    f"Timer {timer.name} runs {timer.minutes:g} min, the pack gives {pack_minutes:g} min safely.",
                    False,
                )
            )
    if not radio.timers:
        found.append(Finding("no_timer", "No timer is set: set one from the first flight.", False))
    if has_controller:
        for c in radio.channels:
            if "throttle" not in c.use.lower() and "mode" not in c.use.lower() and abs(c.neutral_us - 1500.0) > 1.0:
                found.append(
                    Finding(
                        "neutral_pulse",
                        f"Channel {c.channel} ({c.use}) rests at {c.neutral_us:g} µs: a flight controller takes that as a "
                        "standing command. Bring it to exactly 1500 µs.",
                        True,
                    )
                )
    found += switch_conflicts(radio.switches, has_motor=has_motor)
    return tuple(sorted(found, key=lambda f: not f.stops))


def _channels(radio: RadioSheet, surfaces: tuple[tuple[int, str], ...]) -> list[Finding]:
    uses: dict[int, list[str]] = {}
    for channel, use in (*surfaces, *((c.channel, c.use) for c in radio.channels)):
        uses.setdefault(channel, []).append(use)
    return [
        Finding("channel_twice", f"Channel {n} is given to {' and '.join(u)}.", True)
        for n, u in sorted(uses.items())
        if len(u) > 1
    ]


def _fail_safe(radio: RadioSheet, *, has_motor: bool) -> list[Finding]:
    found: list[Finding] = []
    throttle = next((f for f in radio.fail_safe if "throttle" in f.use.lower() or "motor" in f.use.lower()), None)
    if has_motor and throttle is None:
        found.append(
            Finding(
                "fail_safe_missing",
                "The fail-safe says nothing of the throttle: without signal the motor must stop.",
                True,
            )
        )
    if has_motor and throttle is not None and throttle.action is LossAction.HOLD:
        found.append(
            Finding(
                "fail_safe_hold",
                "The throttle's fail-safe is to hold: without signal the motor would run on. Set it to motor stopped.",
                True,
            )
        )
    opened = [f for f in radio.fail_safe if not f.proved_on]
    if opened:
        which = ", ".join(f"{f.channel} ({f.use})" for f in opened)
        found.append(
            Finding(
                "fail_safe_unproved",
                f"Fail-safe not proved since it was set: channel {which}. Propeller off, transmitter off, look at each.",
                True,
            )
        )
    return found


def reopened(before: RadioSheet, after: RadioSheet) -> RadioSheet:
    """Return the sheet with the fail-safe proofs emptied where anything about them was edited.

    One changed channel opens that channel; a changed number of channels, a new channel map or mode opens all: the table as
    a whole is another one. A proof that is newly written down with no other change stands.
    """
    was = {f.channel: f for f in before.fail_safe}
    all_new = {f.channel for f in before.fail_safe} != {
        f.channel for f in after.fail_safe
    } or before.channels != after.channels

    def checked(f: FailSafe) -> FailSafe:
        old = was.get(f.channel)
        same = old is not None and replace(old, proved_on="") == replace(f, proved_on="")
        if all_new and old is not None and f.proved_on == old.proved_on:
            return replace(f, proved_on="")
        return f if same or (old is None) else replace(f, proved_on="")

    return replace(after, fail_safe=tuple(checked(f) for f in after.fail_safe))
