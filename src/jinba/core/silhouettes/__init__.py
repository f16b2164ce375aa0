"""Starting silhouettes: invented proportions of a class, scaled to a span, to be corrected by ruler."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from jinba.core.configuration import Configuration
from jinba.core.errors import UnknownKeyError, check_range
from jinba.core.observe.parameters import COUNT
from jinba.core.observe.situation import design_of, situation, trim_elevator_rad
from jinba.core.silhouettes import tailed, tailless
from jinba.core.silhouettes.build import Shape, configuration
from jinba.core.uncertainty import safe_distance


@dataclass(frozen=True, slots=True)
class Silhouette:
    """A starting shape: key, name, one sentence, and its proportions for a span. [m]"""

    key: str
    name: str
    words: str
    shape: Callable[[float], Shape]


SILHOUETTES: dict[str, Silhouette] = {
    s.key: s
    for s in (
        Silhouette(
            "high_wing", "High wing, motor in front", "Steady shape with the wing on top of the body.", tailed.high_wing
        ),
        Silhouette(
            "low_wing", "Low wing, motor in front", "Tapered wing under the body, for sport flying.", tailed.low_wing
        ),
        Silhouette(
            "twin_boom_pusher",
            "Twin boom, motor behind",
            "Pod in front, two booms to the tail, propeller between them.",
            tailed.twin_boom_pusher,
        ),
        Silhouette("sailplane", "Sailplane, no motor", "Long slender wing, body to the tail.", tailed.sailplane),
        Silhouette("v_tail", "V-tail, motor in front", "Two tail surfaces that pitch and yaw.", tailed.v_tail),
        Silhouette("biplane", "Biplane", "Two wings, the upper one ahead, and a tail.", tailed.biplane),
        Silhouette("triplane", "Triplane", "Three wings stepped forward, and a tail.", tailed.triplane),
        Silhouette("canard", "Canard, motor behind", "Foreplane at the nose, wing at the rear.", tailless.canard),
        Silhouette("tandem", "Tandem wing, no motor", "Two wings, pitch control on the rear one.", tailless.tandem),
        Silhouette(
            "flying_wing", "Swept flying wing", "No tail: elevons, wash-out, a fin at each tip.", tailless.flying_wing
        ),
        Silhouette("delta", "Delta", "Triangular wing with elevons and one fin.", tailless.delta),
    )
}


def silhouette_configuration(key: str, *, span_m: float) -> Configuration:
    """Return the starting configuration of a silhouette for a span. [m]

    Masses follow common wing loadings, the battery stands where the class target balances, the pitch control rests at the
    computed trim. Raises: UnknownKeyError; OutOfRangeError for a span outside 0.2 to 8 m.
    """
    check_range("span", span_m, unit="m", low=0.2, high=8.0)
    try:
        shape = SILHOUETTES[key].shape
    except KeyError:
        raise UnknownKeyError(f"There is no silhouette {key!r}.", silhouette=key) from None
    return settled(configuration(shape(span_m)))


def settled(c: Configuration) -> Configuration:
    """Return the configuration with its airframe's mass placed for the class target and the elevator at computed trim."""
    design = design_of(c)
    mac = design.aero.planform.mac_m
    # A model that has never flown starts on the safe side: forward of the target, and where the risk stays under 1 %.
    start = max(
        c.rules.target + 0.02, c.rules.minimum + safe_distance(design.static_margin_sigma, design.balance.misread)
    )
    shift = (design.static_margin - start) * mac
    frame = c.items[0]
    frame = replace(frame, x_m=round(frame.x_m + shift * design.balance.mass.mass_kg / frame.mass_kg, 4))
    c = replace(c, items=(frame, *c.items[1:]))
    design = design_of(c)
    rest = trim_elevator_rad(situation(design, np.zeros(COUNT), speed_mps=design.cruise_speed_mps))
    return replace(c, elevator=replace(c.elevator, mechanical_rad=round(max(-0.2, min(0.2, rest)), 4)))
