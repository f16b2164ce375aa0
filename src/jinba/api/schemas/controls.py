"""Shapes of the controls desk: what is asked of a linkage, a shim, a rate, a transfer of trim."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.api.schemas.models import ModelDetail, Strict
from jinba.core.controls.fitting import Fitting
from jinba.core.controls.shims import Seat
from jinba.core.controls.transfer import Way
from jinba.core.controls.travel import Travel
from jinba.core.frames import Axis, ThrustLine


class LinkageRequest(Strict):
    """A fitting, the chord of the whole section [m], the fastest dive [m/s] and the air [kg/m3]."""

    fitting: Fitting
    section_chord_m: float
    speed_mps: float
    density_kg_m3: float = 1.225


class HolesRequest(Strict):
    """Holes at hand on arm and horn [m] and the throw wanted each way [mm] of one surface of a model."""

    role: str
    arm_holes_m: tuple[float, ...]
    horn_holes_m: tuple[float, ...]
    wanted_m: float


class RateRequest(Strict):
    """A throw wanted of an axis [m, straight at the trailing edge], nose up / right (``first``) or the other way."""

    axis: Axis
    straight_m: float
    first: bool = True


class ShimRequest(Strict):
    """A motor mount (``tilt``, ``propeller_faces_aft``, arm) or a seat (``seat``), the angle [rad] and the spacing [m]."""

    angle_rad: float
    spacing_m: float
    tilt: ThrustLine | None = None
    propeller_faces_aft: bool = False
    x_motor_ahead_of_cg_m: float = 0.3
    seat: Seat | None = None


class TransferRequest(Strict):
    """Which trims go where, on the revision they were read from."""

    base_revision: int
    way: Way
    axes: tuple[Axis, ...] = tuple(Axis)


class LevelRequest(Strict):
    """Height gained (+) or lost (-) [m] over a time [s], hands off in self-levelling cruise."""

    height_m: float
    seconds: float


class ReversalRequest(Strict):
    """Three sorties by number: old setting, new setting, old setting again; and the card flown in all."""

    first: int
    changed: int
    again: int
    card_id: str


class DeviceRequest(Strict):
    """Whether the set-up sheet is written back to radio and controller."""

    write_sheet: bool = False


@dataclass(frozen=True, slots=True)
class LinkageAnswer:
    """What the fitting does, and the lean that would set its arm square to the rod. [rad]"""

    travel: Travel
    square_lean_rad: float


@dataclass(frozen=True, slots=True)
class TransferAnswer:
    """The model afterwards, what to do in order, and where each surface must be found."""

    model: ModelDetail
    steps: tuple[str, ...]
    to_find: tuple[str, ...]
