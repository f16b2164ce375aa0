"""Ledger: the convergence board, configurations with their differences, prediction scores."""

from __future__ import annotations

import uuid
from dataclasses import dataclass

from jinba.core.diagnose.score import PredictionScore
from jinba.core.diagnose.tendencies import Tendency
from jinba.services.debrief import debrief_of
from jinba.services.history import History


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
class ConfigurationLine:
    """A configuration: its difference from the one before in words, the cards that made stale, sorties flown in it."""

    number: int
    change_words: tuple[str, ...]
    stale: tuple[str, ...]
    sortie_numbers: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Board:
    """The convergence board, oldest sortie first, the share of predictions within one sigma, every configuration."""

    columns: tuple[BoardColumn, ...]
    within_one_sigma: float | None
    configurations: tuple[ConfigurationLine, ...]


def board(known: History) -> Board:
    """Return the convergence board of a model: each sortie as it was found on landing, beside what was predicted."""
    columns: list[BoardColumn] = []
    previous = 0
    for sortie in known.landed:
        result = debrief_of(known, sortie)
        row = next(c for c in known.model.configurations if c.id == sortie.configuration_id)
        words = tuple(row.change_words) if row.number != previous else ()
        previous = row.number
        columns.append(
            BoardColumn(
                str(sortie.id),
                sortie.number,
                row.number,
                words,
                sortie.simulated,
                result.before,
                result.flown,
                result.after,
                result.score,
            )
        )
    scores = [s.within_one_sigma for c in columns for s in c.score]
    return Board(tuple(columns), sum(scores) / len(scores) if scores else None, _configurations(known))


def _configurations(known: History) -> tuple[ConfigurationLine, ...]:
    flown: dict[uuid.UUID, list[int]] = {}
    for sortie in known.sorties:
        flown.setdefault(sortie.configuration_id, []).append(sortie.number)
    return tuple(
        ConfigurationLine(c.number, tuple(c.change_words), tuple(c.stale_cards), tuple(flown.get(c.id, ())))
        for c in known.model.configurations
    )
