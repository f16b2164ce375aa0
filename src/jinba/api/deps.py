"""Dependencies: one transaction per request."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated

from fastapi import Depends, Request
from sqlalchemy.orm import Session

from jinba.persistence.database import unit_of_work


def session_of(request: Request) -> Iterator[Session]:
    """Yield the session of this request; committed when the handler returns, rolled back on any error."""
    with unit_of_work(request.app.state.sessions) as session:
        yield session


SessionDep = Annotated[Session, Depends(session_of, scope="function")]
