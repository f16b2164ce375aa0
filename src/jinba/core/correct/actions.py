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
    LEVEL = "level"
    RUDDER_RATE = "rudder_rate"


class Reads(StrEnum):
    """What is read to prove an action."""

    BALANCE = "balance"
    SURFACE = "surface"
    CLICKS = "clicks"


@dataclass(frozen=True, slots=True)
class Expected:
    """The reading that proves an action: ``value`` and ``tolerance`` in ``unit`` ("m" or "clicks"), signed.

    ``positive``, ``negative``: the two ways in words, as a person reads them; ``about``: surface by role, or axis; ``chord_m``: of
    the surface at which the ruler is held, 0 for anything else.
    """

    reads: Reads
    value: float
    tolerance: float
    unit: str
    positive: str
    negative: str
    about: str = ""
    chord_m: float = 0.0


@dataclass(frozen=True, slots=True)
class Action:
    """One change. ``amount`` in ``unit`` (never signed), ``words`` what to do, ``surface_words`` where a surface ends up.

    ``thumb`` what the rule of thumb would say; ``why`` one sentence; ``proof`` the reading that shows it was done, ``expected`` the
    same as a number, None where it is no number.
    """

    kind: ActionKind
    amount: float
    unit: str
    words: str
    why: str
    proof: str
    surface_words: str = ""
    thumb: str = ""
    expected: Expected | None = None


@dataclass(frozen=True, slots=True)
class HeldBack:
    """A change that was considered and not made, with the reason and what would open it; ``cards``: one of these, flown; ``reading``:
    the balance, read again."""

    kind: ActionKind
    words: str
    opens_with: str
    cards: tuple[str, ...] = ()
    reading: bool = False
