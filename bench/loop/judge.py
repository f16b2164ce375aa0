"""How a model truly stands against its limits: asked of the simulation, without noise."""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace

import numpy as np

from jinba.core.cards.scales import Per, size
from jinba.core.configuration import Configuration
from jinba.core.diagnose.tendencies import (
    CRAB_LIMIT_DEG,
    POWER_PITCH_LIMIT,
    ROLL_LIMIT_DEG_S,
    pitch_limit_deg_s,
)
from jinba.core.flight.piloting.aloft import Air, Aloft, CannotFly, Crashed, crab_seen, path_seen, roll_seen
from jinba.core.flight.piloting.person import PERFECT, Eyes
from jinba.core.flight.piloting.sortie import Truth
from jinba.core.flight.simulation.craft import Craft, craft_of
from jinba.core.flight.simulation.steady import flying, settled_loads
from jinba.core.frames import Axis
from jinba.core.observe.situation import design_of

CLICK_LIMIT = 2.5
MARGIN_LIMIT = 0.03
LIMITS = ("margin", "clicks", "roll_cruise", "roll_slow", "power_pitch")


@dataclass(frozen=True, slots=True)
class State:
    """True state of a model. ``margin`` as the product counts it (of MAC, at no lift, power off), ``margin_cruise`` as it
    flies; ``margin_error`` over the class target; the others over their limits, 1 at the limit; ``behaviours``: what the debrief judges,
    over half its band. ``flyable``."""

    margin: float
    margin_cruise: float
    margin_error: float
    over: dict[str, float]
    flyable: bool
    behaviours: dict[str, float] = field(default_factory=dict)

    @property
    def in_bands(self) -> bool:
        """Whether every behaviour of the debrief lies in its band."""
        return self.flyable and bool(self.behaviours) and all(v <= 1.0 for v in self.behaviours.values())

    @property
    def within(self) -> bool:
        """Whether every limit is met."""
        return self.flyable and all(v <= 1.0 for v in self.over.values())


def margins(craft: Craft, speed_mps: float) -> tuple[float, float]:
    """Return the static margin about no lift and about the lift at a speed, power off, controls neutral."""
    lifts, moments = _swept(craft, speed_mps)

    def slope(low: float, high: float) -> float:
        return float(-(np.interp(high, lifts, moments) - np.interp(low, lifts, moments)) / (high - low))

    cruise = craft.mass * 9.80665 / (0.5 * craft.density * speed_mps**2 * craft.area)
    return slope(-0.3, 0.3), slope(cruise - 0.12, cruise + 0.12)


def moment_at_no_lift(craft: Craft, speed_mps: float) -> float:
    """Return the pitching moment coefficient at no lift, power off, controls neutral."""
    return float(np.interp(0.0, *_swept(craft, speed_mps)))


def _swept(craft: Craft, speed_mps: float) -> tuple[np.ndarray, np.ndarray]:
    pressure = 0.5 * craft.density * speed_mps**2 * craft.area
    circulation = np.zeros(len(craft.row))

    def at(alpha: float) -> tuple[float, float]:
        state = flying(speed_mps=speed_mps, alpha=alpha)
        force, moment = settled_loads(craft, state, np.zeros(4), 0.0, circulation)
        lift = -force[2] * math.cos(alpha) + force[0] * math.sin(alpha)
        return float(lift / pressure), float(moment[1] / (pressure * craft.chord))

    lifts, moments = np.array([at(a) for a in np.linspace(-0.14, 0.14, 15)]).T
    return lifts, moments


def judged(truth: Truth, bench: Configuration, *, cruises_at: float = 1.0, seed: int = 1) -> State:
    """Return how a model truly stands. ``cruises_at``: speed its pilot calls cruise, over the model's own [-]: that is what it is trimmed
    for, and nobody on the ground can know another."""
    craft = craft_of(truth.real, truth.spread, truth.wrong)
    a = Aloft(
        craft,
        truth.real,
        Eyes(replace(PERFECT, speed=cruises_at), np.random.default_rng(seed)),
        Air(),
        cruise_factor=truth.spread.cruise,
    )
    margin, cruise = margins(craft, a.cruise_mps)
    error = margin - bench.rules.target
    over = {"margin": abs(error) / MARGIN_LIMIT}
    try:
        level, slow = a.cruise(), a.slow()
        over["clicks"] = abs(float(level.surfaces[0]) - a.rest[Axis.PITCH]) / a.click[Axis.PITCH] / CLICK_LIMIT
        for key, at in (("roll_cruise", level), ("roll_slow", slow)):
            track = a.fly(a.start(at), a.let_roll(at), 3.0)
            limit = ROLL_LIMIT_DEG_S * size(Per.ROLL, cruise_mps=a.cruise_mps, span_m=craft.span)
            over[key] = abs(roll_seen(track, 0.2, 2.8)) / limit
        over["power_pitch"] = 0.0
        if a.has_motor:
            # What power does, with the elevator that holds it level: not what trim does.
            full = a.fly(a.start(level), a.hand(level, hold_path=0.0, throttle=1.0), 1.2)
            over["power_pitch"] = abs(path_seen(full, 0.0, 1.2)) / (POWER_PITCH_LIMIT / a.cruise_mps)
    except (CannotFly, Crashed):
        return State(margin, cruise, error, dict.fromkeys(LIMITS, 99.0) | over, False)
    behaviours = {k: over[k] for k in ("roll_cruise", "roll_slow", "power_pitch")}
    behaviours["static_margin"] = abs(error) / bench.rules.band
    free = a.fly(a.start(level), a.let_go(level), 2.0)
    behaviours["pitch_trim"] = abs(path_seen(free, 0.2, 1.6)) / pitch_limit_deg_s(design_of(bench))
    behaviours["yaw"] = abs(crab_seen(a.fly(a.start(level), a.hand(level), 2.0), 0.5, 1.4)) / CRAB_LIMIT_DEG
    return State(margin, cruise, error, over, True, behaviours)
