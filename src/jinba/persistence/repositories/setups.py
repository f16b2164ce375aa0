"""Setups, each stored once under the hash of its content."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from jinba.persistence.content import content_hash
from jinba.persistence.orm import Json, SetupRow


class Setups:
    """Setups by their hash."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def keep(self, body: Json, *, schema_version: int) -> str:
        """Store a setup unless it is there; return its hash."""
        found = content_hash(body)
        values = {"hash": found, "schema_version": schema_version, "body": body}
        self.session.execute(insert(SetupRow).values(**values).on_conflict_do_nothing())
        return found

    def bodies(self, hashes: Iterable[str]) -> Mapping[str, tuple[int, Json]]:
        """Return (schema version, body) of setups by their hashes."""
        query = select(SetupRow.hash, SetupRow.schema_version, SetupRow.body).where(SetupRow.hash.in_(set(hashes)))
        return {h: (version, body) for h, version, body in self.session.execute(query)}
