"""Every error leaves in one shape, ``application/problem+json`` (RFC 9457)."""

from __future__ import annotations

import logging
import uuid
from collections.abc import Sequence
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel, ValidationError
from sqlalchemy.exc import DataError, IntegrityError, OperationalError
from sqlalchemy.exc import TimeoutError as PoolTimeoutError
from starlette.exceptions import HTTPException
from starlette.middleware.body_limit import MAX_BODY_SIZE_SCOPE_KEY

from jinba.api.violations import words_of
from jinba.core.errors import JinbaError
from jinba.persistence.collisions import collision_words, constraint_of

logger = logging.getLogger("jinba")

_DISK_FULL = "53100"
"""SQLSTATE disk_full (PostgreSQL, appendix A)."""

STATUS: dict[str, int] = {
    "not-found": 404,
    "unknown-key": 422,
    "conflict": 409,
    "stale-version": 409,
    "precondition-required": 428,
    "newer-version": 422,
    "refused": 409,
    "wrong-code": 403,
    "too-many-guesses": 429,
    "out-of-range": 422,
    "impossible-geometry": 422,
    "unreachable-target": 422,
    "not-converged": 422,
    "bad-text": 422,
    "bad-project-file": 422,
    "bad-photo": 422,
    "bad-voice": 422,
    "bad-item-table": 422,
    "bad-throw-table": 422,
    "linkage-cannot-close": 422,
    "bad-airfoil-file": 422,
    "bad-outline-table": 422,
    "bad-metar": 422,
    "error": 422,
}

PAUSE_AFTER_GUESSES_S = 60


class Violation(BaseModel):
    """One wrong field: JSON pointer, code and words."""

    pointer: str
    code: str
    detail: str


class Problem(BaseModel):
    """An error: type, title for a person, status, code for machines, wrong fields, typed context."""

    type: str
    title: str
    status: int
    code: str
    detail: str = ""
    instance: str = ""
    violations: list[Violation] = []
    context: dict[str, Any] = {}
    trace_id: str = ""


def problem_response(
    request: Request,
    *,
    status: int,
    code: str,
    title: str,
    violations: Sequence[Violation] = (),
    context: dict[str, Any] | None = None,
    trace_id: str = "",
) -> JSONResponse:
    """Return a problem as a response."""
    problem = Problem(
        type=f"urn:jinba:problem:{code}",
        title=title,
        status=status,
        code=code,
        instance=request.url.path,
        violations=list(violations),
        context=context or {},
        trace_id=trace_id,
    )
    return JSONResponse(problem.model_dump(), status_code=status, media_type="application/problem+json")


def problem_of(error: JinbaError, instance: str) -> Problem:
    """Return an error of the job as a problem."""
    return Problem(
        type=f"urn:jinba:problem:{error.code}",
        title=error.title,
        status=STATUS.get(error.code, 422),
        code=error.code,
        instance=instance,
        context=_plain(error.context),
    )


def install(app: FastAPI) -> None:
    """Register the handlers."""

    @app.exception_handler(JinbaError)
    async def _job(request: Request, error: JinbaError) -> JSONResponse:
        status = STATUS.get(error.code, 422)
        if error.code == "stale-version" and "if-match" in request.headers:
            status = 412
        response = problem_response(
            request,
            status=status,
            code=error.code,
            title=error.title,
            context=_plain(error.context),
        )
        if status == 429:
            response.headers["Retry-After"] = str(PAUSE_AFTER_GUESSES_S)
        return response

    @app.exception_handler(RequestValidationError)
    async def _request(request: Request, error: RequestValidationError) -> JSONResponse:
        return _invalid(request, error.errors())

    @app.exception_handler(ValidationError)
    async def _stored(request: Request, error: ValidationError) -> JSONResponse:
        return _invalid(request, error.errors(include_url=False, include_input=False))

    @app.exception_handler(HTTPException)
    async def _http(request: Request, error: HTTPException) -> JSONResponse:
        if error.status_code == 413:
            return too_large(request, request.scope.get(MAX_BODY_SIZE_SCOPE_KEY))
        words = {404: "There is nothing at this address.", 405: "This address does not take that method."}
        title = words.get(error.status_code, str(error.detail))
        response = problem_response(request, status=error.status_code, code=f"http-{error.status_code}", title=title)
        response.headers.update(error.headers or {})
        return response

    @app.exception_handler(IntegrityError)
    async def _collision(request: Request, error: IntegrityError) -> JSONResponse:
        logger.warning("collision at %s: %s", request.url.path, constraint_of(error))
        return problem_response(request, status=409, code="conflict", title=collision_words(error))

    @app.exception_handler(DataError)
    async def _unkeepable(request: Request, error: DataError) -> JSONResponse:
        logger.warning("value that cannot be kept at %s: %s", request.url.path, type(error.orig).__name__)
        title = "A number is too large, or a text holds characters that cannot be kept. Correct it; nothing was saved."
        return problem_response(request, status=422, code="out-of-range", title=title)

    @app.exception_handler(PoolTimeoutError)
    @app.exception_handler(OperationalError)
    async def _away(request: Request, error: Exception) -> JSONResponse:
        if getattr(getattr(error, "orig", None), "sqlstate", None) == _DISK_FULL:
            title = "The disk of the program's machine is full. Nothing was saved: make room, then try again."
            return problem_response(request, status=507, code="disk-full", title=title)
        logger.warning(
            "database busy or away at %s: %s", request.url.path, type(getattr(error, "orig", error)).__name__
        )
        return unavailable(request)

    @app.exception_handler(Exception)
    async def _unexpected(request: Request, error: Exception) -> JSONResponse:
        trace = uuid.uuid4().hex
        logger.exception("unexpected error %s", trace, exc_info=error)
        title = f"Something went wrong in the program (trace {trace[:8]}). Nothing was saved; try again."
        return problem_response(request, status=500, code="unexpected", title=title, trace_id=trace)


def too_large(request: Request, most_bytes: int | None) -> JSONResponse:
    """Return the answer to a body larger than its route takes."""
    size = "what is taken here" if most_bytes is None else f"the {most_bytes / 1000:,.0f} kB that are taken here"
    return problem_response(
        request, status=413, code="too-large", title=f"This is larger than {size}. Nothing was changed."
    )


RETRY_AFTER_S = 2


def unavailable(request: Request) -> JSONResponse:
    """Return the answer of a program that is busy or whose database is away: nothing was saved, try again soon."""
    title = "The program is busy or its database is starting. Nothing was saved; it is tried again in a moment."
    response = problem_response(request, status=503, code="unavailable", title=title)
    response.headers["Retry-After"] = str(RETRY_AFTER_S)
    return response


def _invalid(request: Request, errors: Sequence[Any]) -> JSONResponse:
    # The entered value is never echoed: NaN and 1e999 cannot be written as JSON.
    violations = []
    for e in errors:
        cause = (e.get("ctx") or {}).get("error")
        detail = words_of(e)
        code = cause.code if isinstance(cause, JinbaError) else str(e["type"])
        pointer = "/" + "/".join(str(p) for p in e["loc"] if p != "body")
        violations.append(Violation(pointer=pointer, code=code, detail=detail))
    title = (
        violations[0].detail
        if len(violations) == 1
        else f"{len(violations)} entries need correcting. First: {violations[0].detail}"
    )
    return problem_response(request, status=422, code="invalid", title=title, violations=violations)


def _plain(context: dict[str, object]) -> dict[str, Any]:
    def plain(value: object) -> Any:
        if isinstance(value, float) and (value != value or value in (float("inf"), float("-inf"))):
            return str(value)
        return value if isinstance(value, str | int | float | bool | type(None)) else str(value)

    return {k: [plain(x) for x in v] if isinstance(v, list | tuple) else plain(v) for k, v in context.items()}
