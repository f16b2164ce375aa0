"""Sites: what is typed of them, and which one a model is flown at."""

from __future__ import annotations

import uuid

from fastapi import APIRouter

from jinba.api.deps import DbDep
from jinba.api.routes.models import plan_view
from jinba.api.schemas.models import Plan
from jinba.api.schemas.sites import FlyAt, SiteTyped
from jinba.core.plan.site import Site
from jinba.services import plan, sites

router = APIRouter(prefix="/api/v1", tags=["sites"])


@router.get("/sites", operation_id="listSites")
def list_sites(db: DbDep) -> list[sites.SiteView]:
    """Return every site."""
    return list(db.read(sites.all_sites))


@router.put("/sites/{site_id}", operation_id="keepSite")
def keep_site(site_id: uuid.UUID, body: SiteTyped, db: DbDep) -> sites.SiteView:
    """Write what is typed of a site, a new one under a new id."""
    site = Site(**body.model_dump(exclude={"put_away"}))
    return db.write(lambda s: sites.keep_site(s, site_id, site, put_away=body.put_away))


@router.put("/models/{model_id}/site", operation_id="flyAt")
def fly_at(model_id: uuid.UUID, body: FlyAt, db: DbDep) -> Plan:
    """Say where a model is flown next: its light, its height limit and its height above the sea count from there."""
    db.write(lambda s: sites.fly_at(s, model_id, body.site_id))
    return plan_view(*db.read(lambda s: plan.with_contested(s, model_id)))
