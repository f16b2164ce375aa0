"""Dependencies: the database in short transactions, and the version of the setup that a request was made for."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from typing import Annotated, TypeVar

from fastapi import Depends, Header, Request
from sqlalchemy.orm import Session, sessionmaker

from jinba.core.errors import JinbaError
from jinba.core.history.model import History
from jinba.persistence.database import reading
from jinba.persistence.ownership import see_only
from jinba.persistence.repositories import Models
from jinba.services.computing import written
from jinba.services.history import history

T = TypeVar("T")


class Database:
    """Runs use cases, each in a transaction of its own.

    A connection is held only inside ``read`` and ``write``: what is computed for the answer is computed outside, and what a
    writing use case wants computed is computed between its runs.
    """

    def __init__(self, sessions: sessionmaker[Session], owner: uuid.UUID | None = None) -> None:
        self.sessions, self.owner = sessions, owner

    def _mine(self, use_case: Callable[[Session], T]) -> Callable[[Session], T]:
        """Return the use case in a session that sees its owner's rows alone."""

        def run(session: Session) -> T:
            see_only(session, self.owner or Models(session).only_owner())
            return use_case(session)

        return run

    def read(self, use_case: Callable[[Session], T]) -> T:
        """Return what a reading use case says of one moment; it cannot write."""
        with reading(self.sessions) as session:
            return self._mine(use_case)(session)

    def write(self, use_case: Callable[[Session], T]) -> T:
        """Return what a writing use case says; committed when it returns, rolled back when it raises. It may run twice."""
        return written(self.sessions, self._mine(use_case))

    def history(self, model_id: uuid.UUID) -> History:
        """Return everything known of a model."""
        return self.read(lambda s: history(s, model_id))


def database_of(request: Request) -> Database:
    """Return the database of this application."""
    return Database(request.app.state.sessions)


DbDep = Annotated[Database, Depends(database_of)]


async def body_of(request: Request) -> bytes:
    """Return the body as it came; its size is declared on the route (``takes_up_to``)."""
    return await request.body()


UploadDep = Annotated[bytes, Depends(body_of)]


class PreconditionRequiredError(JinbaError):
    """A request that would be wrong when repeated does not say which state it was made for."""

    code = "precondition-required"


class BadVersionError(JinbaError):
    """An If-Match that is no version of a setup."""

    code = "stale-version"


def etag(version: int) -> str:
    """Return the entity tag of a version of a setup."""
    return f'"setup-{version}"'


def version_of(if_match: Annotated[str | None, Header()] = None) -> int | None:
    """Return the version an If-Match header names, None without one. Raises: BadVersionError."""
    if if_match is None or if_match.strip() == "*":
        return None
    text = if_match.strip().removeprefix("W/").strip('"').removeprefix("setup-")
    if not text.isdecimal() or len(text) > 9:
        raise BadVersionError("This is not a version of this model. Load it again; nothing was changed.")
    return int(text)


def required_version(version: Annotated[int | None, Depends(version_of)]) -> int:
    """Return the version of a request that must name one: repeated without it, it would be done twice."""
    if version is None:
        raise PreconditionRequiredError("Say which version this is for (If-Match): load the model again, then repeat.")
    return version


IfMatch = Annotated[int | None, Depends(version_of)]
RequiredIfMatch = Annotated[int, Depends(required_version)]
