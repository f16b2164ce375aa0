"""What stands round every request: admission before anything runs dry, and answers of the API that nobody keeps."""

from __future__ import annotations

from starlette.datastructures import MutableHeaders
from starlette.requests import Request
from starlette.types import ASGIApp, Message, Receive, Scope, Send

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
        inside = True

        def leave() -> None:
            nonlocal inside
            self.now -= inside
            inside = False

        async def counted(message: Message) -> None:
            # The work is done when the answer begins: a client that reads it slowly takes nobody's place.
            if message["type"] == "http.response.start":
                leave()
            await send(message)

        try:
            await self.app(scope, receive, counted)
        finally:
            leave()


class NoStore:
    """Says of every answer of the API that it is not to be kept: the program's state changes from one moment to the next."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Serve one request."""
        if scope["type"] != "http" or not scope["path"].startswith("/api/"):
            await self.app(scope, receive, send)
            return

        async def marked(message: Message) -> None:
            if message["type"] == "http.response.start":
                MutableHeaders(scope=message).setdefault("Cache-Control", "no-store")
            await send(message)

        await self.app(scope, receive, marked)
