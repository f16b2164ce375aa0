"""Fuel burns: what the model becomes while its tank empties."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jinba.core.configuration import Configuration, balance_of, with_carried_jig
from jinba.core.frames import forward_or_aft
from jinba.core.mass.items import ItemKind
from jinba.core.observe.situation import design_of
from jinba.core.spoken import a_length, a_mass

_NOTHING_M = 0.0005


@dataclass(frozen=True, slots=True)
class TankEmpty:
    """The model with its tank empty: fuel burnt [kg], balance [m from the datum], margin [-], in words."""

    burnt_kg: float
    x_cg_m: float
    static_margin: float
    words: str


def burnt_out(configuration: Configuration) -> Configuration | None:
    """Return the model as it lands with its tank empty, the balance reading carried along; None for one without fuel aboard.

    A tank's item weighs what is in it at take-off. Derived here.
    """
    fuel = [i for i in configuration.items if i.kind is ItemKind.FUEL and i.fitted]
    if not fuel:
        return None
    items = tuple(replace(i, fitted=False) if i in fuel else i for i in configuration.items)
    return with_carried_jig(configuration, replace(configuration, items=items))


def tank_empty(configuration: Configuration, *, x_np_m: float) -> TankEmpty | None:
    """Return what the model becomes while it burns its fuel, None without any. ``x_np_m`` as known now. [m]

    The neutral point does not move. Derived here.
    """
    after = burnt_out(configuration)
    if after is None:
        return None
    full, empty = balance_of(configuration), balance_of(after)
    moved = empty.x_m - full.x_m
    margin = (x_np_m - empty.x_m) / design_of(configuration).aero.planform.mac_m
    burnt = full.mass.mass_kg - empty.mass.mass_kg
    stays = f"With {a_mass(burnt)} of fuel burnt it balances where it did."
    goes = f"With {a_mass(burnt)} of fuel burnt it balances {a_length(abs(moved), 1)} further {forward_or_aft(moved)}."
    low = (
        f" That leaves {100 * margin:.0f} % static margin, less than the class minimum of {100 * configuration.rules.minimum:.0f} %: balance it with the tank empty."
        if margin < configuration.rules.minimum
        else ""
    )
    return TankEmpty(burnt, empty.x_m, margin, (stays if abs(moved) < _NOTHING_M else goes) + low)
