"""The end of a test programme: what has to be seen before a model is handed over, and what it was signed off on."""

from __future__ import annotations

import uuid
from dataclasses import dataclass
from datetime import datetime

from jinba.core.configuration import Configuration
from jinba.core.controls.stabiliser import trims_forbidden
from jinba.core.diagnose.tendencies import Tendency
from jinba.core.errors import RefusedError, check_text
from jinba.core.frames import Axis
from jinba.core.plan.stops import SHORTEST_REASON
from jinba.core.said import Said

_STALL = "F8"


@dataclass(frozen=True, slots=True)
class Criterion:
    """One thing that has to be so, whether it is, and what was seen of it in words."""

    key: str
    met: bool
    words: str


@dataclass(frozen=True, slots=True)
class SignOff:
    """Who handed a model over after which sortie (by number) and when; ``missing``: what was not so then, ``remark`` why all the same."""

    id: uuid.UUID
    sortie: int
    signed_by: str
    remark: str
    missing: tuple[str, ...]
    at: datetime


def criteria(
    setup: Configuration,
    after: tuple[Tendency, ...],
    *,
    flown: frozenset[str],
    open_actions: int,
    went_wrong: tuple[str, ...],
    contradictions: tuple[Said, ...],
) -> tuple[Criterion, ...]:
    """Return what has to be so: every behaviour seen in its band, nothing open, broken or contradicting, trims out of the radio.

    ``setup`` with the clicks it landed with; ``flown``: cards flown to their end as the model stands (where its stall has no speed
    read in the air, having flown it is enough); ``went_wrong``: incidents that were not gone over, cards broken off, squawks.
    """
    found = [_behaviour(t, flown) for t in after]
    found.append(
        Criterion(
            "work", open_actions == 0, "Work order: every action proved" if not open_actions else "Work order: open"
        )
    )
    found += [Criterion("wrong", False, w) for w in went_wrong] or [
        Criterion("wrong", True, "Nothing broke, nothing was broken off")
    ]
    found += [Criterion("contradiction", False, c.words) for c in contradictions]
    found.append(_trims(setup))
    return tuple(found)


def _behaviour(t: Tendency, flown: frozenset[str]) -> Criterion:
    if t.key == "stall_speed" and not t.settled and not t.out and _STALL in flown:
        return Criterion(t.key, True, f"{t.name}: {_STALL} flown, no speed read")
    words = t.verdict.removeprefix("expected: ")
    return Criterion(t.key, t.settled, f"{t.name}: {words}{'' if words == t.verdict else ', not seen yet'}")


def _trims(setup: Configuration) -> Criterion:
    control = setup.control_setup
    most = 0 if trims_forbidden(control.stabiliser) else control.threshold_clicks
    left = [a.value for a in Axis if abs(setup.control(a).clicks) > most]
    words = (
        f"Trims: at most {most} clicks in the radio"
        if not left
        else f"Trims: {', '.join(left)} holds more than {most} clicks"
    )
    return Criterion("trims", not left, words)


def signed(found: tuple[Criterion, ...], *, by: str, remark: str) -> tuple[str, str, tuple[str, ...]]:
    """Return name, remark and what is missing. Raises: RefusedError without a name, or with something missing and no reason."""
    name, why = check_text("name", by.strip(), longest=80), check_text("remark", remark.strip(), longest=300)
    if not name:
        raise RefusedError("Say who signs it off.")
    missing = tuple(c.words for c in found if not c.met)
    if missing and len(why) < SHORTEST_REASON:
        raise RefusedError(
            f"Not all is as it should be: {'; '.join(missing)}. To hand it over all the same, say why in a few words."
        )
    return name, why, missing
