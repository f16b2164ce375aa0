"""What a pilot allows of a correction, and what a composed one is."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.cards.stale import Difference
from jinba.core.configuration import Configuration
from jinba.core.correct.actions import Action, HeldBack
from jinba.core.diagnose.tendencies import Tendency
from jinba.core.frames import Axis
from jinba.core.said import Said


@dataclass(frozen=True, slots=True)
class Choices:
    """What the pilot allows or fixes. ``battery_m``: chosen battery move [m, aft positive], None for the computed one.

    ``leave``: axes whose surfaces stay as they flew, clicks in the radio included.
    """

    battery_m: float | None = None
    use_ballast: bool = True
    use_tip_ballast: bool = True
    use_thrust_line: bool = True
    leave: tuple[Axis, ...] = ()
    use_level: bool = True
    use_rudder_rate: bool = True


@dataclass(frozen=True, slots=True)
class Correction:
    """A composed correction: actions in the order of work, what was held back, before and after, and what it makes stale."""

    actions: tuple[Action, ...]
    held_back: tuple[HeldBack, ...]
    configuration: Configuration
    now: tuple[Tendency, ...]
    predicted: tuple[Tendency, ...]
    difference: Difference
    wanted_margin: float
    shortfall_m: float
    contradictions: tuple[Said, ...] = ()
    wanted_words: str = ""
