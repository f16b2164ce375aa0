"""Admission: more requests at once than the program can serve soon are asked to come again, before anything runs dry."""

from __future__ import annotations

from starlette.requests import Request
from starlette.types import ASGIApp, Receive, Scope, Send

from jinba.api.problems import unavailable

MOST_AT_ONCE = 200
"""Requests under way or waiting for a thread: at a few hundredths of a second each, the last of them waits some seconds."""


class Admission:
    """Counts the requests under way and answers 503 with Retry-After beyond the most."""

    def __init__(self, app: ASGIApp, most: int = MOST_AT_ONCE) -> None:
        self.app, self.most, self.now = app, most, 0

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Serve one request."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        if self.now >= self.most:
            await unavailable(Request(scope))(scope, receive, send)
            return
        self.now += 1
        try:
            await self.app(scope, receive, send)
        finally:
            self.now -= 1
