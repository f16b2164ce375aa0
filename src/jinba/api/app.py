"""The application: routes, problems, the built front end."""

from __future__ import annotations

import mimetypes
import re
from pathlib import Path
from typing import Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi
from fastapi.responses import FileResponse, Response
from sqlalchemy.orm import Session, sessionmaker
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware

from jinba import __version__
from jinba.api import documentation, problems
from jinba.api.doors import LOOPBACK, USUAL_BYTES, Bodies, Doors
from jinba.api.field import PairedOnly, Site
from jinba.api.middleware import Admission, NoStore
from jinba.api.routes import (
    compute,
    controls,
    diary,
    energy,
    field,
    measures,
    models,
    notes,
    papers,
    photos,
    sign_off,
    sites,
    sorties,
    telemetry,
)
from jinba.api.units import OwnUnits
from jinba.formats import codec
from jinba.persistence.database import make_engine

mimetypes.add_type("application/manifest+json", ".webmanifest")

_ = codec  # makes every core record strict before schemas are built


def create_app(
    database_url: str,
    *,
    web_dist: Path | None = None,
    site: Site | None = None,
    for_paired: bool = False,
    sessions: sessionmaker[Session] | None = None,
) -> FastAPI:
    """Return the application on a database; with ``web_dist`` it also serves the built front end.

    ``site``: where devices reach it that are paired, None where it listens on loopback only. ``for_paired``: it is the field door itself,
    under the site's hosts, and lets paired devices in; else the laptop's own, on loopback. ``sessions``: of another application on the same database, to share.
    """
    if for_paired and site is None:
        raise ValueError("a field door without a site")
    app = FastAPI(title="Jinba", version=__version__, docs_url=None, openapi_url="/api/openapi.json", redoc_url=None)
    app.state.sessions = sessions or sessionmaker(make_engine(database_url), expire_on_commit=False)
    app.add_middleware(OwnUnits)
    app.add_middleware(GZipMiddleware, minimum_size=1024)
    app.add_middleware(NoStore)
    app.add_middleware(Admission)
    app.add_middleware(Bodies)
    app.state.site, app.state.for_paired, app.state.guesses = site, for_paired, field.Guesses()
    if for_paired and site is not None:
        app.add_middleware(PairedOnly, sessions=app.state.sessions)
        app.add_middleware(Doors, hosts=site, usual=site.address)
    else:
        app.add_middleware(Doors, hosts=LOOPBACK)
    problems.install(app)
    for place in (
        models,
        sorties,
        diary,
        sign_off,
        notes,
        photos,
        papers,
        measures,
        controls,
        compute,
        field,
        energy,
        sites,
        telemetry,
    ):
        app.include_router(place.router, max_body_size=USUAL_BYTES)
    app.openapi = lambda: _openapi(app)  # type: ignore[method-assign]
    app.add_api_route("/api/docs", lambda: documentation.documentation(app.openapi()), include_in_schema=False)
    app.include_router(documentation.router)
    _serve_web(app, web_dist)
    return app


_OF_A_MODEL = re.compile(r"m/([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})(?:/|$)")

_schema: dict[str, Any] = {}
"""The routes are the same in every application of this process, and describing them takes seconds."""


def _openapi(app: FastAPI) -> dict[str, Any]:
    if not _schema:
        _schema.update(_described(app))
    return _schema


def _described(app: FastAPI) -> dict[str, Any]:
    schema = get_openapi(title=app.title, version=app.version, routes=app.routes)
    components = schema.setdefault("components", {}).setdefault("schemas", {})
    for name in ("HTTPValidationError", "ValidationError"):
        components.pop(name, None)
    problem = problems.Problem.model_json_schema(ref_template="#/components/schemas/{model}")
    components |= problem.pop("$defs", {})
    components["Problem"] = problem
    answer = {
        "description": "Problem",
        "content": {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}},
    }
    for operations in schema["paths"].values():
        for operation in operations.values():
            operation["responses"].pop("422", None)
            operation["responses"]["default"] = answer
    _plain_arrays(schema)
    return schema


def _plain_arrays(node: object) -> None:
    """Write pairs as arrays of fixed length with one item type: generated clients handle these best."""
    if isinstance(node, dict):
        pair = node.pop("prefixItems", None)
        if pair is not None:
            node["items"] = pair[0]
        for value in node.values():
            _plain_arrays(value)
    elif isinstance(node, list):
        for value in node:
            _plain_arrays(value)


def _file_at(root: Path, path: str) -> Path | None:
    """Return the file of the built front end at a path, None when there is none or the path is no path."""
    try:
        file = (root / path).resolve()
        return file if path and file.is_file() and file.is_relative_to(root) else None
    except (ValueError, OSError):
        return None


def _ahead(path: str) -> dict[str, str]:
    """Name what the page of a model asks for first: over a poor line it comes beside the page's scripts, not behind them."""
    model = _OF_A_MODEL.match(path)
    return {"Link": f"</api/v1/models/{model[1]}>; rel=preload; as=fetch; crossorigin"} if model else {}


def _serve_web(app: FastAPI, dist: Path | None) -> None:
    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> Response:
        if path.startswith("api/") or dist is None or not dist.is_dir():
            raise HTTPException(404)
        root = dist.resolve()
        file = _file_at(root, path)
        if path.startswith("assets/") and file is None:
            raise HTTPException(404)
        if file is not None:
            fresh = path in ("sw.js", "index.html")
            cache = (
                "no-cache"
                if fresh
                else "public, max-age=31536000, immutable"
                if path.startswith("assets/")
                else "public, max-age=3600"
            )
            return FileResponse(file, headers={"Cache-Control": cache})
        return FileResponse(root / "index.html", headers={"Cache-Control": "no-cache", **_ahead(path)})
