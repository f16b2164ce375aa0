"""Trim that wanders inside one flight: a servo or linkage fault, to be stopped for and looked at."""

from __future__ import annotations

from jinba.core.airframe.layout import pitch_sense
from jinba.core.cards.model import CardRecord, Outcome
from jinba.core.configuration import Configuration
from jinba.core.controls.stabiliser import Learning
from jinba.core.frames import Axis, surface_sign
from jinba.core.observe.situation import Trims
from jinba.core.said import Said, finding
from jinba.core.spoken import a_length

WANDER_CLICKS = 2
"""A change of trim inside one flight beyond this is no drift of the pack or the wind: common practice, no source ("stop and inspect")."""

MOVED_CLICKS = 3
"""More trim than this between two sorties of one configuration is no pack and no weather: common practice, no source."""

_RULER_MM = 1.0
"""How well a resting surface is read with a ruler, both readings together. [mm]"""

_COUNTS = {"pitch_clicks": Axis.PITCH, "roll_clicks": Axis.ROLL, "yaw_clicks": Axis.YAW}
_PART = {Axis.PITCH: "elevator", Axis.ROLL: "aileron", Axis.YAW: "rudder"}
_SURFACE = {**_PART, Axis.ROLL: "right aileron"}
_WAYS = {Axis.PITCH: ("down", "up"), Axis.ROLL: ("up", "down"), Axis.YAW: ("left", "right")}
"""Which way a trailing edge goes for a positive angle, then for a negative one (core.frames)."""


def wandering_trim(
    configuration: Configuration, records: tuple[CardRecord, ...], landed: Trims | None = None
) -> tuple[Said, ...]:
    """Return a squawk for each axis whose trim wandered within one sortie.

    ``records``: all records of the sortie in the order they were made, repeats included. A card that is flown again in the
    same condition counts its clicks in all: a difference of more than :data:`WANDER_CLICKS` is a fault. So is a surface that
    rests elsewhere after landing than the clicks say (A3), by more than the same clicks and than a ruler reads. ``landed``: where
    it landed, with what stood in the radio before [rad]; None: by the setup and this sortie's clicks alone. A controller
    that goes on learning moves its surfaces by itself: no fault.
    """
    found: list[Said] = []
    last: dict[Axis, float] = {}
    for key, axis in _COUNTS.items():
        counts = [v for r in records if r.outcome is Outcome.DONE and (v := _clicks(r, key)) is not None]
        if counts:
            last[axis] = counts[-1]
        if len(counts) > 1 and max(counts) - min(counts) > WANDER_CLICKS:
            found.append(
                finding(
                    "wandering_trim",
                    f"The {_PART[axis]} trim wandered by {max(counts) - min(counts):g} clicks within one flight: do not fly. "
                    "Look at servo gears, screws, horn, clevis and hinges.",
                    stops=True,
                )
            )
    for axis in Axis:
        control = configuration.control(axis)
        rest_rad = control.resting_rad + last.get(axis, 0.0) * control.rad_per_click
        found += _resting(configuration, records, axis, rest_rad if landed is None else landed.of(axis))
    return tuple(found)


def moved_since(before: tuple[CardRecord, ...], now: tuple[CardRecord, ...]) -> tuple[Said, ...]:
    """Return a squawk for each axis that was flown to trim before and asks for more than :data:`MOVED_CLICKS` again.

    ``before``, ``now``: what counts of two sorties of one configuration, one after the other; trims stand in the radio between
    them, so that the clicks of the later one are what has come on top.
    """
    found: list[Said] = []
    for key, axis in _COUNTS.items():
        settled, given = (_given(records, key) for records in (before, now))
        if settled is None or given is None or abs(given) <= MOVED_CLICKS:
            continue
        words = (
            f"The {_PART[axis]} asks for {abs(given):g} clicks more than it flew with last time, and nothing was changed: something has "
            "moved. Look at clevis and horn, servo screws and gears, hinges, the wing's and the tail's seat, and where the pack lies."
        )
        found.append(finding("trim_moved", words, stops=True))
    return tuple(found)


def _given(records: tuple[CardRecord, ...], key: str) -> float | None:
    """Return the clicks that the last finished card of an axis gave, None without one."""
    counts = [v for r in records if r.outcome is Outcome.DONE and (v := _clicks(r, key)) is not None]
    return counts[-1] if counts else None


def _clicks(record: CardRecord, key: str) -> float | None:
    reading = record.reading(key)
    if reading is None or reading.number is None:
        return None
    return 0.0 if reading.direction is None else surface_sign(reading.direction) * reading.number


def _resting(c: Configuration, records: tuple[CardRecord, ...], axis: Axis, rest_rad: float) -> tuple[Said, ...]:
    device, part = c.control_setup.stabiliser, _PART[axis]
    found = next((r for r in reversed(records) if r.card_id == "A3"), None)
    read = None if found is None else found.reading(f"{part}_mm")
    if (
        found is None
        or read is None
        or read.number is None
        or (device is not None and device.learning is Learning.CONTINUOUS)
    ):
        return ()
    way = found.reading(f"{part}_way")
    expected = c.ruler_mm(axis, rest_rad)
    positive, negative = _WAYS[axis]
    stands = positive if rest_rad * (pitch_sense(c.airframe) if axis is Axis.PITCH else 1.0) >= 0.0 else negative
    # Read without its way it can only be compared by size.
    other_way = way is not None and way.choice != stands
    apart = read.number + expected if other_way else abs(read.number - expected)
    off = apart / max(c.ruler_mm(axis, c.control(axis).rad_per_click), 1e-6)
    if off <= WANDER_CLICKS or apart <= _RULER_MM:
        return ()
    read_way, said_way = ("", "") if way is None else (f" {way.choice}", f" {stands}")
    words = (
        f"The {_SURFACE[axis]} rests {a_length(read.number / 1000, 1)}{read_way} off fair after landing, its trim says "
        f"{a_length(expected / 1000, 1)}{said_way}: something has moved. "
        "Look at servo screws, horn, clevis and hinges before the next flight."
    )
    return (finding("surface_moved", words, stops=True),)
