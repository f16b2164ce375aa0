"""The level reference of a flight controller from what self-levelling flight showed, for this airframe."""

from __future__ import annotations

from jinba.core.bench.adequacy import cruise_lift
from jinba.core.cards.model import CardRecord, Outcome
from jinba.core.controls.stabiliser import LevelCorrection, level_correction
from jinba.core.errors import OutOfRangeError
from jinba.core.observe.situation import Design

_PROPELLER_FALL = 1.0
_SIGN = {"climbs": 1.0, "holds": 0.0, "sinks": -1.0}


def level_for(design: Design, *, height_m: float, seconds: float) -> LevelCorrection:
    """Return the correction for a height gained (+) or lost (-) [m] in a time [s] at cruise. Source: level_correction."""
    a = design.aero
    return level_correction(
        height_m=height_m,
        seconds=seconds,
        speed_mps=design.cruise_speed_mps,
        lift=cruise_lift(design),
        lift_slope=a.lift_slope,
        cd_zero=a.cd_zero,
        induced_factor=a.induced_factor,
        thrust_fall=_PROPELLER_FALL if design.configuration.airframe.motor is not None else 0.0,
    )


def level_from_record(design: Design, record: CardRecord) -> LevelCorrection | None:
    """Return the correction that a logged self-levelling card (F23) asks for, None when it says no height over time to go by."""
    path, height, seconds = (record.reading(k) for k in ("path", "height", "seconds"))
    if record.card_id != "F23" or record.outcome is not Outcome.DONE or path is None or seconds is None:
        return None
    if seconds.number is None or seconds.number < 1.0 or path.choice is None:
        return None
    gained = None if height is None else height.number
    if _SIGN[path.choice] == 0.0:
        gained = 0.0
    # A climb without a height is no number: read as none it would say "leave it".
    if gained is None or (gained == 0.0 and _SIGN[path.choice]):
        return None
    try:
        return level_for(design, height_m=_SIGN[path.choice] * gained, seconds=seconds.number)
    except OutOfRangeError:
        # A height that no cruise gains in that time was logged wrong: it moves nothing, and no page fails for it.
        return None
