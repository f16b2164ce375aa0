"""The single changes a correction is made of, with amounts as hands do them and words for all directions."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class ActionKind(StrEnum):
    """What is done."""

    MOVE_BATTERY = "move_battery"
    BALLAST = "ballast"
    TIP_BALLAST = "tip_ballast"
    ELEVATOR = "elevator"
    AILERON = "aileron"
    RUDDER = "rudder"
    ELEVON = "elevon"
    TAIL_SURFACE = "tail_surface"
    THRUST_LINE = "thrust_line"


@dataclass(frozen=True, slots=True)
class Action:
    """One change. ``amount`` in ``unit`` (never signed), ``words`` what to do, ``surface_words`` where a surface ends up.

    ``thumb`` what the rule of thumb would say; ``why`` one sentence; ``proof`` the reading that shows it was done.
    """

    kind: ActionKind
    amount: float
    unit: str
    words: str
    why: str
    proof: str
    surface_words: str = ""
    thumb: str = ""


@dataclass(frozen=True, slots=True)
class HeldBack:
    """A change that was considered and not made, with the reason and what would open it; ``cards``: one of these, flown."""

    kind: ActionKind
    words: str
    opens_with: str
    cards: tuple[str, ...] = ()
