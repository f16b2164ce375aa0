"""The radio sheet: stick mode, channels, fail-safe, timers, copied memory, and what in it would hurt somebody."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Annotated

from jinba.core.controls.pulses import check_pulse
from jinba.core.controls.switches import Switch, switch_conflicts
from jinba.core.declare import OPENS_NOTHING, Change, Count, Microseconds, Minutes, Opens, Sister
from jinba.core.errors import JinbaError, check_range, check_text
from jinba.core.said import Said, finding, worst_first


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

    channel: Count
    use: str
    action: LossAction
    pulse_us: Microseconds = 1500.0
    proved_on: Annotated[str, OPENS_NOTHING, Sister.ANEW] = ""

    def __post_init__(self) -> None:
        check_range("fail-safe channel", self.channel, unit="", low=1, high=32)
        check_text("use of the channel", self.use, longest=40)
        check_pulse(f"fail-safe pulse of channel {self.channel}", self.pulse_us)
        check_text("date of the proof", self.proved_on, longest=20)


@dataclass(frozen=True, slots=True)
class ChannelUse:
    """A channel that moves no surface: throttle, mode, gear, ... ``neutral_us`` as the radio sends it at rest."""

    channel: Count
    use: str
    neutral_us: Microseconds = 1500.0

    def __post_init__(self) -> None:
        check_range("channel", self.channel, unit="", low=1, high=32)
        check_text("use of the channel", self.use, longest=40)
        check_pulse(f"neutral of channel {self.channel}", self.neutral_us)


@dataclass(frozen=True, slots=True)
class Timer:
    """A timer: what it is for, minutes, and what starts it."""

    name: str
    minutes: Minutes
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

    mode: Count = 2
    levers_reversed: tuple[str, ...] = ()
    click_us: Microseconds = 4.0
    channels: tuple[ChannelUse, ...] = ()
    switches: tuple[Switch, ...] = ()
    fail_safe: Annotated[tuple[FailSafe, ...], Opens(Change.FAIL_SAFE, "fail-safe edited: prove it again")] = ()
    timers: Annotated[tuple[Timer, ...], OPENS_NOTHING] = ()
    copied_from: str = ""
    copy_checked: Annotated[bool, OPENS_NOTHING, Sister.ANEW] = False

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


def radio_findings(
    radio: RadioSheet,
    surface_channels: tuple[tuple[int, str], ...],
    *,
    has_motor: bool,
    pack_minutes: float,
    has_controller: bool,
) -> tuple[Said, ...]:
    """Return what is wrong in the radio sheet: channels, copied memory, fail-safe, timers, neutrals, then switches.

    ``surface_channels``: (channel, what it moves) of every servo.
    """
    found = _channels(radio, surface_channels)
    if radio.copied_from and not radio.copy_checked:
        found.append(
            finding(
                "copied_memory",
                f"This memory was copied from {radio.copied_from}: it carries that model's trims, sub-trims and mixes. Go "
                "through each before it flies.",
                stops=True,
            )
        )
    found += _fail_safe(radio, has_motor=has_motor)
    for timer in radio.timers:
        if timer.minutes > pack_minutes + 1e-9:
            found.append(
                finding(
                    "timer_long",
                    f"Timer {timer.name} runs {timer.minutes:g} min, by the guess the pack is empty after {pack_minutes:g}.",
                )
            )
    if not radio.timers:
        found.append(finding("no_timer", "No timer is set: set one from the first flight."))
    if has_controller:
        for c in radio.channels:
            if "throttle" not in c.use.lower() and "mode" not in c.use.lower() and abs(c.neutral_us - 1500.0) > 1.0:
                found.append(
                    finding(
                        "neutral_pulse",
                        f"Channel {c.channel} ({c.use}) rests at {c.neutral_us:g} µs: a flight controller takes that as a "
                        "standing command. Bring it to exactly 1500 µs.",
                        stops=True,
                    )
                )
    found += switch_conflicts(radio.switches, has_motor=has_motor)
    return worst_first(found)


def _channels(radio: RadioSheet, surfaces: tuple[tuple[int, str], ...]) -> list[Said]:
    uses: dict[int, list[str]] = {}
    for channel, use in (*surfaces, *((c.channel, c.use) for c in radio.channels)):
        uses.setdefault(channel, []).append(use)
    return [
        finding("channel_twice", f"Channel {n} is given to {' and '.join(u)}.", stops=True)
        for n, u in sorted(uses.items())
        if len(u) > 1
    ]


def _fail_safe(radio: RadioSheet, *, has_motor: bool) -> list[Said]:
    found: list[Said] = []
    throttle = next((f for f in radio.fail_safe if "throttle" in f.use.lower() or "motor" in f.use.lower()), None)
    if has_motor and throttle is None:
        found.append(
            finding(
                "fail_safe_missing",
                "The fail-safe says nothing of the throttle: without signal the motor must stop.",
                stops=True,
            )
        )
    if has_motor and throttle is not None and throttle.action is LossAction.HOLD:
        found.append(
            finding(
                "fail_safe_hold",
                "The throttle's fail-safe is to hold: without signal the motor would run on. Set it to motor stopped.",
                stops=True,
            )
        )
    opened = [f for f in radio.fail_safe if not f.proved_on]
    if opened:
        which = ", ".join(f"{f.channel} ({f.use})" for f in opened)
        found.append(
            finding(
                "fail_safe_unproved",
                f"Fail-safe not proved since it was set: channel {which}. Propeller off, transmitter off, look at each.",
                stops=True,
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
