"""Sites: what is typed of them, which one a model is flown at, and the day there."""

from __future__ import annotations

import uuid
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy.orm import Session

from jinba.core.errors import RefusedError
from jinba.core.plan.site import Site
from jinba.persistence.orm import SiteRow
from jinba.persistence.repositories import Models, Sites


@dataclass(frozen=True, slots=True)
class SiteView:
    """A site on its shelf."""

    id: uuid.UUID
    site: Site
    put_away: bool


def site_of(row: SiteRow) -> Site:
    """Return a site from its row."""
    return Site(
        row.name, row.latitude_deg, row.longitude_deg, row.elevation_m, row.heading_rad, row.height_limit_m, row.rules
    )


def _view(row: SiteRow) -> SiteView:
    return SiteView(row.id, site_of(row), row.put_away_at is not None)


def all_sites(session: Session) -> tuple[SiteView, ...]:
    """Return every site by name; those that were put away last."""
    return tuple(sorted((_view(r) for r in Sites(session).all()), key=lambda v: v.put_away))


def keep_site(session: Session, site_id: uuid.UUID, site: Site, *, put_away: bool = False) -> SiteView:
    """Write what is typed of a site, a new one under a new id.

    Raises: RefusedError for a name another one has; OutOfRangeError for no place on earth.
    """
    name = site.name.strip()
    if not name:
        raise RefusedError("A site goes by its name: give it one.", name="name")
    row = Sites(session).take(Models(session).owner_id(), site_id, name)
    if row is None:
        raise RefusedError(
            f"A site is already called {name}. Change that one, or give this one another name.", name="name"
        )
    row.name, row.rules = name, site.rules
    row.latitude_deg, row.longitude_deg = site.latitude_deg, site.longitude_deg
    row.elevation_m, row.heading_rad, row.height_limit_m = site.elevation_m, site.heading_rad, site.height_limit_m
    row.put_away_at = (row.put_away_at or datetime.now(UTC)) if put_away else None
    session.flush()
    return _view(row)


def fly_at(session: Session, model_id: uuid.UUID, site_id: uuid.UUID | None) -> None:
    """Say where a model is flown next; None: nowhere that is known. Raises: NotFoundError; RefusedError for a model kept read-only."""
    model = Models(session).lock(model_id)
    if model.read_only:
        raise RefusedError(f"{model.name} is kept read-only: it can be looked at, not flown.")
    model.site_id = None if site_id is None else Sites(session).get(site_id).id
    session.flush()
