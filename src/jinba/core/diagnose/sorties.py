"""From the logged sorties of a model to one belief: each record in the moment it was flown."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from jinba.core.cards.incident import Aspect, changed_by
from jinba.core.cards.model import CardRecord, Outcome
from jinba.core.configuration import Configuration, JigReading, balance_of
from jinba.core.controls.stabiliser import trims_forbidden
from jinba.core.diagnose.rigging import before_orders, unsure_by
from jinba.core.diagnose.update import Belief, prior_of, update
from jinba.core.frames import Axis, response_of_deflection, words_for
from jinba.core.mass.items import sum_items
from jinba.core.observe import predictions
from jinba.core.observe.measures import Datum, about
from jinba.core.observe.parameters import P
from jinba.core.observe.predictions import Moment
from jinba.core.observe.readings import data_of, seen_twice, trims_after
from jinba.core.observe.situation import Trims, design_of, resting_trims


@dataclass(frozen=True, slots=True)
class LoggedSortie:
    """A flown sortie: the configuration it was flown in and its records in the order of flying.

    ``start``: where the surfaces rested when it began [rad]; None: where the configuration says.
    """

    configuration: Configuration
    records: tuple[CardRecord, ...]
    start: Trims | None = None


def carried(sorties: tuple[LoggedSortie, ...]) -> tuple[LoggedSortie, ...]:
    """Return the sorties with trims that stand in the radio from landing to the next release.

    An order, a hand edit or a midpoint makes another configuration, and that says where its trims stand; flown again without
    one a model begins as it landed. Derived here (docs/methods/estimator.md).
    """
    found: list[LoggedSortie] = []
    for sortie in sorties:
        again = bool(found) and found[-1].configuration == sortie.configuration
        found.append(replace(sortie, start=trims_at_landing(found[-1])) if again and sortie.start is None else sortie)
    return tuple(found)


def trims_at_release(sortie: LoggedSortie) -> Trims:
    """Return where the surfaces rest when a sortie begins. [rad]"""
    return resting_trims(sortie.configuration) if sortie.start is None else sortie.start


_TRIM_CARDS = {Axis.PITCH: "F2", Axis.ROLL: "F3", Axis.YAW: "F4"}


def clicks_standing(configuration: Configuration, rests: Trims, axis: Axis) -> int:
    """Return the trim clicks in the radio when an axis rests there, in the signs of ``core.frames``. Derived here."""
    control = configuration.control(axis)
    held = rests.of(axis) - control.mechanical_rad - control.sub_trim_rad
    return round(held / control.rad_per_click)


def radio_stands(configuration: Configuration, rests: Trims) -> dict[str, str]:
    """Return for each card that trims an axis what stands in the radio before it, in words; nothing where it is centred."""
    found = {}
    for axis, card_id in _TRIM_CARDS.items():
        clicks = clicks_standing(configuration, rests, axis)
        if clicks:
            count = f"{abs(clicks)} click{'' if abs(clicks) == 1 else 's'}"
            way = words_for(response_of_deflection(axis, float(clicks))).model
            found[card_id] = f"The radio stands at {count} {way} from before. Count only what you give now."
    return found


_WORTH_SAYING = 2
"""Fewer clicks than this are not foretold: any flight asks for one. Common practice, no source."""


def expected_clicks(configuration: Configuration, rests: Trims, rate_deg_s: float) -> str:
    """Return the pitch clicks that a predicted rate hands off [deg/s, nose up positive] will ask for, in words; empty for few.

    ``rests``: where the surfaces rest [rad]. One click's effect by the closed form; derived here (docs/methods/corrections.md).
    """
    if trims_forbidden(configuration.control_setup.stabiliser):
        return ""
    design, unknown = design_of(configuration), np.zeros(len(P))
    click = configuration.elevator.rad_per_click
    clicked = rests.moved(Axis.PITCH, rests.elevator_rad + click)
    one = predictions.trim_left_cruise(unknown, Moment(design, clicked)) - predictions.trim_left_cruise(
        unknown, Moment(design, rests)
    )
    if abs(one) < 1e-9:
        return ""
    clicks = round(-rate_deg_s / one)
    if abs(clicks) < _WORTH_SAYING:
        return ""
    way = words_for(response_of_deflection(Axis.PITCH, float(clicks))).model
    return f"Predicted: about {abs(clicks)} clicks {way}."


def sortie_data(sortie: LoggedSortie) -> tuple[Datum, ...]:
    """Return the data of a sortie: of every card that was begun, broken off or not.

    Trim clicks change where the surfaces rest for every later card.
    """
    return tuple(d for of_record in _by_record(sortie) for d in of_record)


def _by_record(sortie: LoggedSortie) -> list[tuple[Datum, ...]]:
    design = design_of(sortie.configuration)
    trims = trims_at_release(sortie)
    data: list[tuple[Datum, ...]] = []
    for record in sortie.records:
        if record.outcome is Outcome.SKIPPED:
            continue
        trims = trims_after(design, record, trims)
        others = tuple(r for r in sortie.records if r is not record)
        data.append(data_of(seen_twice(record, others), Moment(design, trims)))
    return data


def trims_at_landing(sortie: LoggedSortie) -> Trims:
    """Return where the surfaces rest after the sortie's last trim click. [rad]"""
    design = design_of(sortie.configuration)
    trims = trims_at_release(sortie)
    for record in sortie.records:
        if record.outcome is not Outcome.SKIPPED:
            trims = trims_after(design, record, trims)
    return trims


def belief_after(sorties: tuple[LoggedSortie, ...], *, configuration: Configuration) -> Belief:
    """Return the belief from all sorties; the prior is that of the configuration given (its jig reading, its geometry)."""
    return update(prior_of(design_of(configuration)), all_data(read_as(sorties, configuration), configuration))


def read_as(sorties: tuple[LoggedSortie, ...], present: Configuration) -> tuple[LoggedSortie, ...]:
    """Return the sorties with their balance where the reading of the present setup says it was then.

    A balance that is read again corrects where it was in every flight before, not what the flights said: what a reading finds beyond the
    sum of the items is a moment that was aboard all the time, dx m = dx' m'. Derived here (docs/methods/estimator.md).
    """
    if present.jig is None:
        return sorties
    balance = balance_of(present)
    beyond = (balance.x_m - balance.mass.x_m) * balance.mass.mass_kg
    return tuple(s if s.configuration == present else _balanced(s, present.jig, beyond) for s in sorties)


def _balanced(sortie: LoggedSortie, jig: JigReading, beyond_kg_m: float) -> LoggedSortie:
    then = sum_items(sortie.configuration.items)
    x = then.x_m + beyond_kg_m / then.mass_kg
    read = replace(jig, x_m=x, items_x_m=then.x_m, again_m=x if jig.agrees else None)
    return replace(sortie, configuration=replace(sortie.configuration, jig=read))


REPAIRED = 2.0
"""How much less sure a reading is of a model that was repaired since: a glued wing is nearly a new one. Common practice, no source."""


def all_data(sorties: tuple[LoggedSortie, ...], present: Configuration | None = None) -> tuple[Datum, ...]:
    """Return the data of all sorties as evidence of the model as it is in a ``present`` setup (None: that of the last).

    What was set anew since leaves what was flown before a little less sure (``rigging``). What was seen before a model was repaired
    counts with its sigma doubled, as far as it is about what the incident may have changed (``cards.incident``): a new propeller says
    nothing against a roll. The sortie of the incident itself counts in full until the next one has landed: it is what there is to go by.
    Derived here.
    """
    return tuple(d for of_sortie in data_by_record(sorties, present) for of_record in of_sortie for d in of_record)


def data_by_record(
    sorties: tuple[LoggedSortie, ...], present: Configuration | None = None
) -> tuple[tuple[tuple[Datum, ...], ...], ...]:
    """Return :func:`all_data` record by record, sortie by sortie."""
    if not sorties:
        return ()
    changed = [frozenset(a for r in s.records for a in changed_by(r)) for s in sorties]
    setups = [*(s.configuration for s in sorties), present or sorties[-1].configuration]
    orders = {str(i): unsure_by(*pair) for i, pair in enumerate(pairwise(setups))}
    last = len(sorties) - 1
    found = []
    for i, sortie in enumerate(carried(sorties)):
        since = frozenset(a for j, c in enumerate(changed) if i < j or (i == j and j < last) for a in c)
        later = {k: sigmas for k, sigmas in orders.items() if int(k) >= i and sigmas}
        found.append(tuple(before_orders(tuple(_doubted(d, since) for d in r), later) for r in _by_record(sortie)))
    return tuple(found)


def _doubted(datum: Datum, changed: frozenset[Aspect]) -> Datum:
    return replace(datum, sigma=REPAIRED * datum.sigma) if changed & set(about(datum.measure)) else datum
