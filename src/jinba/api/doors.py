"""The doors: which hosts and origins are let in, what every answer says to the browser, and how large and slow a body may be.

On loopback too: any page in the same browser can send requests there, and a foreign name can be made to point to it.
"""

from __future__ import annotations

import asyncio
from collections.abc import Container

from fastapi import Request
from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from jinba.api.problems import problem_response, too_large

LOOPBACK = ("127.0.0.1", "localhost", "[::1]")
SAFE_METHODS = frozenset({"GET", "HEAD", "OPTIONS"})
USUAL_BYTES = 512_000
"""Most of a body that its route does not say otherwise of; a whole setup with every outline is a tenth of it."""

LARGEST_BYTES = 21_000_000
"""Most of any body: a little more than the largest that a route takes, so that the route can say what is too large."""

PATIENCE_S = 20.0
SLOWEST_BYTES_PER_S = 20_000.0
"""A body may take the patience and what it needs at this pace: a poor radio link, not a client that ties things up."""

SAID_OF_EVERY_ANSWER = {
    "Content-Security-Policy": (
        "default-src 'self'; img-src 'self' data: blob:; media-src 'self' blob:; object-src 'none'; base-uri 'none'; form-action 'self'; "
        "frame-ancestors 'none'"
    ),
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "no-referrer",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}


class Doors:
    """Lets in requests to the program's own hosts, and changes only from its own pages; marks every answer."""

    def __init__(self, app: ASGIApp, hosts: Container[str] = LOOPBACK, usual: str = "") -> None:
        """``hosts``: the names it may be reached under, without port; ``usual``: the address to use instead, loopback's when empty."""
        self.app, self.hosts, self.usual = app, hosts, usual

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Serve one request."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return

        async def marked(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in SAID_OF_EVERY_ANSWER.items():
                    headers.setdefault(name, value)
            await send(message)

        refused = self._refusal(Request(scope))
        await (refused or self.app)(scope, receive, marked)

    def _refusal(self, request: Request) -> Response | None:
        host = request.headers.get("host", "")
        if _name(host) not in self.hosts:
            return problem_response(
                request,
                status=421,
                code="foreign-host",
                title=f"The program is not reached under this name. Use {self.usual or f'http://127.0.0.1{_port(host)} on its own machine'}.",
            )
        if request.method in SAFE_METHODS or _of_own_page(request.headers, f"{request.url.scheme}://{host}"):
            return None
        return problem_response(
            request,
            status=403,
            code="foreign-origin",
            title="This came from another page, not from the program's own. Nothing was changed.",
        )


def _of_own_page(headers: Headers, own: str) -> bool:
    """Return whether a change was asked for by the program's own page (its origin), or by no browser at all."""
    origin = headers.get("origin")
    if origin is not None:
        return origin == own
    return headers.get("sec-fetch-site", "none") in ("none", "same-origin")


def _name(host: str) -> str:
    """Return a Host header without its port; an IPv6 address keeps its brackets."""
    name, colon, port = host.rpartition(":")
    return name if colon and port.isdigit() else host


def _port(host: str) -> str:
    return host[len(_name(host)) :]


class Bodies:
    """Reads a body before anything works on it, as fast as a poor link is; how large it may be is declared on each route."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Serve one request."""
        if scope["type"] != "http" or scope["method"] in SAFE_METHODS:
            await self.app(scope, receive, send)
            return
        body = await _read(Request(scope), receive)
        if isinstance(body, Response):
            await body(scope, receive, send)
            return
        # It is counted as it was read; what its sender had said of its length means nothing any more.
        headers = [(k, v) for k, v in scope["headers"] if k != b"content-length"]
        await self.app({**scope, "headers": headers}, _once(body, receive), send)


async def _read(request: Request, receive: Receive) -> bytes | Response:
    declared = request.headers.get("content-length", "")
    if declared.isdigit() and int(declared) > LARGEST_BYTES:
        return _given_up(too_large(request, LARGEST_BYTES))
    body, clock = bytearray(), asyncio.get_running_loop()
    begun, more = clock.time(), True
    while more:
        allowed = PATIENCE_S + len(body) / SLOWEST_BYTES_PER_S
        try:
            message = await asyncio.wait_for(receive(), allowed - (clock.time() - begun))
        except TimeoutError:
            title = "The entry came too slowly and was given up. Nothing was changed; send it again."
            return _given_up(problem_response(request, status=408, code="too-slow", title=title))
        if message["type"] == "http.disconnect":
            return Response(status_code=400)
        body += message.get("body", b"")
        more = message.get("more_body", False)
        if len(body) > LARGEST_BYTES:
            return _given_up(too_large(request, LARGEST_BYTES))
    return bytes(body)


def _given_up(response: Response) -> Response:
    """Return an answer after which the connection ends: what else was to come is not read."""
    response.headers["Connection"] = "close"
    return response


def _once(body: bytes, receive: Receive) -> Receive:
    """Return a receiver that gives a body that was read, then what comes after it."""
    given = False

    async def give() -> Message:
        nonlocal given
        if given:
            return await receive()
        given = True
        return {"type": "http.request", "body": body, "more_body": False}

    return give
