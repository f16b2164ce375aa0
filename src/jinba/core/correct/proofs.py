"""Proofs as numbers: what was read against what was ordered, and the setup as it then really is."""

from __future__ import annotations

import math
from dataclasses import replace

from jinba.core.configuration import Configuration, JigReading, balance_of
from jinba.core.controls.setup import COMMAND_OF
from jinba.core.correct.actions import Expected, Reads
from jinba.core.errors import JinbaError, RefusedError
from jinba.core.frames import Axis, forward_or_aft
from jinba.core.spoken import a_length

_READ_SIGMA_M = 0.002
"""How well a balance point is read by whoever has done the work, one standard deviation: common practice, no source."""

_SLIPPED = 5.0
"""So many times what was ordered, or a fifth of it, is a digit that slipped before it is a mistake in the work."""


_FURTHEST = 1.0
"""No surface rests further from fair than its own chord, 60 degrees: one that reads so was misread. By geometry."""


def said(expected: Expected, number: float) -> str:
    """Return a reading in words, without a sign. ``number`` in the unit of what is expected, signed as it is."""
    if expected.unit == "clicks":
        return f"{_count(number)} {_way(expected, number)}".strip()
    if abs(number) < 5e-5:
        return "fair" if expected.reads is Reads.SURFACE else "at the datum"
    return f"{a_length(abs(number), 1)} {_way(expected, number)}"


def proves(expected: Expected, number: float) -> bool:
    """Return whether a reading lies within the tolerance of what was ordered. Both signed, in its unit. By definition."""
    return abs(number - expected.value) <= expected.tolerance + 1e-9


def refusal(expected: Expected, number: float) -> RefusedError:
    """Return why a reading proves nothing, and what to do: measured again, done again, or said to be done differently.

    ``number`` in the unit of what is expected, signed as it is.
    """
    tolerance = "" if expected.tolerance == 0.0 else f" ± {a_length(expected.tolerance, 1)}"
    clear = abs(expected.value) > 2.0 * expected.tolerance and abs(number) > 1e-9
    ordered, read = said(expected, expected.value), said(expected, number)
    words = f"Ordered: {ordered}{tolerance}. You read {read}"
    slipped = clear and not 1 / _SLIPPED < abs(number / expected.value) < _SLIPPED
    if (
        clear
        and number * expected.value < 0.0
        and abs(abs(number) - abs(expected.value)) <= 2.0 * expected.tolerance + 1e-9
    ):
        words += ": the other way. Look again which way it stands"
    elif slipped:
        words += ". Has a digit or the unit slipped? Read it again"
    else:
        off = number - expected.value
        by = _count(off) if expected.unit == "clicks" else a_length(abs(off), 1)
        side = forward_or_aft(off) if expected.reads is Reads.BALANCE else _way(expected, off)
        words += f", {by} too far {side}. Do it again until it reads right"
    return RefusedError(f"{words}; or say that it was done differently.", ordered=expected.value, read=number)


def as_read(c: Configuration, expected: Expected, number: float) -> Configuration:
    """Return the setup as it really stands once this was read: the bench's own reading, with its sigma.

    A balance becomes the jig reading; a surface that is alone on its axis rests where it was found, all of it at the clevis;
    clicks stand in the radio. ``number`` in the unit of what is expected, signed as it is. Raises: JinbaError for a surface that
    two axes or two surfaces share (it is entered on the controls desk), and for one that stands further off than its chord allows.
    """
    if expected.reads is Reads.BALANCE:
        known = c.jig.sigma_m if c.jig is not None else _READ_SIGMA_M
        jig = JigReading(number, min(known, _READ_SIGMA_M), balance_of(c).mass.x_m, "read to prove the work order")
        return replace(c, jig=jig)
    if expected.reads is Reads.CLICKS:
        return c.with_control(replace(c.control(Axis(expected.about)), clicks=round(number)))
    axis = _axis_of(c, expected.about)
    if abs(number) > _FURTHEST * expected.chord_m:
        raise JinbaError(
            f"{a_length(abs(number), 1)} at {a_length(expected.chord_m, 0)} chord is no reading: has a digit or the unit slipped?"
        )
    rest = 2.0 * math.asin(max(-1.0, min(1.0, number / (2.0 * expected.chord_m))))
    control = c.control(axis)
    return c.with_control(replace(control, mechanical_rad=rest, sub_trim_rad=0.0, clicks=0))


def _axis_of(c: Configuration, role: str) -> Axis:
    """Return the axis that a surface serves alone. Raises: JinbaError."""
    setup = c.control_setup
    for axis in Axis:
        moving = [f.role.value for f in setup.moving(COMMAND_OF[axis])]
        others = [
            f for other in Axis if other is not axis for f in setup.moving(COMMAND_OF[other]) if f.role.value == role
        ]
        if moving == [role] and not others:
            return axis
    raise JinbaError(
        "Several surfaces or axes share this one: enter where each surface rests on the controls desk.", role=role
    )


def _count(clicks: float) -> str:
    count = round(abs(clicks))
    return f"{count} click{'' if count == 1 else 's'}"


def _way(expected: Expected, number: float) -> str:
    if number == 0.0:
        return ""
    return expected.positive if number > 0.0 else expected.negative
