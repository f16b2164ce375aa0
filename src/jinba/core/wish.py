"""What a pilot wants a settled model to do, said as he would see it fly."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated

from jinba.core.declare import OPENS_NOTHING, Share, Sister
from jinba.core.errors import JinbaError


class Wanted(StrEnum):
    """A behaviour that a balance can be asked for."""

    PUSH = "push"
    DIVE = "dive"
    TOUCHDOWN = "touchdown"


DIVE_WORDS = {"keeps": "keeps its line", "eases": "eases out gently", "pulls_out": "pulls out"}
"""What may be asked of a dive that is let go: words of its card. Nobody asks for one that steepens, or that rears."""

_PUSH, _TOUCHDOWN = (0.0, 0.4), (0.2, 0.95)


@dataclass(frozen=True, slots=True)
class Wish:
    """A behaviour and how much of it: ``amount`` of full stick [-], held forward inverted or back at touchdown; of a dive ``word`` instead."""

    behaviour: Annotated[Wanted, OPENS_NOTHING, Sister.INHERITS]
    amount: Annotated[Share, OPENS_NOTHING, Sister.INHERITS] = 0.0
    word: Annotated[str, OPENS_NOTHING, Sister.INHERITS] = ""

    def __post_init__(self) -> None:
        if self.behaviour is Wanted.DIVE:
            if self.word not in DIVE_WORDS:
                asked = ", ".join(DIVE_WORDS.values())
                raise JinbaError(f"Say what the dive should do when it is let go: {asked}.", name="word")
            return
        low, high = _PUSH if self.behaviour is Wanted.PUSH else _TOUCHDOWN
        if not low <= self.amount <= high:
            asked = "push held inverted" if self.behaviour is Wanted.PUSH else "back stick held at touchdown"
            raise JinbaError(
                f"{100 * self.amount:.0f} % {asked} cannot be asked for: say {100 * low:.0f} to {100 * high:.0f} % of full stick.",
                name="amount",
            )

    @property
    def words(self) -> str:
        """What is asked for, in a pilot's words."""
        if self.behaviour is Wanted.DIVE:
            return f"a 35° dive that, let go, {DIVE_WORDS[self.word]}"
        if self.behaviour is Wanted.PUSH:
            return f"{100 * self.amount:.0f} % push held inverted" if self.amount else "no push at all held inverted"
        return f"{100 * self.amount:.0f} % back stick at touchdown"
