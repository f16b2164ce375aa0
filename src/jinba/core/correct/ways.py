"""The ways to one balance point side by side: as composed, otherwise arranged, more throw, or left as it flew."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jinba.core.bench.arrange import arrangements
from jinba.core.bench.maiden import maiden_point
from jinba.core.bench.remedies import remedies
from jinba.core.cards.stale import STALE, stale_between
from jinba.core.configuration import Configuration, balance_of
from jinba.core.correct.compose import as_flown
from jinba.core.correct.composed import Correction
from jinba.core.declare import Change
from jinba.core.diagnose.shown import KNOWN, OWN_CARDS
from jinba.core.diagnose.tendencies import Tendency, tendencies
from jinba.core.diagnose.together import SET_BY_HAND, all_in_band
from jinba.core.diagnose.update import Belief
from jinba.core.errors import JinbaError
from jinba.core.mass.items import sum_items
from jinba.core.observe.situation import Trims, design_of, resting_trims

_COMPARED = ("static_margin", "pitch_trim")
_MOST, _CARDS_NAMED = 4, 3
_TOLD_APART_M = 0.0025
"""Two places nearer to each other than this are one to hands with a ruler: common practice, no source."""


@dataclass(frozen=True, slots=True)
class WayThere:
    """One way: its steps, what it is predicted to fly like (balance and pitch hands off), what it costs, what it makes stale.

    ``mass_kg``, ``added_kg``; ``pitch_inertia_ratio`` over what it was [-]; ``caution``: why not to fly it, empty when none;
    ``setup``: None where it is set elsewhere; ``all_right``: chance that every behaviour lies in its band then, as far as hands set it
    [-]; ``to_be_sure``: cards that would show it.
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
    all_right: float
    to_be_sure: tuple[str, ...]


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
    return [replace(way, stale=tuple(sorted(STALE[Change.THROWS])), setup=None)]


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
    predicted = tendencies(after, belief, trims)
    inertia = design_of(before).pitch_inertia_kg_m2
    return WayThere(
        key=key,
        name=name,
        steps=steps,
        predicted=tuple(t for t in predicted if t.key in _COMPARED),
        mass_kg=new.mass_kg,
        added_kg=new.mass_kg - old.mass_kg,
        pitch_inertia_ratio=1.0 + (new.iyy_kg_m2 - old.iyy_kg_m2) / inertia,
        stale=tuple(sorted(stale_between(before, after))),
        caution=caution,
        setup=after if key.startswith("arranged") else None,
        all_right=all_in_band(after, belief, trims),
        to_be_sure=_to_be_sure(predicted),
    )


def _to_be_sure(predicted: tuple[Tendency, ...]) -> tuple[str, ...]:
    """Return the first own card of each behaviour that is likelier to be out than it may be, the least sure first."""
    unsure = sorted((t for t in predicted if t.key in SET_BY_HAND and t.chance < KNOWN), key=lambda t: t.chance)
    return tuple(dict.fromkeys(OWN_CARDS[t.key][0][0] for t in unsure))[:_CARDS_NAMED]
