"""What the core has to say: a code to decide by, how serious it is, and the sentence. Nobody decides by the sentence."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from jinba.core.spoken import Argument, arguments


class Severity(StrEnum):
    """How serious something is, from done to what must not be flown."""

    GOOD = "good"
    PLAIN = "plain"
    WARNING = "warning"
    STOP = "stop"


@dataclass(frozen=True, slots=True)
class Said:
    """A sentence with its code and its severity; ``about`` which parts, by key or name."""

    code: str
    severity: Severity
    words: str
    about: tuple[str, ...] = ()

    @property
    def arguments(self) -> tuple[Argument, ...]:
        """The typed arguments of the sentence, in its order."""
        return arguments(self.words)

    @property
    def stops(self) -> bool:
        """Whether it must not be flown like this."""
        return self.severity is Severity.STOP


def finding(code: str, words: str, *about: str, stops: bool = False) -> Said:
    """Return something found: a warning, or what ``stops`` the flight."""
    return Said(code, Severity.STOP if stops else Severity.WARNING, words, about)


def worst_first(said: list[Said]) -> tuple[Said, ...]:
    """Return what stops before what warns; otherwise in the order given."""
    return tuple(sorted(said, key=lambda s: not s.stops))
