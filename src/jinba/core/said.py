"""What the core has to say: a code to decide by, how serious it is, and the sentence. Nobody decides by the sentence."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Severity(StrEnum):
    """How serious something is, from done to what must not be flown."""

    GOOD = "good"
    PLAIN = "plain"
    WARNING = "warning"
    STOP = "stop"


@dataclass(frozen=True, slots=True)
class Said:
    """A sentence with its code and its severity."""

    code: str
    severity: Severity
    words: str
