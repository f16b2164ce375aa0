"""Balance corrections: the battery within its bay first, then ballast at nose or tail."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jinba.core.configuration import Configuration, balance_of, with_carried_jig
from jinba.core.constants import ONE_SIDED_99_PERCENT
from jinba.core.correct.actions import Action, ActionKind
from jinba.core.diagnose.update import Belief
from jinba.core.frames import forward_or_aft, station_words
from jinba.core.mass.ballast import ballast_mass_kg
from jinba.core.mass.items import Item, ItemKind
from jinba.core.observe.parameters import P
from jinba.core.observe.situation import design_of
from jinba.core.spoken import a_length, a_mass

LARGEST_STEP = 0.05
"""Largest shift of balance between two sorties [fraction of MAC]: common practice, no source."""

LARGEST_AFT_STEP = 0.025
"""Moving aft is done in small steps, once it is known: common practice, no source [fraction of MAC]."""

SMALLEST_STEP = 0.008
"""A shift smaller than this is within what a jig can show [fraction of MAC]."""

HOLD_SIGMAS = 0.5

_NOSE_INSET_M = 0.02


AFT_HEDGE_SIGMAS = 0.4
"""Corrections that make it worse are nearly all aft moves on an estimate that is too nose-heavy (bench/closed_loop.py)."""


def smallest_step(sigma: float) -> float:
    """Return the shift [fraction of MAC] below which the balance is left alone.

    What a jig can show, or half of what is not known about it: moving for less chases noise and makes a settled model
    worse about as often as better (bench/closed_loop.py). Derived here (docs/methods/corrections.md).
    """
    return max(SMALLEST_STEP, HOLD_SIGMAS * sigma)


@dataclass(frozen=True, slots=True)
class BalanceChange:
    """A configuration after the balance correction and the actions that made it (none when it may stay)."""

    configuration: Configuration
    actions: tuple[Action, ...]
    wanted_margin: float
    shortfall_m: float


def wanted_margin(configuration: Configuration, sigma: float) -> float:
    """Return the static margin [-] to aim at: the class target, or further forward while it is not known well enough.

    max(target, minimum + 2.326 sigma): the aft-most balance that keeps P(margin < minimum) under 1 %.
    References: derived here (docs/methods/maiden-balance.md).
    """
    rules = configuration.rules
    return max(rules.target, rules.minimum + ONE_SIDED_99_PERCENT * sigma)


def _hedged(change: float, sigma: float) -> float:
    """Return the change of margin [-] to aim for: aft moves fall short by a share of what is not known."""
    return change if change > 0 else min(0.0, change + AFT_HEDGE_SIGMAS * sigma)


def correct_balance(
    configuration: Configuration, belief: Belief, *, use_ballast: bool = True, battery_m: float | None = None
) -> BalanceChange:
    """Return the balance correction for what the flights say, limited to 5 % MAC forward and 2.5 % aft a sortie, rounded to hands.

    ``battery_m``: a battery move [m, aft positive] the pilot chose instead of the computed one.
    """
    design = design_of(configuration)
    mac = design.aero.planform.mac_m
    now = design.static_margin + float(belief.mean[P.STATIC_MARGIN])
    sigma = float(belief.sigma[P.STATIC_MARGIN])
    wanted = wanted_margin(configuration, sigma)
    # Forward is the safe side: it may be done in one go. Aft is done in small steps, short of what is not known.
    step = max(-LARGEST_AFT_STEP, min(LARGEST_STEP, _hedged(wanted - now, sigma)))
    if battery_m is None and abs(step) < smallest_step(sigma):
        return BalanceChange(configuration, (), wanted, 0.0)
    # More margin is a balance point further forward, and forward is negative.
    shift_m = -step * mac
    moved, action = _move_battery(configuration, shift_m, battery_m)
    actions = [action] if action is not None else []
    left = shift_m - (balance_of(moved).x_m - design.balance.x_m)
    if battery_m is None and use_ballast and abs(left) > SMALLEST_STEP * mac:
        moved, more = _add_ballast(moved, left)
        actions += [more] if more is not None else []
        left = shift_m - (balance_of(moved).x_m - design.balance.x_m)
    return BalanceChange(moved, tuple(actions), wanted, left)


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
    balance_mm = abs(balance_of(moved).x_m - balance_of(c).x_m) * 1000.0
    action = Action(
        ActionKind.MOVE_BATTERY,
        abs(move_mm),
        "mm",
        f"Move {battery.name} {a_length(abs(move_mm) / 1000)} {way}; its centre is then {station_words(after.x_m, c.datum)}.",
        f"That moves the balance point {a_length(balance_mm / 1000, 1)} {way}; nothing is added.",
        f"Balance point reads {station_words(balance_of(moved).x_m, c.datum)}, within {a_length(0.0015, 1)}.",
        thumb="Rule of thumb: a little at a time, move what is aboard before adding lead.",
    )
    return moved, action


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
    # Lead is weighed on a kitchen scale: a piece below what it shows is no order.
    piece = 0.005 if balance.mass.mass_kg > 1.0 else 0.001
    mass = round(mass / piece) * piece
    if mass <= 0:
        return c, None
    where = "nose" if shift_m < 0 else "tail"
    item = Item(f"ballast-{where}-{len(c.items)}", f"Ballast at the {where}", mass, station, kind=ItemKind.BALLAST)
    after = replace(c, items=(*c.items, item))
    after = with_carried_jig(c, after)
    moved_mm = abs(balance_of(after).x_m - balance.x_m) * 1000.0
    action = Action(
        ActionKind.BALLAST,
        round(mass * 1000.0),
        "g",
        f"Add {a_mass(mass)} at the {where}, {station_words(station, c.datum)}.",
        f"The battery's bay is used up; this moves the balance point {a_length(moved_mm / 1000, 1)} {forward_or_aft(shift_m)}.",
        f"Balance point reads {station_words(balance_of(after).x_m, c.datum)}, within {a_length(0.0015, 1)}.",
        thumb="Rule of thumb: ballast as far out as possible, never at both ends.",
    )
    return after, action
