"""The reader's own units: which they are, and every sentence of an answer written in them, once, on its way out."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, Query
from starlette.datastructures import Headers, MutableHeaders, QueryParams
from starlette.requests import Request
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from jinba.api.problems import problem_response
from jinba.core.spoken import MARKS, Units, spoken, units_chosen

HEADER = "Jinba-Units"
"""Header, and ``units`` in a query where a page is opened by its address: "length=in, mass=oz"."""

_HOW = f"Units of the reader, as in the header {HEADER}: length=in,mass=oz"
_SENTENCES = ("application/json", "application/problem+json")
_MARK = MARKS[0].encode()


def units_of(scope: Scope) -> Units:
    """Return the units a request asks for, metric where it asks for none. Raises: KeyError with the sentence to show."""
    text = QueryParams(scope.get("query_string", b"")).get("units") or Headers(scope=scope).get(HEADER, "")
    pairs = (part.partition("=") for part in text.split(",") if part.strip())
    return units_chosen({name.strip(): key.strip() for name, _, key in pairs})


def _reader_units(request: Request, units: Annotated[str, Query(max_length=200, description=_HOW)] = "") -> Units:
    _ = units  # read with the header, declared here for the documentation
    return units_of(request.scope)


UnitsDep = Annotated[Units, Depends(_reader_units)]


class OwnUnits:
    """Writes the sentences of every answer in the reader's units; nothing further in has to think of them."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Serve one request."""
        if scope["type"] != "http" or not scope["path"].startswith("/api/"):
            await self.app(scope, receive, send)
            return
        try:
            answer = _Answer(units_of(scope), send)
        except KeyError as unknown:
            title = f"{HEADER}: {unknown.args[0]}"
            await problem_response(Request(scope), status=422, code="units", title=title)(scope, receive, send)
            return
        await self.app(scope, receive, answer.send)


class _Answer:
    """One answer: held back until it is whole where it may hold sentences, passed on as it comes where not."""

    def __init__(self, units: Units, send: Send) -> None:
        self.units, self.onward = units, send
        self.start: Message | None = None
        self.body = bytearray()

    async def send(self, message: Message) -> None:
        if message["type"] == "http.response.start" and _has_sentences(message):
            self.start = message
        elif self.start is None:
            await self.onward(message)
        elif message["type"] == "http.response.body":
            self.body += message.get("body", b"")
            if not message.get("more_body", False):
                await self._done(self.start)

    async def _done(self, start: Message) -> None:
        # An argument holds no character that JSON escapes, in marks or in words: the text is written as it stands.
        said = spoken(self.body.decode(), self.units).encode() if _MARK in self.body else bytes(self.body)
        headers = MutableHeaders(scope=start)
        headers["Content-Length"] = str(len(said))
        headers.add_vary_header(HEADER)
        await self.onward(start)
        await self.onward({"type": "http.response.body", "body": said, "more_body": False})


def _has_sentences(start: Message) -> bool:
    return Headers(raw=start["headers"]).get("content-type", "").partition(";")[0] in _SENTENCES
