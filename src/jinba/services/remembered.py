"""What was read of a model, kept while nothing is written: a page asks for the same several times at once, a drag at every move."""

from __future__ import annotations

import threading
import uuid
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

from sqlalchemy.orm import Session

from jinba.persistence.database import moment_of
from jinba.persistence.ownership import owner_of

T = TypeVar("T")

_KEPT = 16


class Remembered(Generic[T]):
    """What was read last of models, each by the moment of the database it was read in, and by whose rows were seen."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._kept: OrderedDict[Hashable, T] = OrderedDict()

    def of_moment(self, session: Session, model_id: uuid.UUID, read: Callable[[], T]) -> T:
        """Return what was read of a model in this moment before, or read it; a session that may write reads for itself."""
        moment = moment_of(session)
        if moment is None:
            return read()
        key = (moment, owner_of(session), model_id)
        with self._lock:
            kept = self._kept.get(key)
        if kept is None:
            kept = read()
            with self._lock:
                self._kept[key] = kept
                while len(self._kept) > _KEPT:
                    self._kept.popitem(last=False)
        return kept
