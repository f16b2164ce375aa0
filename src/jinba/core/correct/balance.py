"""Balance corrections: the battery within its bay first, then ballast at nose or tail."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jinba.core.bench.maiden import forward_margin
from jinba.core.configuration import Configuration, balance_of, with_carried_jig
from jinba.core.correct.actions import Action, ActionKind, Expected, HeldBack, Reads
from jinba.core.diagnose.contradictions import reading_first
from jinba.core.diagnose.goal import Goal, goal_of
from jinba.core.diagnose.seen import Seen
from jinba.core.diagnose.shown import KNOWN, chance_in_band
from jinba.core.diagnose.tendencies import risk_behind_minimum
from jinba.core.diagnose.update import Belief
from jinba.core.frames import forward_or_aft, station_words
from jinba.core.mass.ballast import ballast_mass_kg
from jinba.core.mass.items import Item, ItemKind
from jinba.core.observe.parameters import P
from jinba.core.observe.situation import design_of
from jinba.core.spoken import a_length, a_mass
from jinba.core.uncertainty import MOST_RISK, normal_cdf

LARGEST_STEP = 0.05
"""Largest shift forward between two sorties of a model that is safe to fly [fraction of MAC]: common practice, no source."""

LARGEST_AFT_STEP = 0.04
"""Moving aft is done in small steps, once it is known: common practice, no source [fraction of MAC]."""

SMALLEST_STEP = 0.008
"""A shift smaller than this is within what a jig can show [fraction of MAC]."""

AIMED_RISK_SIGMAS = 1.7507
"""Standard normal quantile of 96 % (table): what hands round and a balance is read to again may not be stopped at the gate of 5 %."""

HOLD_SIGMAS = 0.5
ABSURD_SHARE = 0.05
"""Ballast beyond this share of the model is questioned before it is added: common practice, no source."""

_NOSE_INSET_M = 0.02
_ON_CENTRE_LINE_M = 0.005

AFT_HEDGE_SIGMAS = 0.2
"""Corrections that make it worse are nearly all aft moves on an estimate that is too nose-heavy (bench/closed_loop.py)."""


def smallest_step(sigma: float) -> float:
    """Return the shift [fraction of MAC] below which the balance is left alone.

    What a jig can show, or half of what is not known about it: moving for less chases noise and makes a settled model
    worse about as often as better (bench/closed_loop.py). Derived here (docs/methods/corrections.md).
    """
    return max(SMALLEST_STEP, HOLD_SIGMAS * sigma)


@dataclass(frozen=True, slots=True)
class BalanceChange:
    """A configuration after the balance correction and the actions that made it (none when it may stay).

    ``shortfall_m``: what is left of the shift that was wanted now [m, aft positive]; ``held``: what was not done, and why.
    """

    configuration: Configuration
    actions: tuple[Action, ...]
    wanted_margin: float
    shortfall_m: float
    held: tuple[HeldBack, ...] = ()
    wanted_words: str = ""


def wanted_words(goal: Goal, wanted: float) -> str:
    """Return what margin is aimed at and why, in a sentence. ``wanted``: the margin [-]."""
    what = goal.words if goal.asked is None else f"for {goal.words}"
    ahead = (
        " Further forward than that, while it is not known well enough." if wanted > goal.margin + _AHEAD_OF_IT else ""
    )
    return f"Wanted margin {100 * wanted:.1f} % MAC: {what}.{ahead} {goal.bound}".strip()


_AHEAD_OF_IT = 0.0005
"""A margin this little larger is written the same. [-]"""


def wanted_margin(configuration: Configuration, belief: Belief) -> float:
    """Return the static margin [-] to aim at: the goal, or further forward while the margin is not known well enough.

    max(goal, minimum + 1.75 sigma): the aft-most balance that keeps P(margin < minimum) at 4 %, a fifth below what stops a flight
    (:data:`AIMED_RISK_SIGMAS`). References: derived here (docs/methods/maiden-balance.md, docs/methods/goals.md).
    """
    return _aimed(configuration, goal_of(configuration, belief), float(belief.sigma[P.STATIC_MARGIN]))


def _aimed(configuration: Configuration, goal: Goal, sigma: float) -> float:
    return max(goal.margin, configuration.rules.minimum + AIMED_RISK_SIGMAS * sigma)


def correct_balance(
    configuration: Configuration,
    belief: Belief,
    seen: Seen,
    *,
    use_ballast: bool = True,
    battery_m: float | None = None,
) -> BalanceChange:
    """Return the balance correction for what the flights say, rounded to hands, and what it aims at.

    Nothing inside the class band, unless the margin may lie below its minimum. Aft by 2.5 % MAC a sortie at most, and only when a card in flight speaks for a nose-heavy model and none as new for a
    tail-heavy one; forward by 5 %, or all the way where the margin may lie below the class minimum. Ballast that stands at
    the other end is taken out before any is added. ``battery_m``: a battery move [m, aft positive] the pilot chose instead of
    the computed one.
    """
    goal = goal_of(configuration, belief)
    found = _corrected(configuration, belief, seen, goal, use_ballast=use_ballast, battery_m=battery_m)
    return replace(found, wanted_words=wanted_words(goal, found.wanted_margin))


def _corrected(
    configuration: Configuration,
    belief: Belief,
    seen: Seen,
    goal: Goal,
    *,
    use_ballast: bool,
    battery_m: float | None,
) -> BalanceChange:
    design = design_of(configuration)
    mac = design.aero.planform.mac_m
    now = design.static_margin + float(belief.mean[P.STATIC_MARGIN])
    sigma = float(belief.sigma[P.STATIC_MARGIN])
    wanted = _aimed(configuration, goal, sigma)
    unsafe = risk_behind_minimum(configuration, margin_fraction=now, sigma_fraction=sigma) > MOST_RISK
    if battery_m is None and not unsafe and _good_enough(goal, now, wanted):
        return BalanceChange(configuration, (), wanted, 0.0)
    step, can_flare = (
        _step(wanted - now, sigma, unsafe=unsafe),
        max(forward_margin(design), configuration.rules.minimum),
    )
    # Nose-heavy beyond what the elevator can flare is no cure for a tail-heavy model.
    step = min(step, max(can_flare - now, 0.0))
    # How much is wanted counts, not how much of it is done now: a small step of a large change is not noise.
    small = abs(step) < SMALLEST_STEP or (not unsafe and abs(wanted - now) < smallest_step(goal.away_sigma))
    if battery_m is None and small:
        return BalanceChange(
            configuration, (), wanted, 0.0, (_no_way_forward(configuration, now, sigma),) if unsafe else ()
        )
    if battery_m is None and step < 0.0 and seen.refuses_aft and not _creeps_aft(goal, now, seen):
        return BalanceChange(configuration, (), wanted, 0.0, (_aft_held(-step * mac, seen),))
    # More margin is a balance point further forward, and forward is negative.
    shift_m = -step * mac
    moved, action = _move_battery(configuration, shift_m, battery_m)
    actions = [action] if action is not None else []

    def left() -> float:
        return shift_m - (balance_of(moved).x_m - design.balance.x_m)

    waits: list[HeldBack] = []
    if battery_m is None and use_ballast:
        for change in (_take_ballast, _add_ballast):
            if abs(left()) > SMALLEST_STEP * mac:
                changed, more = change(moved, left())
                # Lead that is taken out is put back as easily; what is glued in waits.
                if more is not None and change is _add_ballast and reading_first(belief, design):
                    waits = [_lead_waits(now - design.static_margin, left())]
                elif more is not None:
                    moved, actions = changed, [*actions, more]
    held = (
        _not_flyable(configuration, now, sigma, wanted, left() - (wanted - now - step) * mac, mac) if unsafe else None
    )
    return BalanceChange(moved, tuple(actions), wanted, left(), (*waits, *([] if held is None else [held])))


A_CHANGE_GAINS = 0.1
"""Chance to lie in the band by which a change is better than leaving it, at least: common practice, no source."""


def _good_enough(goal: Goal, now: float, wanted: float) -> bool:
    """Whether the balance may be left: four chances in five that it lies in the wanted band, or no change brings it much nearer.

    P = Phi((t + b - m)/s) - Phi((t - b - m)/s), as it is and as wanted. Derived here (docs/methods/corrections.md).
    """
    here, there = (chance_in_band(m, goal.away_sigma, goal.band) for m in (now, wanted))
    return here >= KNOWN or there - here < A_CHANGE_GAINS


def _step(change: float, sigma: float, *, unsafe: bool) -> float:
    """Return the change of margin [-] to make now: aft small and short of what is not known, forward whole where it must be."""
    if change < 0.0:
        return max(-LARGEST_AFT_STEP, min(0.0, change + AFT_HEDGE_SIGMAS * sigma))
    # What would be stopped at the gate is moved, by as much at least as a jig can show.
    return max(change, SMALLEST_STEP) if unsafe else min(change, LARGEST_STEP)


BALANCE_CARDS = frozenset({"F12", "F13", "F14", "F15"})
"""Cards that would show a tail-heavy model."""


def _creeps_aft(goal: Goal, now: float, seen: Seen) -> bool:
    """Whether a model that was set forward for its first flight may go back by a small step though no card calls it nose-heavy: all that
    is known says so, four chances in five, and a card that would have shown a tail-heavy one was flown and did not."""
    ahead = normal_cdf((now - goal.margin) / max(goal.away_sigma, 1e-6))
    return not seen.alarms and bool(seen.cards & BALANCE_CARDS) and ahead >= KNOWN


def _aft_held(shift_m: float, seen: Seen) -> HeldBack:
    if seen.alarms:
        return HeldBack(
            ActionKind.MOVE_BATTERY,
            f"The balance point is not moved {a_length(shift_m, 1)} aft: {seen.refuses_aft}.",
            "Fly that again in this setup: it must not show once more.",
        )
    return HeldBack(
        ActionKind.MOVE_BATTERY,
        f"The balance point is not moved {a_length(shift_m, 1)} aft: {seen.refuses_aft}.",
        "Fly F13 (second trim speed) or F12 (dive and let go) in this setup.",
        ("F13", "F12"),
    )


def _lead_waits(off: float, left_m: float) -> HeldBack:
    """Return that lead waits for another reading. ``off``: more nose-heavy than was read [of MAC]; ``left_m``: of the move [m, aft positive]."""
    way = "nose-heavy" if off > 0.0 else "tail-heavy"
    return HeldBack(
        ActionKind.BALLAST,
        f"No lead yet for the last {a_length(abs(left_m), 1)} {forward_or_aft(left_m)}: the flights say more {way} by {100 * abs(off):.0f} % of the "
        "chord than the balance that was read once.",
        "Read the balance again, another way, and type it in: the order is then computed anew.",
        reading=True,
    )


def _no_way_forward(c: Configuration, now: float, sigma: float) -> HeldBack:
    """Return that the margin may be too small, and that a move forward would only take away the flare."""
    risk = risk_behind_minimum(c, margin_fraction=now, sigma_fraction=sigma)
    return HeldBack(
        ActionKind.MOVE_BATTERY,
        f"A chance of {100 * risk:.0f} % of too little margin, and no move forward helps: the elevator could no longer flare.",
        "Read the balance again, another way; or give the elevator more throw, and then move it forward.",
    )


def _not_flyable(
    c: Configuration, now: float, sigma: float, wanted: float, left_m: float, mac_m: float
) -> HeldBack | None:
    """Return that the model is not flyable yet, where what could be moved and added leaves it too far aft.

    ``left_m``: from what is reached to where it is wanted [m, aft positive].
    """
    reached = max(wanted + left_m / mac_m, now)
    if risk_behind_minimum(c, margin_fraction=reached, sigma_fraction=sigma) <= MOST_RISK:
        return None
    return HeldBack(
        ActionKind.BALLAST,
        f"Not flyable yet: the balance point stays {a_length(abs(left_m), 1)} too far aft.",
        "A heavier pack, equipment moved forward, lead at the nose; more elevator throw where it could no longer flare; or read "
        "the balance again, another way.",
    )


def _move_battery(c: Configuration, shift_m: float, chosen_m: float | None) -> tuple[Configuration, Action | None]:
    battery = c.battery
    if battery is None or battery.bay_m is None:
        return c, None
    total = balance_of(c).mass.mass_kg
    # The whole model's moment moves with one part: small parts must go far.
    ideal = battery.x_m + (shift_m * total / battery.mass_kg if chosen_m is None else chosen_m)
    low, high = battery.bay_m
    x = max(low, min(high, ideal))
    move_mm = round((x - battery.x_m) * 1000.0)
    if move_mm == 0:
        return c, None
    after = replace(battery, x_m=battery.x_m + move_mm / 1000.0)
    moved = replace(c, items=tuple(after if i is battery else i for i in c.items))
    way = forward_or_aft(move_mm)
    shifted = abs(balance_of(moved).x_m - balance_of(c).x_m)
    action = Action(
        ActionKind.MOVE_BATTERY,
        abs(move_mm),
        "mm",
        f"Move {battery.name} {a_length(abs(move_mm) / 1000)} {way}; its centre is then {station_words(after.x_m, c.datum)}.",
        f"That moves the balance point {a_length(shifted, 1)} {way}; nothing is added.",
        _reads_words(moved),
        thumb="Rule of thumb: a little at a time, move what is aboard before adding lead.",
        expected=_reads(moved),
    )
    return moved, action


def _take_ballast(c: Configuration, shift_m: float) -> tuple[Configuration, Action | None]:
    """Take out ballast that holds the balance back: lead at both ends is dead weight."""
    balance = balance_of(c)
    there = [
        i
        for i in c.items
        if i.kind is ItemKind.BALLAST
        and i.fitted
        and abs(i.y_m) < _ON_CENTRE_LINE_M
        and (i.x_m - balance.x_m) * shift_m < 0.0
    ]
    if not there:
        return c, None
    lead = max(there, key=lambda i: i.mass_kg * abs(i.x_m - balance.x_m))
    target = balance.x_m + shift_m
    # m x - r x_b = (m - r) x_t: the mass r that goes takes its moment along.
    ideal = balance.mass.mass_kg * (balance.x_m - target) / (lead.x_m - target)
    piece = _piece_kg(balance.mass.mass_kg)
    mass = min(lead.mass_kg, round(ideal / piece) * piece)
    if mass <= 0.0:
        return c, None
    rest = lead.mass_kg - mass
    items = tuple(i for i in c.items if i is not lead or rest > 0.5 * piece)
    items = tuple(replace(i, mass_kg=rest) if i is lead else i for i in items)
    after = with_carried_jig(c, replace(c, items=items))
    return after, Action(
        ActionKind.BALLAST,
        round(mass * 1000.0),
        "g",
        f"Take {a_mass(mass)} out of {lead.name}, {station_words(lead.x_m, c.datum)}.",
        _moves_words("Ballast that holds it back goes first", balance.x_m, after, shift_m),
        _reads_words(after),
        thumb="Rule of thumb: never lead at both ends.",
        expected=_reads(after),
    )


def _piece_kg(mass_kg: float) -> float:
    # Lead is weighed on a kitchen scale: a piece below what it shows is no order.
    return 0.005 if mass_kg > 1.0 else 0.001


def _moves_words(why: str, before_m: float, after: Configuration, shift_m: float) -> str:
    moved = abs(balance_of(after).x_m - before_m)
    return f"{why}; this moves the balance point {a_length(moved, 1)} {forward_or_aft(shift_m)}."


_WITHIN_M = 0.0015
"""How near a balance point that was set by hand is read to where it should be: common practice, no source."""


def _reads_words(after: Configuration) -> str:
    return f"Balance point reads {station_words(balance_of(after).x_m, after.datum)}, within {a_length(_WITHIN_M, 1)}."


def _reads(after: Configuration) -> Expected:
    x, place = balance_of(after).x_m, after.datum
    return Expected(Reads.BALANCE, x, _WITHIN_M, "m", f"behind the {place}", f"ahead of the {place}")


def _add_ballast(c: Configuration, shift_m: float) -> tuple[Configuration, Action | None]:
    balance, body = balance_of(c), c.airframe.body
    tail = c.airframe.pitch_surface
    nose = body.nose_x_m + _NOSE_INSET_M
    rear = max(body.nose_x_m + body.length_m, tail.x_m if tail is not None else -1e9) - _NOSE_INSET_M
    station = nose if shift_m < 0 else rear
    # A jig reading shifts the sum of items; the formula needs the real balance point, ballast its own station.
    mass = ballast_mass_kg(
        mass_kg=balance.mass.mass_kg, x_cg_m=balance.x_m, x_target_m=balance.x_m + shift_m, x_ballast_m=station
    )
    piece = _piece_kg(balance.mass.mass_kg)
    mass = round(mass / piece) * piece
    if mass <= 0:
        return c, None
    where = "nose" if shift_m < 0 else "tail"
    item = Item(f"ballast-{where}-{len(c.items)}", f"Ballast at the {where}", mass, station, kind=ItemKind.BALLAST)
    after = replace(c, items=(*c.items, item))
    after = with_carried_jig(c, after)
    much = mass > ABSURD_SHARE * balance.mass.mass_kg
    doubt = (
        f" That is {100 * (mass / balance.mass.mass_kg):.0f} % of the model: read the balance again before you add it."
        if much
        else ""
    )
    action = Action(
        ActionKind.BALLAST,
        round(mass * 1000.0),
        "g",
        f"Add {a_mass(mass)} at the {where}, {station_words(station, c.datum)}.",
        _moves_words("The battery's bay is used up", balance.x_m, after, shift_m) + doubt,
        _reads_words(after),
        thumb="Rule of thumb: ballast as far out as possible, never at both ends.",
        expected=_reads(after),
    )
    return after, action
