"""How high bold cards are flown: by the speed of this model and what it takes to come out of them."""

from __future__ import annotations

import math
from dataclasses import replace

from jinba.core.cards.fitted import cards_of
from jinba.core.cards.model import Card
from jinba.core.configuration import Configuration
from jinba.core.constants import STANDARD_GRAVITY_MPS2
from jinba.core.observe.situation import design_of
from jinba.core.spoken import a_distance

FLOOR_M = 40.0
"""Nothing bold ends lower than this: common practice, no source. [m]"""

_DIVE_RAD, _DIVE_S = math.radians(35.0), 2.0
_PULL_G = 3.0
_REACTION_S = 0.5
_STALL_FALLS = 2.0
"""A stall is given the height of two recoveries: the second is for the wing that drops. Common practice, no source."""

_ROUND_M = 10.0


def dive_height_m(cruise_mps: float) -> float:
    """Return how high a dive is begun [m]: 35 degrees for two seconds, half a second to react, out at 3 g, above the floor.

    V = V_c + g t sin g; R = V^2/(g (n - cos g)); h = V_c t sin g + g (t sin g)^2/2 + V t_r sin g + R (1 - cos g).
    Validity: drag left out, the safe side. ``cruise_mps`` [m/s]. References: derived here (docs/methods/heights.md).
    """
    g, sine, cosine = STANDARD_GRAVITY_MPS2, math.sin(_DIVE_RAD), math.cos(_DIVE_RAD)
    fast = cruise_mps + g * _DIVE_S * sine
    fallen = cruise_mps * _DIVE_S * sine + 0.5 * g * (_DIVE_S * sine) ** 2 + fast * _REACTION_S * sine
    return FLOOR_M + fallen + fast**2 / (g * (_PULL_G - cosine)) * (1.0 - cosine)


def stall_height_m(stall_mps: float) -> float:
    """Return how high a stall is flown [m]: nose sixty degrees down to 1.4 of the stall speed and out at 2.5 g, twice.

    h = (1.4^2 - 1) V_s^2/2g + (1.4 V_s)^2/(g (2.5 - 0.5)) 0.5. ``stall_mps`` [m/s]. References: derived here
    (docs/methods/heights.md).
    """
    head = stall_mps**2 / STANDARD_GRAVITY_MPS2
    return FLOOR_M + _STALL_FALLS * (0.5 * (1.4**2 - 1.0) + 1.4**2 / (2.5 - 0.5) * 0.5) * head


def cards_for(configuration: Configuration) -> dict[str, Card]:
    """Return the catalogue for a model as it is shown, with the heights at which this one flies its bold cards."""
    cards = cards_of(configuration)
    heights = needed_heights_m(configuration)
    shown = {k: replace(cards[k], cautions=(_at_least(h), *cards[k].cautions)) for k, h in heights.items()}
    return cards | shown


def needed_heights_m(configuration: Configuration) -> dict[str, float]:
    """Return the height over ground at which a model flies its bold cards, in tens of metres, by card [m]. Derived here (docs/methods/heights.md)."""
    design = design_of(configuration)
    heights = {"F8": stall_height_m(design.stall_speed_mps), "F12": dive_height_m(design.cruise_speed_mps)}
    return {k: _ROUND_M * math.ceil(h / _ROUND_M) for k, h in heights.items()}


def _at_least(height_m: float) -> str:
    return f"At least {a_distance(height_m)}: by this model's speed."
