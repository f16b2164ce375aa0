"""What is better done before anything is flown or changed: a reading on the bench, or a second pack."""

from __future__ import annotations

from collections.abc import Collection

from jinba.core.plan.worth import INCIDENCE, READ_AGAIN, Prospect, likelier
from jinba.core.said import Said, finding

_ENOUGH = 0.03
"""A reading that adds less than this chance is not asked for: common practice, no source."""

_DOUBTFUL, _MUCH = 0.6, 0.12
"""A second pack comes before a change that is less likely than this to be right, where it adds as much: common practice, no source."""

_ROLLS = ("roll_cruise", "roll_slow")


def first(prospect: Prospect, flight: Collection[str]) -> tuple[Said, ...]:
    """Return the readings on the bench that add to what a sortie will say, each with what it adds in a sentence.

    ``flight``: its cards. Derived here (docs/methods/next-card.md).
    """
    again = _adds(prospect, flight, READ_AGAIN, ("static_margin",))
    tips = _adds(prospect, flight, INCIDENCE, _ROLLS)
    found = []
    if again is not None:
        found.append(
            finding(READ_AGAIN, f"Read the balance again, another way. {again} It takes no minute of the pack.")
        )
    if tips is not None:
        found.append(finding(INCIDENCE, f"Measure the incidence at root and tip of both wings. {tips}"))
    return tuple(found)


def before_a_change(prospect: Prospect, flight: Collection[str]) -> tuple[Said, ...]:
    """Return what is better done before a change is made: another reading of the balance, or a second pack of these cards as it is.

    ``flight``: the cards of a sortie in the setup as it stands. Derived here (docs/methods/next-card.md).
    """
    found = [s for s in first(prospect, ()) if s.code == READ_AGAIN]
    now, then = prospect.chances(()), prospect.chances(flight)
    margin = next(d for d in prospect.decisions if d.key == "static_margin")
    if now[margin.key] < _DOUBTFUL and then[margin.key] - now[margin.key] >= _MUCH:
        cards = ", ".join(flight)
        words = f"Or fly a second pack before you change anything, {cards}. {likelier(margin.name, now[margin.key], then[margin.key])}"
        found.append(finding("second_pack", words))
    return tuple(found)


def _adds(prospect: Prospect, flight: Collection[str], reading: str, keys: tuple[str, ...]) -> str | None:
    if reading not in prospect.measured:
        return None
    before, after = prospect.chances(flight), prospect.chances((*flight, reading))
    of = max((d for d in prospect.decisions if d.key in keys), key=lambda d: after[d.key] - before[d.key])
    gained = after[of.key] - before[of.key]
    return likelier(of.name, before[of.key], after[of.key]) if gained >= _ENOUGH else None
