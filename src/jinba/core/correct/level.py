"""The level reference of a flight controller, from what self-levelling flight showed."""

from __future__ import annotations

import math
from dataclasses import replace

from jinba.core.bench.level import level_from_record
from jinba.core.cards.model import CardRecord
from jinba.core.configuration import Configuration
from jinba.core.correct.actions import Action, ActionKind, HeldBack
from jinba.core.diagnose.seen import Seen
from jinba.core.observe.situation import design_of

_CARD = "F23"
_MOST_DEG = 2.0
"""Largest step from one timing: common practice, no source. Timed on both headings, the wind is out of it."""

_FURTHEST_DEG = 20.0
"""No wing flies level at more: common practice, no source."""

_STEP_DEG = 0.5
"""A level reference is set in half degrees: common practice, no source."""


def correct_level(configuration: Configuration, seen: Seen) -> tuple[Configuration, Action | None, HeldBack | None]:
    """Return the configuration with its level reference moved, what to do, and what is missing to say it.

    Only after F23 in this setup; at most two degrees a step unless both headings were timed; nose up positive. References:
    docs/methods/level-reference.md (derived here).
    """
    stabiliser = configuration.control_setup.stabiliser
    record = seen.of(_CARD)
    if stabiliser is None or record is None or _CARD not in seen.cards:
        return configuration, None, None
    found = level_from_record(design_of(configuration), record)
    if found is None:
        words = "The level reference stays: F23 gives no height over time to go by."
        return (
            configuration,
            None,
            HeldBack(ActionKind.LEVEL, words, "Fly F23 again and time a known height.", (_CARD,)),
        )
    most = math.inf if _both_headings(record) else _MOST_DEG
    wanted = math.degrees(found.change_rad)
    place = "mode" if abs(stabiliser.level_mode_rad) > 1e-6 else "board"
    now = math.degrees(stabiliser.level_mode_rad if place == "mode" else stabiliser.level_board_rad)
    # A reference further off than that is a controller mounted askew: nothing is turned beyond it.
    aim = max(-_FURTHEST_DEG, min(_FURTHEST_DEG, now + max(-most, min(most, wanted))))
    step = round((aim - now) / _STEP_DEG) * _STEP_DEG
    if step == 0.0:
        return configuration, None, None
    told = math.radians(now + step)
    moved = replace(stabiliser, level_mode_rad=told) if place == "mode" else replace(stabiliser, level_board_rad=told)
    after = replace(configuration, controls=replace(configuration.control_setup, stabiliser=moved))
    way = "raise" if step > 0 else "lower"
    total = math.degrees(moved.level_rad)
    short = "" if abs(wanted) <= most else f" It asks for {abs(wanted):.1f} degrees: not more than two at a time."
    action = Action(
        ActionKind.LEVEL,
        abs(step),
        "degrees",
        f"Level reference of the {place}: {way} the nose by {abs(step):.1f} degrees, to {abs(total):.1f} degrees nose {'up' if total >= 0 else 'down'}.",
        f"{found.words}{short}",
        "Prop the nose at that angle: the controller reads level.",
        thumb="Rule of thumb: climbs, lower it; sinks, raise it; one or two degrees at a time.",
    )
    return after, action, None


def _both_headings(record: CardRecord) -> bool:
    said = record.reading("both_headings")
    return said is not None and said.choice == "yes"
