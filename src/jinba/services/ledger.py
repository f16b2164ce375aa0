"""Ledger: the convergence board, configurations with their differences, prediction scores."""

from __future__ import annotations

import uuid
from dataclasses import dataclass

from sqlalchemy.orm import Session

from jinba.core.cards.catalogue import CARDS
from jinba.core.diagnose.reliability import Kept, kept, said_and_seen
from jinba.core.diagnose.score import PredictionScore
from jinba.core.diagnose.tendencies import Tendency
from jinba.core.history.model import History
from jinba.services.estimates import stored_estimates
from jinba.services.history import history


@dataclass(frozen=True, slots=True)
class BoardColumn:
    """One sortie on the board: number, configuration, what had changed before it; behaviours as predicted before the
    flight, as it flew before its own trim clicks, and as it landed after them."""

    sortie_id: str
    sortie_number: int
    configuration_number: int
    change_words: tuple[str, ...]
    simulated: bool
    predicted: tuple[Tendency, ...]
    flown: tuple[Tendency, ...]
    found: tuple[Tendency, ...]
    score: tuple[PredictionScore, ...]


@dataclass(frozen=True, slots=True)
class ConfigurationSummary:
    """A configuration: its difference from the one before in words, the cards that made stale by their titles, sorties flown in it."""

    number: int
    change_words: tuple[str, ...]
    stale: tuple[str, ...]
    sortie_numbers: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Board:
    """The convergence board, oldest sortie first, the share of predictions within one sigma, what was said against what came true,
    every configuration."""

    columns: tuple[BoardColumn, ...]
    within_one_sigma: float | None
    kept: tuple[Kept, ...]
    configurations: tuple[ConfigurationSummary, ...]


def board(session: Session, model_id: uuid.UUID) -> Board:
    """Return the convergence board of a model: each sortie as it was found on landing, beside what was predicted."""
    known = history(session, model_id)
    stored = stored_estimates(session, [s.id for s in known.landed])
    columns: list[BoardColumn] = []
    changes = {c.number: c.change_words for c in known.configurations}
    previous = 0
    for sortie in known.landed:
        if sortie.id not in stored:
            continue
        found = stored[sortie.id]
        words = changes[sortie.configuration] if sortie.configuration != previous else ()
        previous = sortie.configuration
        columns.append(
            BoardColumn(
                str(sortie.id),
                sortie.number,
                sortie.configuration,
                words,
                sortie.simulated,
                found.before,
                found.flown,
                found.after,
                found.score,
            )
        )
    scores = [s.within_one_sigma for c in columns for s in c.score]
    pairs = (pair for c in columns for pair in said_and_seen(c.predicted, c.flown, c.score))
    return Board(tuple(columns), sum(scores) / len(scores) if scores else None, kept(pairs), _configurations(known))


def _configurations(known: History) -> tuple[ConfigurationSummary, ...]:
    flown: dict[int, list[int]] = {}
    for sortie in known.sorties:
        flown.setdefault(sortie.configuration, []).append(sortie.number)
    return tuple(
        ConfigurationSummary(c.number, c.change_words, _titles(c.opened_cards), tuple(flown.get(c.number, ())))
        for c in known.configurations
    )


def _titles(card_ids: tuple[str, ...]) -> tuple[str, ...]:
    return tuple(CARDS[c].title if c in CARDS else c for c in card_ids)
