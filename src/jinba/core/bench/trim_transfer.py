"""Trim taken out of the radio: to the clevis, to sub-trim, or to a controller's midpoints, with what to find afterwards."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jinba.core.airframe.layout import pitch_control_of
from jinba.core.configuration import Configuration
from jinba.core.controls.setup import ControlSetup
from jinba.core.controls.stabiliser import TRIMS_FORBIDDEN, trims_forbidden
from jinba.core.controls.surface_control import Control
from jinba.core.controls.transfer import AxisRest, SurfaceOrder, Way, in_midpoints, learned, orders, set_at, sharing
from jinba.core.errors import JinbaError, RefusedError
from jinba.core.frames import Axis, PitchControl


@dataclass(frozen=True, slots=True)
class Transferred:
    """A configuration with its trims moved, what to do in order, and where each surface must be found afterwards."""

    configuration: Configuration
    steps: tuple[str, ...]
    to_find: tuple[str, ...]


def transfer(c: Configuration, way: Way, *, axes: tuple[Axis, ...] = tuple(Axis)) -> Transferred:
    """Return the configuration after its trims went out of the radio; every surface stays where it flew.

    ``axes``: whose clicks are moved; an axis that shares a surface with one of them keeps its clicks, but its sub-trim is part
    of the sum. Raises: RefusedError where the device forbids it; JinbaError when there is nothing to move.
    References: docs/methods/trim-transfer.md (derived here).
    """
    setup = c.control_setup
    rests = {a: held_now(c.control(a), moved=a in axes) for a in Axis}
    if all(abs(rests[a].sub_trim_rad) + abs(rests[a].trim_rad) < 1e-9 for a in axes):
        raise JinbaError("All trims are centred: there is nothing to move.", name="trim")
    forbidden = trims_forbidden(setup.stabiliser)
    if way is Way.SUB_TRIM and forbidden:
        raise RefusedError(TRIMS_FORBIDDEN)
    if way is Way.MIDPOINT and not forbidden:
        raise RefusedError(
            "No flight controller is fitted: there are no midpoints to learn. Use the clevis or sub-trim."
        )
    after, found = reset(c, rests, {a: r.rest_rad - r.leave_rad for a, r in rests.items()}, way, axes=axes)
    to_do = tuple(o for o in found if not o.idle)
    steps = (*_opening(setup, way, to_do), *(o.clevis for o in to_do if o.clevis), *(o.held for o in to_do if o.held))
    if in_midpoints(setup, way):
        steps += ("Store, power off, power on, and measure.",)
    to_find = tuple(o.find for o in to_do)
    noted = replace(after.control_setup, to_find=(*steps, *to_find))
    return Transferred(replace(after, controls=noted), steps, to_find)


def held_now(control: Control, *, moved: bool = True, rest_rad: float | None = None) -> AxisRest:
    """Return what holds an axis now; ``rest_rad`` where it landed, when that is not what the control says.

    ``moved``: its clicks leave the radio, else they stay there.
    """
    neutral = control.mechanical_rad + control.sub_trim_rad
    trim = (control.resting_rad if rest_rad is None else rest_rad) - neutral
    return AxisRest(control.mechanical_rad, control.sub_trim_rad, trim, 0.0 if moved else trim)


def reset(
    c: Configuration, rests: dict[Axis, AxisRest], wanted: dict[Axis, float], way: Way, *, axes: tuple[Axis, ...]
) -> tuple[Configuration, tuple[SurfaceOrder, ...]]:
    """Return the configuration with the axes, and those that share a surface with one, set at ``wanted`` [rad]; the orders."""
    setup = c.control_setup
    inverted_v = pitch_control_of(c.airframe) is PitchControl.INVERTED_V_TAIL
    touched = {a for group in sharing(setup) if group & set(axes) for a in group}
    wanted = {a: v for a, v in wanted.items() if a in touched}
    found = orders(setup, rests, wanted, way, inverted_v=inverted_v)
    after = c
    for axis, rest in set_at(rests, wanted, found, setup, way, inverted_v=inverted_v).items():
        clicks = after.control(axis).clicks if rest.trim_rad else 0
        control = replace(
            after.control(axis), mechanical_rad=rest.mechanical_rad, sub_trim_rad=rest.sub_trim_rad, clicks=clicks
        )
        after = after.with_control(control)
    if in_midpoints(setup, way):
        after = replace(after, controls=learned(setup, found))
    return after, found


def _opening(setup: ControlSetup, way: Way, found: tuple[SurfaceOrder, ...]) -> tuple[str, ...]:
    if way is Way.CLEVIS:
        return ("Propeller off.", "Centre all trims.")
    if in_midpoints(setup, way):
        return "Propeller off.", "Centre all trims and sub-trims: every channel rests at exactly 1500 µs."
    return ("Propeller off.", *(f"Note where the {o.name} stands: {o.stands}." for o in found), "Centre all trims.")
