"""Test mass against mission mass: what the model becomes when the equipment that is still to come is on board."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jinba.core.cards.stale import stale_between
from jinba.core.configuration import Configuration, balance_of, with_carried_jig
from jinba.core.frames import forward_or_aft
from jinba.core.observe.situation import design_of, stall_speed_of
from jinba.core.spoken import a_length, a_speed


@dataclass(frozen=True, slots=True)
class Mission:
    """The model with everything aboard: mass [kg], balance [m from the datum], margin [-], stall speed [m/s], what to fly again."""

    mass_kg: float
    added_kg: float
    x_cg_m: float
    static_margin: float
    stall_speed_mps: float
    fly_again: tuple[str, ...]
    words: str


def mission_of(configuration: Configuration, *, x_np_m: float) -> Mission | None:
    """Return the model at mission mass, None when nothing is still to come.

    The jig reading is carried over the added mass; the neutral point does not move. ``x_np_m`` as known now. [m]
    """
    if not any(i.to_come for i in configuration.items):
        return None
    items = tuple(replace(i, fitted=True, to_come=False) if i.to_come else i for i in configuration.items)
    after = with_carried_jig(configuration, replace(configuration, items=items))
    before, balance = design_of(configuration), balance_of(after)
    # At every move of a pointer: of the heavier model nothing is computed but what is said of it.
    stall, x = stall_speed_of(after), balance.x_m
    margin = (x_np_m - x) / before.aero.planform.mac_m
    moved = x - before.balance.x_m
    least = configuration.rules.minimum
    low = (
        f" That leaves {100 * margin:.0f} % static margin, less than the class minimum of {100 * least:.0f} %: move something first."
        if margin < least
        else ""
    )
    return Mission(
        mass_kg=balance.mass.mass_kg,
        added_kg=balance.mass.mass_kg - before.balance.mass.mass_kg,
        x_cg_m=x,
        static_margin=margin,
        stall_speed_mps=stall,
        fly_again=tuple(sorted(stale_between(configuration, after), key=lambda card: (card[0], int(card[1:])))),
        words=f"With everything aboard it balances {a_length(abs(moved))} further {forward_or_aft(moved)} and stalls "
        f"{a_speed(stall - before.stall_speed_mps, 1)} faster: plan the re-test now.{low}",
    )
