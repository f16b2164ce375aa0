"""The programme: which cards a configuration still needs, and those of the next sortie, chosen by what they tell."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from itertools import combinations

from jinba.core.cards.catalogue import CARDS, LANDING, TAKE_OFF
from jinba.core.cards.model import Outcome, Phase
from jinba.core.configuration import Configuration
from jinba.core.diagnose.seen import NOTHING, Seen
from jinba.core.diagnose.together import WEIGHTS
from jinba.core.diagnose.update import Belief, prior_of
from jinba.core.observe.situation import Trims, design_of, resting_trims
from jinba.core.plan.first import first
from jinba.core.plan.minutes import LastSortie, guessed_minutes, minutes_of, proofs, washers_put_in
from jinba.core.plan.order import BOLD, FLYING_ORDER, MOST_BOLD, looked_at, too_bold, unmet
from jinba.core.plan.packing import Choice, pack
from jinba.core.plan.states import UNTOUCHED, CardState, Since, States, gates_of, needed, stage_of, states_of
from jinba.core.plan.worth import Prospect, likelier, prospect
from jinba.core.said import Said

FRAME = {
    "F1": "Every sortie takes off.",
    "F28": "Practised in every sortie; it shows slow flight and power, too.",
    "F29": "Every sortie lands.",
}
"""Flown in every sortie, and why: it has to take off and land anyway, with a practised approach."""

_WAITED_FOR, _PROVED, _OPEN, _STALE = 5.0, 2.0, 0.3, 0.02
"""What it is worth to fly a card that a change waits for, a trim that half a minute proves, a card that was never flown, and one whose
result no longer holds, beside what it tells. The first two common practice, no source; that a behaviour nobody has seen goes before
another look at one that was, set on tuning fleets in the independent simulation (docs/benchmarks.md)."""

_AS_A_PROOF = "Changed a little since it was trimmed: hands off, half a minute, as a proof."

_RISK = 0.005
"""What a step of risk costs: a card that tells less stays on the ground. Common practice, no source. A safe minute costs nothing: what is
kept back of the pack is kept back already, and minutes that are not flown tell nothing."""


@dataclass(frozen=True, slots=True)
class PlannedCard:
    """A card with its state, why it stands so, and whether it is proposed for the next sortie, with ``why`` in a sentence.

    ``proof``: a trim that is only proved, hands off, in half a minute. ``minutes`` it takes so. ``looked_at``: what it looks at was seen
    once, so that what needs it may be flown.
    """

    card_id: str
    state: CardState
    reason: str
    proposed: bool
    why: str = ""
    proof: bool = False
    minutes: float = 0.0
    looked_at: bool = False


@dataclass(frozen=True, slots=True)
class Programme:
    """The state of every card and the proposal for the next sortie in flying order, with its minutes and gates.

    ``proved``: trims that are only proved; ``first``: what is better done on the bench before it is flown.
    """

    sortie_number: int
    cards: tuple[PlannedCard, ...]
    gates: tuple[str, ...]
    flight: tuple[str, ...]
    minutes: float
    safe_minutes: float
    note: str
    proved: frozenset[str] = frozenset()
    first: tuple[Said, ...] = ()


@dataclass(frozen=True, slots=True)
class Wishes:
    """What the pilot wants in the next sortie, and what not, whatever is proposed."""

    pinned: frozenset[str] = frozenset()
    dropped: frozenset[str] = frozenset()


@dataclass(frozen=True, slots=True)
class _Pack:
    """What a sortie is packed from; ``safe_minutes`` that the pack gives [min]."""

    configuration: Configuration
    states: States
    refused: frozenset[str]
    asked: tuple[tuple[str, ...], ...]
    seen: Seen
    proved: frozenset[str]
    washers: bool
    wishes: Wishes
    prospect: Prospect
    safe_minutes: float


def programme(
    configuration: Configuration,
    *,
    results: Mapping[str, Outcome],
    stale: frozenset[str],
    sorties_flown: int,
    refused: frozenset[str] = frozenset(),
    fresh: frozenset[str] = frozenset(),
    asked: tuple[tuple[str, ...], ...] = (),
    seen: Seen = NOTHING,
    since: Since = UNTOUCHED,
    belief: Belief | None = None,
    rests: Trims | None = None,
    last: LastSortie | None = None,
    wishes: Wishes | None = None,
    safe_minutes: float | None = None,
) -> Programme:
    """Return the programme for the next sortie.

    Parameters
    ----------
    configuration : the present one.
    results : latest outcome of each card, any configuration.
    stale : cards that changes since have made stale.
    sorties_flown : with this model. ``refused``: cards that the weather rules out.
    fresh : cards of every sortie that have been done since the last landing.
    asked : for each change that is held back, the cards of which one opens it, the better one first; flown already and not enough,
        the one that tells more is flown again.
    seen : what the newest record of each card says of the model as it stands.
    since : what an incident has re-opened, and how often it has flown since it was to be flown as new.
    belief, rests : what is believed of the present configuration, None before any flight; where its surfaces rest [rad].
    last : the sortie before. ``wishes``: of the pilot. ``safe_minutes``: that the pack gives [min], None for the guess.

    The maiden holds first acquaintance only; F5, F8, F12, F13 from the second, inverted cards from the third and only for
    models flown inverted. Bold cards (risk 3 and more) at most two a sortie. Common practice, no source. What must be flown comes
    first; the rest by what it tells of the decisions that are open, within the safe minutes (docs/methods/next-card.md, derived here).
    """
    number = sorties_flown + 1
    stage = stage_of(number, since)
    states = states_of(configuration, results=results, stale=stale, number=stage, fresh=fresh, opened=since.opened)
    proved = frozenset(k for k in proofs(last, configuration) if states[k][0] in (CardState.STALE, CardState.DONE))
    job = _Pack(
        configuration,
        states,
        refused,
        asked,
        seen,
        proved,
        washers_put_in(last, configuration),
        wishes or Wishes(),
        prospect(
            configuration,
            belief or prior_of(design_of(configuration)),
            rests or resting_trims(configuration),
            seen,
            FLYING_ORDER,
        ),
        guessed_minutes(configuration) if safe_minutes is None else safe_minutes,
    )
    flight, why = _packed(job)
    planned = tuple(
        PlannedCard(
            c.id,
            *states[c.id],
            proposed=c.id in flight or (c.phase is not Phase.FLIGHT and needed(states[c.id][0])),
            why=why.get(c.id, ""),
            proof=c.id in proved,
            minutes=minutes_of((c.id,), proved) if c.phase is Phase.FLIGHT else 0.0,
            looked_at=looked_at(c.id, states, seen),
        )
        for c in CARDS.values()
    )
    note = ""
    if stage == 1:
        what = "A maiden" if number == 1 else "The first flight after an incident is a maiden: it"
        note = f"{what} holds first acquaintance only: no stalls, no dives."
    minutes = minutes_of(flight, proved)
    return Programme(
        number,
        planned,
        gates_of(states),
        flight,
        minutes,
        job.safe_minutes,
        note,
        proved,
        first(job.prospect, flight),
    )


def _packed(job: _Pack) -> tuple[tuple[str, ...], dict[str, str]]:
    """Return the cards of a sortie in flying order, and why each is in it."""
    why = _must(job)
    must = frozenset(why)
    waits = {k: "A change waits for it." for k in _opening(job) if k not in must}
    if job.washers and needed(job.states["F5"][0]) and "F5" not in must:
        waits.setdefault("F5", "Washers were put in: see what power does now.")
    choices = _choices(job, must, frozenset(waits))
    together = {p: _beyond(job, must, p) for p in combinations(choices, 2)}
    bold = MOST_BOLD - sum(CARDS[k].risk >= BOLD for k in must)
    left = job.safe_minutes - minutes_of(must, job.proved)
    chosen = pack(choices, together, minutes=max(left, 0.0), bold=max(bold, 0))
    for card_id in chosen:
        proof = _AS_A_PROOF if card_id in job.proved and job.states[card_id][0] is CardState.STALE else ""
        why[card_id] = waits.get(card_id) or proof or _tells(job, must, card_id)
    return tuple(sorted(must | chosen, key=FLYING_ORDER.index)), why


def _must(job: _Pack) -> dict[str, str]:
    """Return what is flown whatever else is, and why: the frame, trims that do not hold any more, what the pilot has pinned."""
    there = {k for k, (s, _) in job.states.items() if s is not CardState.NOT_FOR_THIS_MODEL}
    why = {k: words for k, words in FRAME.items() if k in there}
    for k in ("F2", "F3"):
        state = job.states[k][0]
        # An approach with power needs both trims flown once; a roll trim that is only stale may wait for what a change waits for.
        if needed(state) and (k == "F2" or state is not CardState.STALE):
            why[k] = _AS_A_PROOF if k in job.proved else "Everything else is flown in trim."
    for k in sorted(job.wishes.pinned, key=FLYING_ORDER.index):
        needs = _allowed(job, k, frozenset(why)) if k in there and job.states[k][0] is not CardState.LATER else None
        if needs is not None:
            why.setdefault(k, "You want it.")
            for need in needs:
                why.setdefault(need, f"{k} needs it.")
    fixed = (TAKE_OFF, LANDING)
    return {k: w for k, w in why.items() if k not in job.wishes.dropped or k in fixed}


def _opening(job: _Pack) -> list[str]:
    """Return for each change that is held back the card that opens it: one not flown yet, else the one that tells more once again."""
    found = []
    for cards in job.asked:
        free = [k for k in cards if k not in job.refused | job.wishes.dropped | job.seen.cannot]
        open_yet = [k for k in free if needed(job.states[k][0])]
        again = [k for k in free if job.states[k][0] is CardState.DONE]
        again.sort(key=lambda k: -job.prospect.worth((k,)))
        found += (open_yet or again)[:1]
    return found


def _choices(job: _Pack, must: frozenset[str], waited_for: frozenset[str]) -> dict[str, Choice]:
    """Return the cards that may be flown beside those that must, with what each adds."""
    base, spent = job.prospect.worth(must), minutes_of(must, job.proved)
    offered = [
        k
        for k in FLYING_ORDER
        if k not in must | job.refused | job.wishes.dropped | job.seen.cannot
        and job.states[k][0] not in (CardState.LATER, CardState.NOT_FOR_THIS_MODEL)
    ]
    found = {}
    for k in offered:
        needs = _allowed(job, k, must)
        if needs is None or not set(needs) <= set(offered):
            continue
        minutes = minutes_of((*must, k), job.proved) - spent
        beside = _WAITED_FOR * (k in waited_for) + _beside(job.states[k][0], proved=k in job.proved)
        tells = job.prospect.worth((*must, k)) - base
        found[k] = Choice(minutes, tells + beside - _RISK * CARDS[k].risk, CARDS[k].risk >= BOLD, needs)
    return found


def _beside(state: CardState, *, proved: bool) -> float:
    if state is CardState.STALE:
        return _PROVED if proved else _STALE
    return _OPEN if needed(state) else 0.0


def _allowed(job: _Pack, card_id: str, must: Collection[str]) -> tuple[str, ...] | None:
    """Return the cards that have to be flown with this one in the same sortie, None where it may not be flown yet."""
    before = {k for k in must if FLYING_ORDER.index(k) < FLYING_ORDER.index(card_id)}
    needs: list[str] = []
    while (need := unmet(card_id, before, job.states, job.seen)) is not None:
        needs.append(need)
        before.add(need)
    if too_bold(card_id, before, job.states, job.seen) is None:
        return tuple(needs)
    with_slow = before | {"F7"}
    return (*needs, "F7") if too_bold(card_id, with_slow, job.states, job.seen) is None else None


def _beyond(job: _Pack, must: frozenset[str], pair: tuple[str, str]) -> float:
    worth = job.prospect.worth
    a, b = pair
    return worth((*must, a, b)) - worth((*must, a)) - worth((*must, b)) + worth(must)


_WORTH_SAYING = 0.01
_STANDS = {
    CardState.OPEN: "Not flown yet.",
    CardState.STALE: "What it showed no longer holds.",
    CardState.FAILED: "Not passed last time.",
    CardState.DONE: "It adds a little to all.",
}


def _tells(job: _Pack, must: frozenset[str], card_id: str) -> str:
    """Return in a sentence what a card is flown for: what it makes likelier to end in its band, or that it was not flown yet."""
    before, after = job.prospect.chances(must), job.prospect.chances((*must, card_id))
    gained = {d.key: WEIGHTS[d.key] * (after[d.key] - before[d.key]) for d in job.prospect.decisions}
    key = max(gained, key=lambda k: gained[k], default=None)
    if key is None or after[key] - before[key] < _WORTH_SAYING:
        return _STANDS[job.states[card_id][0]]
    name = next(d.name for d in job.prospect.decisions if d.key == key)
    return likelier(name, before[key], after[key])
