"""One model through up to eight sorties with one way of correcting it: what was proposed, flown, believed, done, and true."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np

from bench.loop.fleet import Case
from bench.loop.folk import by_hand
from bench.loop.judge import State, judged, moment_at_no_lift
from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.incident import as_new_since
from jinba.core.cards.model import CardRecord, Outcome, Phase
from jinba.core.cards.stale import EVERY_SORTIE, difference
from jinba.core.configuration import Configuration
from jinba.core.correct.compose import as_flown, compose
from jinba.core.diagnose.causes import largest_fault
from jinba.core.diagnose.seen import seen_in
from jinba.core.diagnose.sorties import LoggedSortie, belief_after, trims_at_landing
from jinba.core.diagnose.tendencies import risk_behind_minimum
from jinba.core.diagnose.together import all_in_band
from jinba.core.diagnose.update import Belief, prior_of
from jinba.core.flight.piloting.sortie import Truth, fly_sortie
from jinba.core.flight.simulation.craft import craft_of
from jinba.core.flight.workshop import Blunders, Hands, carried_out, flown_with, pack_elsewhere, read_again
from jinba.core.observe.parameters import P
from jinba.core.observe.situation import design_of, resting_trims
from jinba.core.plan.minutes import LastSortie, minutes_of
from jinba.core.plan.programme import Programme, programme
from jinba.core.plan.states import Since
from jinba.core.plan.worth import READ_AGAIN

CAP = 8
GOOD_CARDS = (
    ("F1", "F2", "F3", "F4", "F7", "F32", "F28", "F29"),
    ("F1", "F2", "F3", "F4", "F7", "F5", "F8", "F13", "F12", "F28", "F29"),
    ("F1", "F2", "F3", "F4", "F7", "F5", "F12", "F13", "F14", "F29"),
)
"""A fixed set that looks at everything, eight to eleven minutes: what a pilot with a bigger pack would fly."""


@dataclass(frozen=True, slots=True)
class Method:
    """A way through the loop: ``estimator`` or by hand, the planner's own cards or the fixed set, cards left out; ``reads_again``: the
    balance, where the program asks for it."""

    name: str
    estimator: bool = True
    planned: bool = True
    proportional: bool = True
    without: frozenset[str] = frozenset()
    reads_again: bool = True


@dataclass(frozen=True, slots=True)
class Believed:
    """What was believed after a sortie, against what was true of the model as it flew: margins [of MAC], stated risk."""

    margin: float
    sigma: float
    risk: float
    true_margin: float
    minimum: float


@dataclass(frozen=True, slots=True)
class Fault:
    """The causes as they were ranked, the largest true error, and how many of the bench's sigmas it is."""

    ranked: tuple[str, ...]
    largest: str
    sigmas: float


@dataclass(slots=True)
class Trial:
    """What became of one model. ``within_after``: sorties until it was within limits, None if it never was.
    ``asked``: cards that changes held back last time wait for; ``promised``: chance that all behaviours lie in their bands after each
    rework, as it was said."""

    layout: str
    inverted: bool
    states: list[State] = field(default_factory=list)
    believed: list[Believed] = field(default_factory=list)
    cards: list[tuple[str, ...]] = field(default_factory=list)
    minutes: list[float] = field(default_factory=list)
    shimmed: list[bool] = field(default_factory=list)
    causes: list[Fault] = field(default_factory=list)
    promised: list[float] = field(default_factory=list)
    crashes: int = 0
    aborted: int = 0
    within_after: int | None = None
    asked: tuple[tuple[str, ...], ...] = ()


def trial(case: Case, method: Method, *, blunders: Blunders, hands: Hands | None = None, cap: int = CAP) -> Trial:
    """Fly, correct, and fly again until the model is within its limits, or so many sorties have been flown."""
    hands = hands or Hands()
    bench, truth = case.bench, case.truth
    rng = np.random.default_rng((case.seed, 7))
    out = Trial(case.layout, bench.flown_inverted, [judged(truth, bench, cruises_at=case.person.speed)])
    if out.states[0].within:
        out.within_after = 0
        return out
    log: list[LoggedSortie] = []
    results: dict[str, Outcome] = {c.id: Outcome.PASSED for c in CARDS.values() if c.phase is not Phase.FLIGHT}
    stale: set[str] = set()
    new_since: int | None = None
    last: LastSortie | None = None
    for sortie in range(1, cap + 1):
        since = Since(flown=None if new_since is None else sortie - 1 - new_since)
        plan = _plan(bench, results, stale, sortie, out.asked, tuple(log), since, last)
        if method.estimator and method.reads_again and any(s.code == READ_AGAIN for s in plan.first):
            read = read_again(bench, truth, rng, blunders)
            stale |= set(difference(bench, read).stale)
            bench = read
            plan = _plan(bench, results, stale, sortie, out.asked, tuple(log), since, last)
        cards = _cards(method, bench, plan.flight, sortie)
        out.cards.append(cards)
        out.minutes.append(minutes_of(cards, plan.proved))
        flown = fly_sortie(
            pack_elsewhere(truth, rng, blunders),
            cards,
            seed=case.seed % 10**6 * 100 + sortie,
            person=case.person,
            air=case.air,
        )
        records = tuple(_short(r) if r.card_id in plan.proved and method.planned else r for r in flown.records)
        out.crashes += flown.crashed_in is not None
        out.aborted += sum(1 for r in records if r.outcome is Outcome.ABORTED)
        results |= {r.card_id: r.outcome for r in records}
        stale -= {r.card_id for r in records}
        log.append(LoggedSortie(bench, records))
        if as_new_since(records):
            # Repaired and flown as a new one: what was flown before is flown again.
            new_since, results = sortie, {k: o for k, o in results.items() if o is not Outcome.DONE}
        before = as_flown(bench, trims_at_landing(log[-1]))
        last = LastSortie(before, frozenset(r.card_id for r in records if r.outcome is Outcome.DONE))
        truth = flown_with(truth, bench, before)
        read, after = _reworked(method, bench, tuple(log), truth, out, rng, blunders)
        if read is not bench:
            # Read again before lead is put in: what landed is the same, on the bench as it is known now.
            bench, before = read, as_flown(read, trims_at_landing(replace(log[-1], configuration=read)))
        truth = carried_out(truth, before, after, rng, hands)
        # What was ordered but could not be reached by the clicks it landed with stands in the bench's own words.
        stale |= set(difference(before, after).stale)
        bench = after
        out.states.append(judged(truth, bench, cruises_at=case.person.speed))
        if out.states[-1].within:
            out.within_after = sortie
            break
    return out


def _plan(
    bench: Configuration,
    results: dict[str, Outcome],
    stale: set[str],
    sortie: int,
    asked: tuple[tuple[str, ...], ...],
    log: tuple[LoggedSortie, ...],
    since: Since,
    last: LastSortie | None,
) -> Programme:
    return programme(
        bench,
        results=results,
        stale=frozenset(stale),
        sorties_flown=sortie - 1,
        fresh=frozenset(EVERY_SORTIE),
        asked=asked,
        seen=seen_in(log, bench),
        since=since,
        belief=belief_after(log, configuration=bench),
        last=last,
    )


def _cards(method: Method, bench: Configuration, planned: tuple[str, ...], sortie: int) -> tuple[str, ...]:
    cards = planned
    if not method.planned:
        wanted = GOOD_CARDS[min(sortie, len(GOOD_CARDS)) - 1]
        cards = tuple(
            c
            for c in wanted
            if not (CARDS[c].inverted and not bench.flown_inverted)
            and not (CARDS[c].powered and bench.airframe.motor is None)
        )
    return tuple(c for c in cards if c not in method.without)


def _short(record: CardRecord) -> CardRecord:
    """Return a trim card as a proof leaves it: clicks and what is left over; nothing is timed in half a minute."""
    return replace(record, readings=tuple(r for r in record.readings if "time" not in r.key and r.key != "bank_wing"))


def _reworked(
    method: Method,
    bench: Configuration,
    log: tuple[LoggedSortie, ...],
    truth: Truth,
    out: Trial,
    rng: np.random.Generator,
    blunders: Blunders,
) -> tuple[Configuration, Configuration]:
    """Return the bench as it is known now, and what is ordered."""
    state = out.states[-1]
    if not method.estimator:
        after = by_hand(bench, log, proportional=method.proportional)
        out.shimmed.append(_tilted(bench, after))
        return bench, after
    belief = belief_after(log, configuration=bench)
    out.causes.append(_fault(bench, belief, truth, state))
    correction = compose(bench, belief, trims_at_landing(log[-1]), seen_in(tuple(log), bench))
    if method.reads_again and any(h.reading for h in correction.held_back):
        bench = read_again(bench, truth, rng, blunders)
        belief = belief_after(log, configuration=bench)
        correction = compose(bench, belief, trims_at_landing(log[-1]), seen_in(tuple(log), bench))
    margin = design_of(bench).static_margin + float(belief.mean[P.STATIC_MARGIN])
    sigma = float(belief.sigma[P.STATIC_MARGIN])
    risk = risk_behind_minimum(bench, margin_fraction=margin, sigma_fraction=sigma)
    out.believed.append(Believed(margin, sigma, risk, state.margin, bench.rules.minimum))
    out.shimmed.append(_tilted(bench, correction.configuration))
    out.asked = tuple(h.cards for h in correction.held_back)
    after = correction.configuration
    out.promised.append(all_in_band(after, belief, resting_trims(after)))
    return bench, after


def _tilted(before: Configuration, after: Configuration) -> bool:
    """Whether washers were put in for pitch; what is for yaw is no matter of what power does to the nose up and down."""
    was, now = before.airframe.motor, after.airframe.motor
    return was is not None and now is not None and was.tilt_down_rad != now.tilt_down_rad


def _fault(bench: Configuration, belief: Belief, truth: Truth, state: State) -> Fault:
    """Return which error is said to be the largest, and which is, both in sigmas of the first belief.

    What is wrong between wing and tail is asked of the simulation: rulers, clevises, sections and builders all have a part.
    """
    design = design_of(bench)
    first = prior_of(design)
    prior = first.sigma
    speed, wrong = design.cruise_speed_mps, truth.wrong
    real, said = craft_of(truth.real, truth.spread, wrong), craft_of(bench)
    true = {
        P.STATIC_MARGIN: state.margin - design.static_margin,
        P.PITCH_MOMENT: moment_at_no_lift(real, speed) - moment_at_no_lift(said, speed),
        P.THRUST_DOWN: wrong.thrust_down_rad,
        P.THRUST_RIGHT: wrong.thrust_right_rad,
        P.LATERAL_CG: wrong.cg_right_m / design.aero.planform.span_m,
        P.TWIST: wrong.twist_rad,
        P.YAW_OFFSET: wrong.fin_left_rad,
    }
    if bench.airframe.motor is None:
        true = {p: v for p, v in true.items() if p not in (P.THRUST_DOWN, P.THRUST_RIGHT)}
    chances = largest_fault(first, belief)
    ranked = sorted(true, key=lambda p: -float(chances[p]))
    largest = max(true, key=lambda p: abs(true[p]) / float(prior[p]))
    return Fault(tuple(p.name for p in ranked), largest.name, abs(true[largest]) / float(prior[largest]))
