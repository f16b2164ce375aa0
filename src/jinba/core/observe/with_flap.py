"""A record flown with flap: the model it was flown with."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache

from jinba.core.airframe.layout import pitch_sense
from jinba.core.airframe.parts import Surface
from jinba.core.configuration import Configuration
from jinba.core.controls.deflections import deflected, flap_command
from jinba.core.controls.fitting import SENSE, Command, ControlRole, Fitting
from jinba.core.controls.four_bar import LinkageError
from jinba.core.frames import Axis
from jinba.core.observe.predictions import Moment
from jinba.core.stability.flap import WingFlap, flap_effect, flapped

_FLAPERONS_BEGIN = 0.25
"""Ailerons that begin inside this share of the half span leave no room for flaps: they are the flaps."""

_ROOT = 0.1
"""Share of the half span that the body covers, where flaps begin: common practice, no source."""

FLAP_SIGMA = 0.4
"""How unsure what a flap does is, as a share of it: where it begins and ends is not asked, and gaps and separation take a part that
no closed form knows. Against the independent simulation 0.2 over the layouts, 0.4 at worst (docs/methods/flap.md)."""


@dataclass(frozen=True, slots=True)
class FlapsDown:
    """What goes down with a flap setting: trailing edges of the wing, and how far a mix moves the pitch control [rad, in its sense]."""

    flaps: tuple[WingFlap, ...]
    elevator_rad: float


@lru_cache(maxsize=64)
def flaps_down(configuration: Configuration, share: float) -> FlapsDown | None:
    """Return what a flap setting, ``share`` of full [-], moves by linkage and mixes; None where no flaps are described. Derived here."""
    setup = configuration.controls
    if setup is None or not setup.moving(Command.FLAP):
        return None
    try:
        moved = deflected(setup, flap_command(share))
    except LinkageError:
        return None
    sides: dict[bool, list[tuple[Fitting, float]]] = {True: [], False: []}
    pitch: list[float] = []
    for d in moved:
        role, angle = d.fitting.role, float(d.deflection_rad[0])
        if _on_the_wing(role):
            sides[role in (ControlRole.LEFT_FLAP, ControlRole.RIGHT_FLAP)].append((d.fitting, angle))
        elif Command.PITCH in SENSE[role]:
            pitch.append(angle)
    wing = configuration.airframe.wing
    flaps = tuple(f for inboard, found in sides.items() if found and (f := _flap(wing, found, inboard=inboard)))
    elevator = pitch_sense(configuration.airframe) * sum(pitch) / len(pitch) if pitch else 0.0
    return FlapsDown(flaps, elevator)


def _on_the_wing(role: ControlRole) -> bool:
    return Command.ROLL in SENSE[role] or Command.FLAP in SENSE[role]


def _flap(wing: Surface, found: list[tuple[Fitting, float]], *, inboard: bool) -> WingFlap | None:
    angle = sum(a for _, a in found) / len(found)
    inner, outer = wing.control_inner, wing.control_outer
    if inboard:
        # Flaps end where the ailerons begin, and reach in as far as they are long.
        outer = outer if inner < _FLAPERONS_BEGIN else inner
        inner = max(_ROOT, outer - found[0][0].span_m / wing.half_span_m)
    if abs(angle) < 1e-4 or outer - inner < 1e-3:
        return None
    chord = wing.sections[0].chord_m
    share = min(0.5, max(0.1, found[0][0].chord_m / chord))
    return WingFlap(inner, outer, share, angle)


def with_flap(moment: Moment, share: float) -> Moment | None:
    """Return the moment as it was with flap, ``share`` of full [-]: lift, moment, stall and drag of the flapped wing, and the elevator
    where a mix puts it. None where no flaps are described.

    Derived here (docs/methods/flap.md).
    """
    down = flaps_down(moment.design.configuration, share)
    if down is None:
        return None
    d = moment.design
    aero = flapped(d.aero, flap_effect(d.configuration.airframe, down.flaps))
    stall = d.stall_speed_mps * math.sqrt(d.aero.cl_max / aero.cl_max)
    trims = moment.trims.moved(Axis.PITCH, moment.trims.elevator_rad + down.elevator_rad)
    return replace(moment, design=replace(d, aero=aero, stall_speed_mps=stall), trims=trims)
