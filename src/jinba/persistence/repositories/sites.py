"""Sites: where one flies."""

from __future__ import annotations

import uuid
from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from jinba.persistence.orm import SiteRow
from jinba.persistence.repositories.models import NotFoundError


class Sites:
    """The sites of a shelf."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def all(self) -> Sequence[SiteRow]:
        """Return every site by its name."""
        return self.session.scalars(select(SiteRow).order_by(SiteRow.name, SiteRow.id)).all()

    def get(self, site_id: uuid.UUID) -> SiteRow:
        """Return a site. Raises: NotFoundError."""
        found = self.session.scalars(select(SiteRow).where(SiteRow.id == site_id)).first()
        if found is None:
            raise NotFoundError("This site is not here.", site=str(site_id))
        return found

    def take(self, owner_id: uuid.UUID, site_id: uuid.UUID, name: str) -> SiteRow | None:
        """Return the site of an id, locked, made when it is new; None where another one has the name."""
        fresh = {
            "id": site_id,
            "owner_id": owner_id,
            "name": name,
            "latitude_deg": 0.0,
            "longitude_deg": 0.0,
            "rules": "",
        }
        self.session.execute(insert(SiteRow).values(**fresh).on_conflict_do_nothing())
        named = select(SiteRow.id).where(SiteRow.owner_id == owner_id, SiteRow.name == name, SiteRow.id != site_id)
        if self.session.scalars(named).first() is not None:
            return None
        query = select(SiteRow).where(SiteRow.id == site_id).with_for_update()
        return self.session.scalars(query.execution_options(populate_existing=True)).first()
