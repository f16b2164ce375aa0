"""What a change has invalidated: the table of change kinds and the difference of two configurations in words."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jinba.core.airframe.parts import Airframe
from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.control_changes import Change, setup_changes
from jinba.core.configuration import Configuration, balance_of
from jinba.core.controls.surface_control import Control
from jinba.core.frames import Axis, forward_or_aft
from jinba.core.mass.items import ItemKind

_TAIL_END = ("F11", "F21", "F23", "F24", "F25", "F28", "F29")
_FLIGHT = tuple(c for c in CARDS if c.startswith("F"))


def _some(*ids: str) -> frozenset[str]:
    return frozenset(i for i in ids if i in CARDS)


STALE: dict[Change, frozenset[str]] = {
    # Common practice, no source; cards outside the present catalogue are left out.
    Change.BALANCE: _some("B7", "F1", "F2", "F7", "F8", "F12", "F13", "F14", "F15", *_TAIL_END),
    Change.LATERAL: _some("B7", "F3", "F7", "F8", "F14"),
    Change.ELEVATOR: _some("B2", "B4", "B5", "F2", "F5", "F12", "F13", "F14", "F15", "F24"),
    Change.AILERON_RUDDER: _some("B2", "B4", "B5", "F3", "F4", "F7", "F21", "F24"),
    Change.FLAP: _some("B2", "B4", "B5", "F11", "F28", "F29"),
    Change.THRUST_LINE: _some("F2", "F3", "F4", "F5", "F12", "F15"),
    Change.THROWS: _some("B4", "B5", "F11", "F14", "F21", "F25"),
    Change.RADIO_MEMORY: _some("B4", "B6", "G1", "G2"),
    Change.FAIL_SAFE: _some("G2"),
    Change.STABILISER: _some("B11", "F23", "F24", "F25"),
    Change.GAINS: _some("F25"),
    Change.POWER: _some("B1", "B7", "G1", "G2", "F2", "F3", "F5"),
    Change.AIRFRAME: _some("B1", "B2", "B7", *_FLIGHT),
    Change.EQUIPMENT: _some("B7", "F1", "F2", "F7", "F8"),
    Change.RADIO_TRIM: _some("B6", "F2", "F3", "F4"),
}

EVERY_SORTIE: frozenset[str] = _some("G7", "A1", "A2", "A3")
"""Cards that are done anew for each sortie, whatever has changed."""


@dataclass(frozen=True, slots=True)
class Difference:
    """What differs between two configurations: kinds of change, sentences, and the cards made stale."""

    changes: frozenset[Change]
    words: tuple[str, ...]
    stale: frozenset[str]


def difference(before: Configuration, after: Configuration) -> Difference:
    """Return what changed between two configurations, in kinds, in words and as stale cards."""
    changes: set[Change] = set()
    words: list[str] = []
    _item_changes(before, after, changes, words)
    _control_changes(before, after, changes, words)
    _airframe_changes(before.airframe, after.airframe, changes, words)
    _jig_change(before, after, changes, words)
    setup_changes(before.controls, after.controls, changes, words)
    stale = frozenset().union(*(STALE[c] for c in changes)) if changes else frozenset()
    return Difference(frozenset(changes), tuple(words), stale)


def _item_changes(before: Configuration, after: Configuration, changes: set[Change], words: list[str]) -> None:
    old, new = {i.key: i for i in before.items if i.fitted}, {i.key: i for i in after.items if i.fitted}
    for key in sorted(old.keys() | new.keys()):
        a, b = old.get(key), new.get(key)
        if a is None and b is not None:
            changes |= {Change.EQUIPMENT, Change.BALANCE} | ({Change.LATERAL} if abs(b.y_m) > 0.01 else set())
            words.append(f"{b.name} added, {b.mass_kg * 1000:.0f} g")
        elif b is None and a is not None:
            changes |= {Change.EQUIPMENT, Change.BALANCE}
            words.append(f"{a.name} taken off")
        elif a is not None and b is not None and a != b:
            if abs(a.x_m - b.x_m) > 1e-4:
                changes.add(Change.BALANCE)
                move = (b.x_m - a.x_m) * 1000
                words.append(f"{b.name} moved {abs(move):.0f} mm {forward_or_aft(move)}")
            if abs(a.y_m - b.y_m) > 1e-4:
                changes.add(Change.LATERAL)
                words.append(f"{b.name} moved sideways")
            if abs(a.mass_kg - b.mass_kg) > 1e-5:
                changes |= {Change.BALANCE, Change.POWER if b.kind is ItemKind.BATTERY else Change.EQUIPMENT}
                words.append(f"{b.name} now {b.mass_kg * 1000:.0f} g")


def _control_changes(before: Configuration, after: Configuration, changes: set[Change], words: list[str]) -> None:
    pairs = ((before.elevator, after.elevator), (before.aileron, after.aileron), (before.rudder, after.rudder))
    for a, b in pairs:
        kind = Change.ELEVATOR if a.axis is Axis.PITCH else Change.AILERON_RUDDER
        name = {Axis.PITCH: "elevator", Axis.ROLL: "aileron", Axis.YAW: "rudder"}[a.axis]
        if abs(a.mechanical_rad - b.mechanical_rad) > 1e-5 or _linkage(a) != _linkage(b):
            changes.add(kind)
            words.append(f"{name} linkage reset")
        elif a.sub_trim_rad != b.sub_trim_rad or a.clicks != b.clicks:
            changes.add(Change.RADIO_TRIM)
            words.append(f"{name} trim changed in the radio")
        if a.throw_rad != b.throw_rad:
            changes.add(Change.THROWS)
            words.append(f"{name} throw changed")


def _linkage(control: Control) -> tuple[float, ...]:
    return (control.chord_m, control.horn_arm_m, control.thread_pitch_m)


def _airframe_changes(before: Airframe, after: Airframe, changes: set[Change], words: list[str]) -> None:
    shape = ("surfaces", "body", "fin", "nacelles", "gear")
    if any(getattr(before, part) != getattr(after, part) for part in shape):
        changes.add(Change.AIRFRAME)
        words.append("airframe measured anew or altered")
    a, b = before.motor, after.motor
    if (a is None) != (b is None):
        changes.add(Change.POWER)
        words.append("motor fitted" if a is None else "motor taken out")
    elif a is not None and b is not None and a != b:
        tilted = replace(a, tilt_down_rad=b.tilt_down_rad, tilt_right_rad=b.tilt_right_rad)
        changes.add(Change.THRUST_LINE if tilted == b else Change.POWER)
        words.append("thrust line shimmed" if tilted == b else "motor or propeller changed")
    elif before.further_motors != after.further_motors:
        changes.add(Change.POWER)
        words.append("further motors changed")


def _jig_change(before: Configuration, after: Configuration, changes: set[Change], words: list[str]) -> None:
    shift = (balance_of(after).x_m - balance_of(before).x_m) * 1000
    if before.jig != after.jig and abs(shift) > 0.5:
        changes.add(Change.BALANCE)
        words.append(f"balance read {abs(shift):.0f} mm further {forward_or_aft(shift)}")
