"""The switches of a radio: where they stand, what they do, and what in their map would hurt somebody."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

from jinba.core.declare import Count
from jinba.core.errors import JinbaError, check_range, check_text
from jinba.core.said import Said, finding, worst_first


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
    place: Count
    positions: Count = 2
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


def switch_conflicts(switches: tuple[Switch, ...], *, has_motor: bool) -> tuple[Said, ...]:
    """Return what in a switch map would hurt somebody, the worst first. Rules of the field: common practice, no source."""
    found: list[Said] = []
    for s in switches:
        if len(s.jobs) > 1:
            jobs = " and ".join(JOB_WORDS[j] for j in s.jobs)
            found.append(
                finding(
                    "two_jobs",
                    f"Switch {s.name} has more than one job: {jobs}. Give each its own switch.",
                    s.name,
                    stops=True,
                )
            )
        found += _launch(s) + _mode_order(s)
    found += _twice(switches) + _neighbours(switches)
    if has_motor and not any(Job.MOTOR_CUT in s.jobs for s in switches):
        found.append(
            finding("no_motor_cut", "No switch cuts the motor: set one before the propeller goes on.", stops=True)
        )
    return worst_first(found)


def _launch(s: Switch) -> list[Said]:
    if Job.LAUNCH not in s.jobs:
        return []
    if Job.MOTOR_CUT in s.jobs:
        words = f"Switch {s.name} both arms and chooses launch mode: after a cut in the air it waits for a throw, with no motor."
        return [finding("launch_blocks_arming", words, s.name, stops=True)]
    if s.momentary:
        return []
    words = (
        f"Launch mode stays on with switch {s.name}: cut by mistake in the air, the motor would wait for a throw before it "
        "runs again. Put launch on the mode switch, or switch it off as the first thing after each launch."
    )
    return [finding("launch_blocks_arming", words, s.name, stops=True)]


def _mode_order(s: Switch) -> list[Said]:
    if Job.MODE not in s.jobs or len(s.modes) < 2:
        return []
    ranks = [_HELP[m] for m in s.modes]
    found = []
    if ranks not in (sorted(ranks), sorted(ranks, reverse=True)):
        order = ", ".join(MODE_WORDS[m] for m in s.modes)
        found.append(
            finding(
                "mode_order",
                f"Modes on switch {s.name} jump ({order}): order them from pass-through to the most help, so that one end is "
                "always the sticks alone.",
                s.name,
            )
        )
    if len(set(s.modes)) < len(s.modes):
        found.append(finding("mode_twice", f"Switch {s.name} has the same mode twice.", s.name))
    return found


def _twice(switches: tuple[Switch, ...]) -> list[Said]:
    found = []
    for job in Job:
        names = [s.name for s in switches if job in s.jobs]
        if job is not Job.OTHER and len(names) > 1:
            found.append(
                finding(
                    "job_twice",
                    f"Switches {' and '.join(names)} both do {JOB_WORDS[job]}: one would undo the other.",
                    *tuple(names),
                    stops=True,
                )
            )
    return found


def _neighbours(switches: tuple[Switch, ...]) -> list[Said]:
    found = []
    for a, b in pairwise(sorted(switches, key=lambda s: (s.side, s.place))):
        if a.side != b.side or b.place - a.place != 1:
            continue
        jobs = {*a.jobs, *b.jobs}
        split = (Job.MOTOR_CUT in a.jobs) != (Job.MOTOR_CUT in b.jobs)
        if split and {Job.MOTOR_CUT, Job.MODE} <= jobs:
            found.append(
                finding(
                    "cut_beside_mode",
                    f"Motor cut and flight mode are neighbours ({a.name} and {b.name}): a thumb that wants the mode cuts the "
                    "motor. Move one to the other side.",
                    *(a.name, b.name),
                    stops=True,
                )
            )
    return found
