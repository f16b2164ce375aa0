"""Ledger: the convergence board, configurations with their differences, prediction scores."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.diagnose.score import PredictionScore
from jinba.core.diagnose.tendencies import Tendency
from jinba.services.debrief import debrief_of
from jinba.services.history import History


@dataclass(frozen=True, slots=True)
class BoardColumn:
    """One sortie on the board: number, configuration, what had changed before it, predicted and found behaviours."""

    sortie_id: str
    sortie_number: int
    configuration_number: int
    change_words: tuple[str, ...]
    simulated: bool
    predicted: tuple[Tendency, ...]
    found: tuple[Tendency, ...]
    score: tuple[PredictionScore, ...]


@dataclass(frozen=True, slots=True)
class Board:
    """The convergence board, oldest sortie first, and the share of predictions within one sigma."""

    columns: tuple[BoardColumn, ...]
    within_one_sigma: float | None


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
                result.after,
                result.score,
            )
        )
    scores = [s.within_one_sigma for c in columns for s in c.score]
    return Board(tuple(columns), sum(scores) / len(scores) if scores else None)
