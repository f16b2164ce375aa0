"""What a writing use case needs computed is computed with no connection held and no row locked.

A use case asks for its computations where it needs them. What is not computed yet rolls the transaction back, is computed,
and the use case is run again, so that the change and what follows from it are still one commit, made from the state that is
locked: a computation is named by everything it is made from, and one that a rival's commit has made stale is not found.
"""

from __future__ import annotations

import threading
import uuid
from collections.abc import Callable, Hashable, Sequence
from contextlib import nullcontext
from dataclasses import dataclass
from typing import Any, TypeVar

from sqlalchemy.orm import Session, sessionmaker

from jinba.persistence.database import unit_of_work

T = TypeVar("T")

ROUNDS = 6
"""Runs of a use case before it computes inside its transaction: a change that asks three times in a row is unheard of."""

_KEPT = "computed"
_TURNS = tuple(threading.Lock() for _ in range(64))


@dataclass(frozen=True, slots=True)
class Computation:
    """A pure function to run, named by all that goes into it."""

    made_from: Hashable
    run: Callable[[], Any]


class ComputeFirstError(Exception):
    """The use case cannot go on before these are computed; never leaves ``written``."""

    def __init__(self, model_id: uuid.UUID, wanted: Sequence[Computation]) -> None:
        super().__init__(f"{len(wanted)} computations for model {model_id}")
        self.model_id, self.wanted = model_id, tuple(wanted)


def computed(session: Session, model_id: uuid.UUID, wanted: Sequence[Computation]) -> list[Any]:
    """Return what the computations give; inside ``written`` only what was computed with no connection held.

    Ask for all at once that can be asked for at once: every call that finds one missing is one more run of the use case.
    """
    kept: dict[Hashable, Any] | None = session.info.get(_KEPT)
    if kept is None:
        return [c.run() for c in wanted]
    missing = [c for c in wanted if c.made_from not in kept]
    if missing:
        raise ComputeFirstError(model_id, missing)
    return [kept[c.made_from] for c in wanted]


def written(sessions: sessionmaker[Session], use_case: Callable[[Session], T]) -> T:
    """Return what a writing use case says, committed as a whole; what it wants computed is computed between its runs.

    Writers of one model take turns from the first computation on, without holding a connection, so that each computes from
    what the one before has written.
    """
    kept: dict[Hashable, Any] = {}
    turn: threading.Lock | nullcontext[None] = nullcontext()
    wanted: Sequence[Computation] = ()
    for _ in range(ROUNDS):
        with turn:
            kept |= {c.made_from: c.run() for c in wanted}
            try:
                with unit_of_work(sessions) as session:
                    session.info[_KEPT] = kept
                    return use_case(session)
            except ComputeFirstError as first:
                wanted, turn = first.wanted, _TURNS[first.model_id.int % len(_TURNS)]
    with unit_of_work(sessions) as session:
        return use_case(session)
