"""What a landed sortie taught, computed once from the log: belief, behaviours before and after, causes, score, squawks."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.cards.model import CardRecord, Outcome
from jinba.core.diagnose.after_landing import found_by_hand
from jinba.core.diagnose.causes import Cause, causes
from jinba.core.diagnose.moved import moved_unordered
from jinba.core.diagnose.pairs import pairs_said
from jinba.core.diagnose.score import PredictionScore, score_prediction
from jinba.core.diagnose.seen import seen_in
from jinba.core.diagnose.shown import OWN_CARDS, Shown
from jinba.core.diagnose.sorties import (
    LoggedSortie,
    belief_after,
    carried,
    data_by_record,
    read_as,
    sortie_data,
    trims_at_landing,
    trims_at_release,
)
from jinba.core.diagnose.tendencies import Tendency, tendencies
from jinba.core.diagnose.together import all_in_band
from jinba.core.diagnose.update import METHOD_VERSION, Belief, prior_of
from jinba.core.diagnose.wandering import moved_since, wandering_trim
from jinba.core.observe.situation import Trims, design_of
from jinba.core.said import Said


@dataclass(frozen=True, slots=True)
class Estimate:
    """The estimate of a sortie, by a named version of the method.

    ``before``: every behaviour as it had been said; ``flown``: as it flew before its own trim clicks; ``after``: as it landed.
    The prediction was made for the model as it took off, so the score compares ``before`` with ``flown``. ``landed``: where
    the surfaces rested at the landing [rad]; ``data_count``: data of this sortie; ``together``: chance that every behaviour lay in its
    band then, at once [-].
    """

    method: str
    belief: Belief
    before: tuple[Tendency, ...]
    flown: tuple[Tendency, ...]
    after: tuple[Tendency, ...]
    causes: tuple[Cause, ...]
    score: tuple[PredictionScore, ...]
    squawks: tuple[Said, ...]
    data_count: int
    landed: Trims
    together: float


def estimate_of(
    sorties: tuple[LoggedSortie, ...], *, said: tuple[Tendency, ...], looked_after: tuple[CardRecord, ...] = ()
) -> Estimate:
    """Return the estimate of the last of the sorties given, from all of them.

    ``said``: what was predicted before it flew; where nothing was, it is predicted now from the sorties before.
    ``looked_after``: records of the sortie and after it in the order they were made, repeats included, for the squawks.
    Raises: IndexError without a sortie.
    """
    sorties = carried(sorties)
    last = sorties[-1]
    setup = last.configuration
    belief = belief_after(sorties, configuration=setup)
    landed, rests, seen = trims_at_landing(last), trims_at_release(last), seen_in(sorties, setup)
    before = said or tendencies(setup, belief_before(sorties), rests)
    flown = tendencies(setup, belief, rests)
    by_record, prior = data_by_record(read_as(sorties, setup)), prior_of(design_of(setup))
    of_each = tuple(tuple(d for record in s for d in record) for s in by_record)
    moved = _moved(sorties) or moved_unordered(prior, of_each, design_of(setup))
    return Estimate(
        method=METHOD_VERSION,
        belief=belief,
        before=before,
        flown=flown,
        after=tendencies(setup, belief, landed, seen),
        causes=causes(prior, tuple(d for s in of_each for d in s), belief),
        score=score_prediction(before, tuple(t for t in flown if _was_flown(t.key, last))),
        squawks=(
            *wandering_trim(setup, looked_after, landed),
            *found_by_hand(looked_after),
            *moved,
            # A trim that has moved is said once: the same card against itself says no more.
            *(p for p in pairs_said(prior, belief, by_record) if not moved or len(p.about) > 1),
        ),
        data_count=len(sortie_data(last)),
        landed=landed,
        together=all_in_band(setup, belief, landed),
    )


def _moved(sorties: tuple[LoggedSortie, ...]) -> tuple[Said, ...]:
    """Return what the trims of the last sortie say of the one before, where nothing was changed between them."""
    if len(sorties) < 2 or sorties[-2].configuration != sorties[-1].configuration:
        return ()
    return moved_since(sorties[-2].records, sorties[-1].records)


def belief_before(sorties: tuple[LoggedSortie, ...]) -> Belief:
    """Return what was believed before the last of the sorties, of the setup it was flown in."""
    setup = sorties[-1].configuration
    return belief_after(sorties[:-1], configuration=setup)


def _was_flown(key: str, sortie: LoggedSortie) -> bool:
    """Whether a behaviour was looked at in a sortie: only that can score a prediction."""
    done = {r.card_id for r in sortie.records if r.outcome is Outcome.DONE}
    return any(c in done for c, _ in OWN_CARDS[key])


def worst_tendency(found: tuple[Tendency, ...]) -> Tendency | None:
    """Return the behaviour furthest outside its band, in band widths; balance counts double. None when none is known to be out."""
    out = [t for t in found if t.out]

    def distance(t: Tendency) -> float:
        beyond = max(t.low - t.value, t.value - t.high) / (t.high - t.low)
        return beyond * (2.0 if t.key == "static_margin" else 1.0)

    return max(out, key=distance) if out else None


def headline(
    name: str,
    found: tuple[Tendency, ...],
    *,
    data_count: int,
    broken_off: tuple[str, ...] = (),
    happened: tuple[str, ...] = (),
    together: float | None = None,
) -> str:
    """Return what a landed sortie means in one sentence; "where it should be" needs every behaviour seen in its band, and nine chances
    in ten that all of them lie there at once (``together`` [-], None where it was not asked).

    ``broken_off``: cards that were begun and not flown to their end, ``happened``: incidents in words; they are said first, and
    nothing is well beside them.
    """
    said = [*happened, *([f"{', '.join(broken_off)} broken off"] if broken_off else [])]
    if data_count == 0:
        then = "look at balance, trim and directions before the next take-off" if said else "fly F2 and F3"
        return f"{name}: {_sentences(*said, f'Nothing was learned in this sortie: {then}')}"
    worst = worst_tendency(found)
    if worst is not None:
        return f"{name}: {_sentences(*said, worst.verdict)}"
    left = [t for t in found if not t.settled]
    if not left and not said:
        every = "every behaviour was seen in its band"
        chance = "" if together is None else f"; that all lie there at once is {100 * together:.0f} % likely"
        sure = together is None or together >= ALL_RIGHT
        return f"{name} is where it should be: {every}{chance}." if sure else f"{name}: {every}{chance}."
    unsure = [t for t in left if t.shown is Shown.UNSURE]
    unseen = [t for t in left if t.shown is not Shown.UNSURE]
    still = [
        f"{words}: {_named(these)}"
        for words, these in (("flown, not sure yet", unsure), ("not seen yet", unseen))
        if these
    ]
    seen = f"{len(found) - len(left)} of {len(found)} behaviours seen in their band, none outside"
    return f"{name}: {_sentences(*said, seen, *still)}"


def _named(these: list[Tendency]) -> str:
    """Return behaviours with the cards that show them; of many the first few."""
    names = [f"{t.name} ({' or '.join(c for c, _ in OWN_CARDS[t.key][:2])})" for t in these]
    return ", ".join(names[:_NAMED]) + (f" and {len(names) - _NAMED} more" if len(names) > _NAMED else "")


def _sentences(*said: str) -> str:
    """Return sentences of which all but the first, which stands after a colon, begin with a capital."""
    return " ".join(f"{s if i == 0 else s[:1].upper() + s[1:]}." for i, s in enumerate(said))


ALL_RIGHT = 0.9
"""Chance that everything lies in its band at once, from which on a model is said to be where it should be: common practice, no source."""

_NAMED = 3
