"""The ways to one balance point side by side: as composed, otherwise arranged, more throw, or left as it flew."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.bench.arrange import arrangements
from jinba.core.bench.maiden import maiden_point
from jinba.core.bench.remedies import remedies
from jinba.core.cards.stale import STALE, difference
from jinba.core.configuration import Configuration, balance_of
from jinba.core.correct.compose import Correction, as_flown
from jinba.core.declare import Change
from jinba.core.diagnose.tendencies import Tendency, tendencies
from jinba.core.diagnose.update import Belief
from jinba.core.errors import JinbaError
from jinba.core.mass.items import sum_items
from jinba.core.observe.situation import Trims, design_of, resting_trims

_COMPARED = ("static_margin", "pitch_trim")
_MOST = 4
_TOLD_APART_M = 0.0025
"""Two places nearer to each other than this are one to hands with a ruler: common practice, no source."""


@dataclass(frozen=True, slots=True)
class WayThere:
    """One way: its steps, what it is predicted to fly like (balance and pitch hands off), what it costs, what it makes stale.

    ``mass_kg``, ``added_kg``; ``pitch_inertia_ratio`` over what it was [-]; ``caution``: why not to fly it, empty when none;
    ``setup``: None where it is set elsewhere.
    """

    key: str
    name: str
    steps: tuple[str, ...]
    predicted: tuple[Tendency, ...]
    mass_kg: float
    added_kg: float
    pitch_inertia_ratio: float
    stale: tuple[str, ...]
    caution: str
    setup: Configuration | None


def ways(configuration: Configuration, belief: Belief, flown: Trims, correction: Correction) -> tuple[WayThere, ...]:
    """Return up to four ways, the composed one first where something is to be done, leaving it always and last. ``flown``: where the surfaces rest. [rad]

    Every way is judged by the same belief; the others than the composed one keep the trims it flew with. Derived here
    (docs/methods/corrections.md).
    """
    here = as_flown(configuration, flown)
    composed = correction.configuration
    found = []
    if correction.actions:
        steps = tuple(a.words for a in correction.actions)
        found.append(_way("composed", "As composed", steps, here, composed, belief, resting_trims(composed)))
    found += _arranged(here, composed, belief, flown)
    found += _throw(here, belief, flown)
    left = _way("leave", "Leave it as it landed", ("Nothing.",), here, here, belief, flown)
    return (*found[: _MOST - 1], left)


def _arranged(here: Configuration, composed: Configuration, belief: Belief, flown: Trims) -> list[WayThere]:
    target = balance_of(composed).x_m
    if abs(target - balance_of(here).x_m) < 1e-6:
        return []
    try:
        proposals = arrangements(here, target_x_m=target, belief=belief).proposals
    except JinbaError:
        # Nothing on it can be arranged: then there is no other way to list.
        return []
    found = []
    for n, p in enumerate(proposals):
        if p.shortfall_m > 0.0 or _alike(p.setup, composed):
            continue
        found.append(_way(f"arranged-{n}", "Moved otherwise", p.steps, here, p.setup, belief, flown, caution=p.caution))
    return found[:2]


def _alike(one: Configuration, other: Configuration) -> bool:
    """Return whether everything aboard lies in the same places, to what hands can tell."""
    theirs = {i.key: i for i in other.items if i.fitted}
    mine = [i for i in one.items if i.fitted]
    same = [i for i in mine if i.key in theirs and abs(i.x_m - theirs[i.key].x_m) < _TOLD_APART_M]
    return (
        len(same) == len(mine) == len(theirs)
        and abs(sum(i.mass_kg for i in mine) - sum(t.mass_kg for t in theirs.values())) < 1e-6
    )


def _throw(here: Configuration, belief: Belief, flown: Trims) -> list[WayThere]:
    design = design_of(here)
    more = next((r for r in remedies(design, maiden_point(design)) if r.key == "throw"), None)
    if more is None:
        return []
    way = _way("throw", more.name, (more.words,), here, here, belief, flown)
    return [
        WayThere(
            way.key,
            way.name,
            way.steps,
            way.predicted,
            way.mass_kg,
            0.0,
            1.0,
            tuple(sorted(STALE[Change.THROWS])),
            "",
            None,
        )
    ]


def _way(
    key: str,
    name: str,
    steps: tuple[str, ...],
    before: Configuration,
    after: Configuration,
    belief: Belief,
    trims: Trims,
    *,
    caution: str = "",
) -> WayThere:
    old, new = sum_items(before.items), sum_items(after.items)
    inertia = design_of(before).pitch_inertia_kg_m2
    return WayThere(
        key=key,
        name=name,
        steps=steps,
        predicted=tuple(t for t in tendencies(after, belief, trims) if t.key in _COMPARED),
        mass_kg=new.mass_kg,
        added_kg=new.mass_kg - old.mass_kg,
        pitch_inertia_ratio=1.0 + (new.iyy_kg_m2 - old.iyy_kg_m2) / inertia,
        stale=tuple(sorted(difference(before, after).stale)),
        caution=caution,
        setup=after if key.startswith("arranged") else None,
    )
