"""From the logged sorties of a model to one belief: each record in the moment it was flown."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.cards.model import CardRecord, Outcome
from jinba.core.configuration import Configuration
from jinba.core.diagnose.update import Belief, prior_of, update
from jinba.core.observe.measures import Datum
from jinba.core.observe.predictions import Moment
from jinba.core.observe.readings import data_of, trims_after
from jinba.core.observe.situation import Trims, design_of, resting_trims


@dataclass(frozen=True, slots=True)
class LoggedSortie:
    """A flown sortie: the configuration it was flown in and its records in the order of flying."""

    configuration: Configuration
    records: tuple[CardRecord, ...]


def sortie_data(sortie: LoggedSortie) -> tuple[Datum, ...]:
    """Return the data of a sortie: of every card that was begun, broken off or not.

    Trim clicks change where the surfaces rest for every later card.
    """
    design = design_of(sortie.configuration)
    trims = resting_trims(sortie.configuration)
    data: list[Datum] = []
    for record in sortie.records:
        if record.outcome is Outcome.SKIPPED:
            continue
        trims = trims_after(design, record, trims)
        data += data_of(record, Moment(design, trims))
    return tuple(data)


def trims_at_landing(sortie: LoggedSortie) -> Trims:
    """Return where the surfaces rest after the sortie's last trim click. [rad]"""
    design = design_of(sortie.configuration)
    trims = resting_trims(sortie.configuration)
    for record in sortie.records:
        if record.outcome is not Outcome.SKIPPED:
            trims = trims_after(design, record, trims)
    return trims


def belief_after(sorties: tuple[LoggedSortie, ...], *, configuration: Configuration) -> Belief:
    """Return the belief from all sorties; the prior is that of the configuration given (its jig reading, its geometry)."""
    data = tuple(d for s in sorties for d in sortie_data(s))
    return update(prior_of(design_of(configuration)), data)
