"""What the pilot's own choice of cards costs or brings against the proposal, in sentences."""

from __future__ import annotations

from collections.abc import Collection

from jinba.core.diagnose.together import WEIGHTS
from jinba.core.plan.worth import Prospect

_WORTH_SAYING = 0.02
"""A chance that moves by less is not spoken of."""


def cost_of(prospect: Prospect, proposed: Collection[str], chosen: Collection[str]) -> tuple[str, ...]:
    """Return what a choice of cards costs against the proposal, the largest loss first, and what it brings; empty where nothing moves.

    Derived here (docs/methods/next-card.md).
    """
    before, after = prospect.chances(proposed), prospect.chances(chosen)
    moved = sorted(prospect.decisions, key=lambda d: WEIGHTS[d.key] * (after[d.key] - before[d.key]))
    return tuple(
        f"{d.name}, right after the next rework: {100 * after[d.key]:.0f} % likely, as proposed {100 * before[d.key]:.0f} %."
        for d in moved
        if abs(after[d.key] - before[d.key]) >= _WORTH_SAYING
    )
