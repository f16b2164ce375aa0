"""Washers and shims: thickness to angle, under which bolts, and what the model then does."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from jinba.core.errors import check_range
from jinba.core.frames import Response, ThrustLine, thrust_tilt_response
from jinba.core.spoken import a_length

STOCK_M = 0.0001
"""Washers and shims are combined to tenths of a millimetre."""


def shim_m(*, tilt_rad: float, spacing_m: float) -> float:
    """Return the thickness [m] that tilts a mount or a seat by an angle [rad], rows ``spacing_m`` [m] apart along the tilt.

    t = s tan(angle). References: geometry, derived here; 0.8 mm over 25 mm is 1.8 degrees (common practice, no source).
    """
    check_range("spacing of the bolts or seats", spacing_m, unit="m", low=0.004, high=2.0)
    check_range("tilt", tilt_rad, unit="rad", low=-0.35, high=0.35)
    return spacing_m * math.tan(tilt_rad)


def tilt_rad(*, thickness_m: float, spacing_m: float) -> float:
    """Return the angle [rad] a washer or shim of a thickness [m] makes: atan(t / s).

    Derived here (docs/methods/shims.md).
    """
    check_range("spacing of the bolts or seats", spacing_m, unit="m", low=0.004, high=2.0)
    check_range("thickness of the shim", thickness_m, unit="m", low=0.0, high=0.1)
    return math.atan2(thickness_m, spacing_m)


class Seat(StrEnum):
    """What is shimmed: a wing that sits on the body, one that hangs under it, or the tail on its seat."""

    WING_ON_TOP = "wing_on_top"
    WING_BELOW = "wing_below"
    TAIL = "tail"
    TAIL_BELOW = "tail_below"


@dataclass(frozen=True, slots=True)
class Shim:
    """What to put where: thickness [m] in steps of :data:`STOCK_M`, the angle it really makes [rad], where, and the effect.

    ``words`` one sentence for the hands; ``effect`` what the model does.
    """

    thickness_m: float
    tilt_rad: float
    where: str
    effect: Response
    words: str


_OTHER_SIDE = {"upper": "lower", "lower": "upper", "left": "right", "right": "left"}
_TRACTOR_BOLTS = {
    ThrustLine.DOWN: "upper",
    ThrustLine.UP: "lower",
    ThrustLine.RIGHT: "left",
    ThrustLine.LEFT: "right",
}


def mount_shim(
    tilt: ThrustLine, *, angle_rad: float, spacing_m: float, propeller_faces_aft: bool, x_motor_ahead_of_cg_m: float
) -> Shim:
    """Return the washers that tilt a motor's thrust axis by an angle [rad], forward end ``tilt``-wards.

    A washer under a bolt pushes that edge of the mount away from the bulkhead. On a motor that faces forward the forward
    end then leans to the other edge; on one that faces aft it is the aft end that leans so, and the forward end with the
    washer. ``spacing_m``: bolt rows apart along the tilt; ``x_motor_ahead_of_cg_m``: signed arm, which decides the
    model's response. References: derived here (docs/methods/shims.md).
    """
    thickness = _to_stock(shim_m(tilt_rad=abs(angle_rad), spacing_m=spacing_m))
    made = tilt_rad(thickness_m=thickness, spacing_m=spacing_m)
    bolts = _TRACTOR_BOLTS[tilt]
    if propeller_faces_aft:
        bolts = _OTHER_SIDE[bolts]
    effect = thrust_tilt_response(tilt, x_motor_ahead_of_cg_m=x_motor_ahead_of_cg_m)
    words = (
        f"{a_length(thickness, 1)} of washers under the {bolts} bolts, between mount and bulkhead: the forward end of the "
        f"thrust line goes {tilt.value} by {math.degrees(made):.1f}°."
    )
    return Shim(thickness, made, f"under the {bolts} bolts", effect, words)


def seat_shim(seat: Seat, *, raise_rad: float, spacing_m: float) -> Shim:
    """Return the shim that changes the incidence of a wing or a tail by an angle [rad, leading edge up positive].

    On a seat that carries the surface from below a shim lifts that edge; under the body it pushes the edge down, so the
    other edge is shimmed. More incidence of the wing pitches the nose up, of the tail down. ``spacing_m``: front to rear
    seat. References: derived here (docs/methods/shims.md).
    """
    thickness = _to_stock(shim_m(tilt_rad=abs(raise_rad), spacing_m=spacing_m))
    made = math.copysign(tilt_rad(thickness_m=thickness, spacing_m=spacing_m), raise_rad)
    carried = seat in (Seat.WING_ON_TOP, Seat.TAIL)
    edge = "leading" if (raise_rad > 0) == carried else "trailing"
    wing = seat in (Seat.WING_ON_TOP, Seat.WING_BELOW)
    effect = Response.NOSE_UP if (raise_rad > 0) == wing else Response.NOSE_DOWN
    part = "wing" if wing else "tail"
    way = "more" if raise_rad > 0 else "less"
    words = f"{a_length(thickness, 1)} between body and {part} at its {edge} edge: {math.degrees(abs(made)):.1f}° {way} incidence."
    return Shim(thickness, made, f"at the {edge} edge", effect, words)


def _to_stock(thickness_m: float) -> float:
    return round(thickness_m / STOCK_M) * STOCK_M
