"""Kinds of change, and what differs between two control set-ups, in kinds and in words."""

from __future__ import annotations

from dataclasses import replace
from enum import StrEnum

from jinba.core.controls.fitting import SENSE, Command, Fitting
from jinba.core.controls.setup import ControlSetup


class Change(StrEnum):
    """Kinds of change that make results stale."""

    BALANCE = "balance"
    LATERAL = "lateral"
    ELEVATOR = "elevator"
    AILERON_RUDDER = "aileron_rudder"
    THRUST_LINE = "thrust_line"
    THROWS = "throws"
    POWER = "power"
    AIRFRAME = "airframe"
    EQUIPMENT = "equipment"
    RADIO_TRIM = "radio_trim"
    FLAP = "flap"
    RADIO_MEMORY = "radio_memory"
    FAIL_SAFE = "fail_safe"
    STABILISER = "stabiliser"
    GAINS = "gains"


def setup_changes(
    before: ControlSetup | None, after: ControlSetup | None, changes: set[Change], words: list[str]
) -> None:
    """Add what differs between two control set-ups; one that is first written down changes nothing on the model."""
    if before is None or after is None or before == after:
        return
    _fitting_changes(before, after, changes, words)
    rates = ("rates", "weights", "mixes", "crow", "differential_thrust")
    if any(getattr(before, part) != getattr(after, part) for part in rates):
        changes.add(Change.THROWS)
        words.append("rates, expo or mixes changed")
    if _phases(before) != _phases(after):
        changes.add(Change.RADIO_TRIM)
        words.append("flight phases or their trims changed")
    _radio_changes(before, after, changes, words)
    _stabiliser_changes(before, after, changes, words)


def _phases(setup: ControlSetup) -> tuple[object, ...]:
    return tuple(replace(p, speed_words="") for p in setup.phases)


def _fitting_changes(before: ControlSetup, after: ControlSetup, changes: set[Change], words: list[str]) -> None:
    old, new = {f.role: f for f in before.fittings}, {f.role: f for f in after.fittings}
    for role in dict.fromkeys((*old, *new)):
        a, b = old.get(role), new.get(role)
        known = b or a
        if a == b or known is None:
            continue
        if a is None or b is None or _by_hand(a) != _by_hand(b):
            changes.add(_kind(known))
            words.append(f"{known.name} linkage or servo changed")
        elif _in_radio(a) != _in_radio(b):
            same_plug = (a.channel, a.reversed) == (b.channel, b.reversed)
            changes.add(Change.THROWS if same_plug else Change.RADIO_MEMORY)
            words.append(f"{known.name}: end points or channel changed")


def _in_radio(f: Fitting) -> tuple[object, ...]:
    return (f.channel, f.reversed, f.end_point_up, f.end_point_down)


def _by_hand(f: Fitting) -> tuple[object, ...]:
    return (f.chord_m, f.linkage, f.servo)


def _kind(fitting: Fitting) -> Change:
    tasks = SENSE[fitting.role]
    if Command.PITCH in tasks:
        return Change.ELEVATOR
    return Change.AILERON_RUDDER if Command.ROLL in tasks or Command.YAW in tasks else Change.FLAP


def _radio_changes(before: ControlSetup, after: ControlSetup, changes: set[Change], words: list[str]) -> None:
    a, b = before.radio, after.radio
    if [replace(f, proved_on="") for f in a.fail_safe] != [replace(f, proved_on="") for f in b.fail_safe]:
        changes.add(Change.FAIL_SAFE)
        words.append("fail-safe edited: prove it again")
    memory = ("mode", "levers_reversed", "click_us", "channels", "switches", "copied_from")
    if any(getattr(a, part) != getattr(b, part) for part in memory):
        changes.add(Change.RADIO_MEMORY)
        words.append("radio memory changed")


def _stabiliser_changes(before: ControlSetup, after: ControlSetup, changes: set[Change], words: list[str]) -> None:
    a, b = before.stabiliser, after.stabiliser
    if a is None or b is None:
        if a is not b:
            changes.add(Change.STABILISER)
            words.append("stabiliser fitted" if a is None else "stabiliser taken out")
        return
    if (a.device, a.mounting, a.level_rad, a.learning) != (b.device, b.mounting, b.level_rad, b.learning):
        changes.add(Change.STABILISER)
        words.append("stabiliser re-mounted or its level reference changed")
    if [(g.axis, g.term, g.value) for g in a.gains] != [(g.axis, g.term, g.value) for g in b.gains]:
        changes.add(Change.GAINS)
        words.append("gains changed")
