"""What pilots do without computing: steps of a size, or in proportion to the word that was said."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from jinba.core.cards.model import CardRecord
from jinba.core.configuration import Configuration, balance_of
from jinba.core.correct.compose import as_flown
from jinba.core.diagnose.sorties import LoggedSortie, trims_at_landing
from jinba.core.mass.items import Item, ItemKind
from jinba.core.observe.situation import design_of

DIVE = ("tucks", "keeps", "eases", "pulls_out", "rears_out")
ROLL = ("left_fast", "left", "level", "right", "right_fast")
PITCH = ("drops", "sinks", "holds", "rises", "rears")


def word_of(records: tuple[CardRecord, ...], card: str, key: str, words: tuple[str, ...]) -> int | None:
    """Return which word was said of a measure, None if it was not flown."""
    for r in records:
        if r.card_id == card and (reading := r.reading(key)) is not None and reading.choice in words:
            return words.index(reading.choice)
    return None


def by_hand(bench: Configuration, log: tuple[LoggedSortie, ...], *, proportional: bool) -> Configuration:
    """Return a pilot's rework: pack by the dive, lead in a tip by the slow roll, washers by the power step, trims as landed."""
    sortie = log[-1]
    after = as_flown(bench, trims_at_landing(sortie))
    after = _pack(bench, after, word_of(sortie.records, "F12", "dive", DIVE), proportional)
    after = _tip(bench, after, word_of(sortie.records, "F7", "roll_slow", ROLL), proportional)
    return _washer(bench, after, word_of(sortie.records, "F5", "pitch_full", PITCH), proportional)


def _size(away: int, proportional: bool) -> float:
    return float(away) if proportional else float(np.sign(away))


def _pack(bench: Configuration, after: Configuration, dive: int | None, proportional: bool) -> Configuration:
    battery = bench.battery
    if dive is None or dive == 3 or battery is None or battery.bay_m is None:
        return after
    # "Pulls out" is wanted; what steepens balances too far aft, what rears too far forward.
    mac = design_of(bench).aero.planform.mac_m
    x = battery.x_m + 0.02 * _size(dive - 3, proportional) * mac * balance_of(bench).mass.mass_kg / battery.mass_kg
    x = max(battery.bay_m[0], min(battery.bay_m[1], x))
    return replace(after, items=tuple(replace(i, x_m=x) if i.kind is ItemKind.BATTERY else i for i in after.items))


def _tip(bench: Configuration, after: Configuration, roll: int | None, proportional: bool) -> Configuration:
    if roll is None or roll == 2:
        return after
    away = roll - 2
    half = design_of(bench).aero.planform.span_m / 2
    mass = 0.004 * abs(_size(away, proportional)) * balance_of(bench).mass.mass_kg
    tip = Item(f"tip{len(after.items)}", "Tip ballast", mass, balance_of(bench).x_m, -half if away > 0 else half)
    return replace(after, items=(*after.items, tip))


def _washer(bench: Configuration, after: Configuration, power: int | None, proportional: bool) -> Configuration:
    motor = after.airframe.motor
    if power is None or power == 2 or motor is None:
        return after
    ahead = balance_of(bench).x_m > motor.x_m
    tilt = np.radians(1.0) * _size(power - 2, proportional) * (1 if ahead else -1)
    tilted = replace(motor, tilt_down_rad=float(np.clip(motor.tilt_down_rad + tilt, -0.2, 0.2)))
    return replace(after, airframe=replace(after.airframe, motor=tilted))
