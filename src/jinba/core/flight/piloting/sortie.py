"""A whole sortie: the cards one after the other, until it lands, is broken off, or meets the ground."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from jinba.core.cards.catalogue import card
from jinba.core.cards.model import CardRecord, Phase
from jinba.core.configuration import Configuration
from jinba.core.flight.piloting import balance, ends, extras, trimming
from jinba.core.flight.piloting.aloft import Air, Aloft, CannotFly, Crashed
from jinba.core.flight.piloting.person import PERFECT, Eyes, Person
from jinba.core.flight.piloting.recording import Recorder
from jinba.core.flight.piloting.said import aborted, could_not_fly, hit_the_ground
from jinba.core.flight.simulation.craft import craft_of
from jinba.core.flight.simulation.spread import Spread, Wrong

_FLYERS: dict[str, Callable[[Aloft], CardRecord]] = {
    "F1": trimming.lift_off,
    "F2": trimming.pitch_trim,
    "F3": trimming.roll_trim,
    "F4": trimming.yaw_trim,
    "F5": balance.power_step,
    "F7": balance.slow_flight,
    "F8": ends.stall,
    "F11": extras.flap_step,
    "F12": balance.dive,
    "F13": balance.second_speed,
    "F14": balance.inverted,
    "F15": balance.up_line,
    "F21": extras.knife_edge,
    "F23": extras.self_levelling,
    "F24": extras.midpoints,
    "F25": extras.gains,
    "F28": ends.approach,
    "F29": ends.landing,
    "F32": trimming.speed_course,
    "F34": trimming.turns,
}


@dataclass(frozen=True, slots=True)
class Truth:
    """A model as it really is: its setup on the real bench, true coefficients, what is wrong that nobody measured."""

    real: Configuration
    spread: Spread = Spread()
    wrong: Wrong = Wrong()


@dataclass(frozen=True, slots=True)
class Flown:
    """What came of a sortie: the records in order, and the card in which it met the ground, if it did."""

    records: tuple[CardRecord, ...]
    crashed_in: str | None = None


def fly_sortie(
    truth: Truth,
    card_ids: tuple[str, ...],
    *,
    seed: int,
    person: Person = PERFECT,
    air: Air | None = None,
    recorder: Recorder | None = None,
) -> Flown:
    """Return what a pilot logs of the flight cards in a sortie; same seed, same records. Other cards are left out.

    ``recorder``: keeps what was flown of each card. A card whose condition cannot be flown is broken off; after a crash nothing more is flown. Raises: UnknownKeyError for a
    card that does not exist.
    """
    eyes = Eyes(person, np.random.default_rng(seed))
    craft = craft_of(truth.real, truth.spread, truth.wrong)
    aloft = Aloft(craft, truth.real, eyes, air or Air(), cruise_factor=truth.spread.cruise)
    aloft.recorder = recorder
    records: list[CardRecord] = []
    short: CardRecord | None = None
    for card_id in card_ids:
        if card(card_id).phase is not Phase.FLIGHT:
            continue
        if recorder is not None:
            recorder.begin(card_id)
        try:
            records.append(_FLYERS[card_id](aloft))
        except CannotFly as it:
            records.append(aborted(card_id))
            # What happened is said once a sortie: the first time it came to an end.
            if short is None and it.because:
                short = could_not_fly(card_id, it.because)
        except Crashed:
            records.append(aborted(card_id))
            if card_id != "F29":
                records.append(hit_the_ground(card_id, aloft.nose_word()))
                return Flown(tuple(records), card_id)
    return Flown((*records, short) if short is not None else tuple(records))
