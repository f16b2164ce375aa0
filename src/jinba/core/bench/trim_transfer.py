"""Trim taken out of the radio: to the clevis, to sub-trim, or to a controller's midpoints, with what to find afterwards."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import StrEnum

from jinba.core.airframe.layout import pitch_control_of
from jinba.core.bench.controls import control_setup_of, mechanical_rests, trim_offsets
from jinba.core.configuration import Configuration
from jinba.core.controls.linkage import turned_rad
from jinba.core.controls.setup import ControlSetup
from jinba.core.controls.stabiliser import TRIMS_FORBIDDEN, trims_forbidden
from jinba.core.controls.trim import SurfaceTrim, back_to_axes, per_surface
from jinba.core.errors import JinbaError, RefusedError
from jinba.core.frames import Axis, PitchControl


class Way(StrEnum):
    """Where trim goes."""

    CLEVIS = "clevis"
    SUB_TRIM = "sub_trim"
    MIDPOINT = "midpoint"


@dataclass(frozen=True, slots=True)
class Transferred:
    """A configuration with its trims moved, what to do in order, and where each surface must be found afterwards."""

    configuration: Configuration
    steps: tuple[str, ...]
    to_find: tuple[str, ...]


def transfer(c: Configuration, way: Way, *, axes: tuple[Axis, ...] = tuple(Axis)) -> Transferred:
    """Return the configuration after its trims went out of the radio; every surface stays where it flew.

    Clevis: half turns by the four-bar, the remainder as sub-trim, all trims centred. Sub-trim: all of it. Midpoint: the
    controller's learned pulses, radio trims and sub-trims centred. Raises: RefusedError where the device forbids it;
    JinbaError when there is nothing to move. References: docs/methods/trim-transfer.md (derived here).
    """
    setup = control_setup_of(c)
    inverted_v = pitch_control_of(c.airframe) is PitchControl.INVERTED_V_TAIL
    offsets = {a: v if a in axes else 0.0 for a, v in trim_offsets(c).items()}
    if all(abs(v) < 1e-9 for v in offsets.values()):
        raise JinbaError("All trims are centred: there is nothing to move.", name="trim")
    forbidden = trims_forbidden(setup.stabiliser)
    if way is Way.SUB_TRIM and forbidden:
        raise RefusedError(TRIMS_FORBIDDEN)
    if way is Way.MIDPOINT and not forbidden:
        raise RefusedError(
            "No flight controller is fitted: there are no midpoints to learn. Use the clevis or sub-trim."
        )
    # The answer is made for all offsets at once: a surface with two tasks has one clevis.
    rows = [
        r for r in per_surface(setup, offsets, mechanical_rests(c), inverted_v=inverted_v) if abs(r.rest_rad) > 1e-9
    ]
    if way is Way.CLEVIS:
        return _to_clevis(c, setup, rows, offsets, axes, inverted_v=inverted_v)
    if way is Way.SUB_TRIM:
        return _to_sub_trim(c, setup, rows, offsets, axes)
    return _to_midpoint(c, setup, rows, offsets, axes)


def _to_clevis(
    c: Configuration,
    setup: ControlSetup,
    rows: list[SurfaceTrim],
    offsets: dict[Axis, float],
    axes: tuple[Axis, ...],
    *,
    inverted_v: bool,
) -> Transferred:
    turned = back_to_axes(setup, {r.role: r.turned_rad for r in rows}, inverted_v=inverted_v)
    after = c
    for axis in Axis:
        # Half turns of a surface with two tasks move the other axis a little as well: its sub-trim takes that back.
        control, moved = after.control(axis), turned.get(axis, 0.0)
        kept = offsets[axis] if axis in axes else control.sub_trim_rad
        after = after.with_control(
            replace(
                control,
                mechanical_rad=control.mechanical_rad + moved,
                sub_trim_rad=kept - moved,
                clicks=0 if axis in axes else control.clicks,
            )
        )
    steps = ("Propeller off.", "Centre all trims.", *(r.clevis_words for r in rows))
    left = [f"{r.name} {abs(r.left_us):.0f} µs" for r in rows if abs(r.left_us) >= 1.0]
    if left:
        steps += (f"What is left goes to sub-trim, until each stands as below: {', '.join(left)}.",)
    return Transferred(_noted(after, setup, steps, rows), steps, _to_find(rows))


def _to_sub_trim(
    c: Configuration, setup: ControlSetup, rows: list[SurfaceTrim], offsets: dict[Axis, float], axes: tuple[Axis, ...]
) -> Transferred:
    after = c
    for axis in axes:
        after = after.with_control(replace(after.control(axis), sub_trim_rad=offsets[axis], clicks=0))
    steps = (
        "Propeller off.",
        *(f"Note where the {r.name} stands: {r.stands}." for r in rows),
        "Centre all trims.",
        *(f"Sub-trim of the {r.name}: {abs(r.sub_trim_us):.0f} µs, until it stands there again." for r in rows),
    )
    return Transferred(_noted(after, setup, steps, rows), steps, _to_find(rows))


def _to_midpoint(
    c: Configuration, setup: ControlSetup, rows: list[SurfaceTrim], offsets: dict[Axis, float], axes: tuple[Axis, ...]
) -> Transferred:
    learned = {r.role: r.midpoint_us for r in rows}
    fittings = tuple(
        replace(f, learned_us=learned[f.role.value]) if f.role.value in learned else f for f in setup.fittings
    )
    after = replace(c, controls=replace(setup, fittings=fittings))
    for axis in axes:
        control = after.control(axis)
        after = after.with_control(
            replace(control, mechanical_rad=control.mechanical_rad + offsets[axis], sub_trim_rad=0.0, clicks=0)
        )
    setup = control_setup_of(after)
    steps: tuple[str, ...] = (
        "Propeller off.",
        "Centre all trims and sub-trims: every channel rests at exactly 1500 µs.",
        *(
            f"Midpoint of the {r.name} in the controller: {r.midpoint_us:.0f} µs on a channel that is not reversed."
            for r in rows
        ),
        "Store, power off, power on, and measure.",
    )
    return Transferred(_noted(after, setup, steps, rows), steps, _to_find(rows))


def _noted(c: Configuration, setup: ControlSetup, steps: tuple[str, ...], rows: list[SurfaceTrim]) -> Configuration:
    return replace(c, controls=replace(setup, to_find=(*steps, *_to_find(rows))))


def _to_find(rows: list[SurfaceTrim]) -> tuple[str, ...]:
    return tuple(f"All trims centred: {r.stands}." for r in rows)


def clicks_of_turns(c: Configuration, role: str, half_turns: int) -> dict[Axis, float]:
    """Return the clicks of each axis that half turns of one surface's clevis stand for; the way back of the transfer.

    On a surface with two tasks half of the turn belongs to each. Raises: JinbaError for a surface that is not there.
    """
    setup = control_setup_of(c)
    fitting = next((f for f in setup.fittings if f.role.value == role), None)
    if fitting is None:
        raise JinbaError(f"There is no {role.replace('_', ' ')} on this model.", name="role")
    inverted_v = pitch_control_of(c.airframe) is PitchControl.INVERTED_V_TAIL
    rests = {f.role.value: 0.0 for f in setup.fittings} | {role: turned_rad(fitting.linkage, 0.5 * half_turns)}
    axes = back_to_axes(setup, rests, inverted_v=inverted_v)
    return {a: v / c.control(a).rad_per_click for a, v in axes.items() if not math.isclose(v, 0.0, abs_tol=1e-12)}
