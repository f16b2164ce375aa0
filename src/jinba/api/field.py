"""The field door: the same program over TLS on the local network, for devices that were paired.

Loopback is the laptop's own door and asks nobody. Here every request to the API needs the cookie of a paired device; a helper's
device is let into its sortie and nothing else. The page itself holds no data and is given to anybody.
"""

from __future__ import annotations

import ipaddress
import re
import uuid
from collections.abc import Callable, Collection
from dataclasses import dataclass
from datetime import datetime

from fastapi import Request
from sqlalchemy.exc import OperationalError
from sqlalchemy.exc import TimeoutError as PoolTimeoutError
from sqlalchemy.orm import Session, sessionmaker
from starlette.concurrency import run_in_threadpool
from starlette.datastructures import MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from jinba.api.deps import Database
from jinba.api.problems import problem_response, unavailable
from jinba.services import pairing
from jinba.services.pairing import PairedDevice

COOKIE = "__Host-jinba"
"""The prefix has the browser refuse it unless it is secure, of this host alone, and of every path (RFC 6265bis; from memory)."""

API = "/api/"
V1 = "/api/v1"
FOR_ANYBODY = frozenset(
    {("GET", f"{V1}/field"), ("GET", f"{V1}/field/authority.crt"), ("POST", f"{V1}/field/paired-devices")}
)
"""What a device asks before it is paired: where it is, the authority's certificate, to be let in."""

FOR_THE_LAPTOP = re.compile(rf"^{V1}/field/paired-devices")
"""Who is let in is seen and changed at the program's own machine only."""

_TOKEN = re.compile(r"^[\w-]{20,100}$")
_STRICT_TRANSPORT = "max-age=31536000"


@dataclass(frozen=True, slots=True)
class Site:
    """Where the field door is: a name of its own, the same as long as the state folder is, and what that name is vouched for by.

    ``authority``: its certificate (DER), with its ``fingerprint`` and the time ``until`` which it holds; ``addresses``: those of this
    machine now. Also the collection of hosts under which the door may be reached.
    """

    name: str
    port: int
    authority: bytes
    fingerprint: str
    until: datetime
    addresses: Callable[[], Collection[str]]

    def __contains__(self, host: object) -> bool:
        """Return whether a host is one of this door's."""
        return host == self.name or host in self.addresses()

    @property
    def address(self) -> str:
        """Where a device finds it, wherever this machine is."""
        return f"https://{self.name}:{self.port}"

    @property
    def by_number(self) -> tuple[str, ...]:
        """Where a device finds it now that does not find the name."""
        return tuple(f"https://{a}:{self.port}" for a in sorted(self.addresses()))


def device_of(request: Request) -> PairedDevice | None:
    """Return the paired device that asks, None at the laptop's own door."""
    return getattr(request.state, "device", None)


class PairedOnly:
    """Lets paired devices in, a helper's to its sortie alone; over the network of this place only."""

    def __init__(self, app: ASGIApp, sessions: sessionmaker[Session]) -> None:
        self.app, self.database = app, Database(sessions)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Serve one request."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return

        async def marked(message: Message) -> None:
            if message["type"] == "http.response.start":
                MutableHeaders(scope=message).setdefault("Strict-Transport-Security", _STRICT_TRANSPORT)
            await send(message)

        request = Request(scope)
        try:
            device = await run_in_threadpool(self._device, request)
        except (OperationalError, PoolTimeoutError):
            # Whether it is paired cannot be asked now: nobody is refused for that, and nobody let in.
            await unavailable(request)(scope, receive, marked)
            return
        code, title, status = _refusal(request, device)
        if title:
            refused = problem_response(request, status=status, code=code, title=title)
            await refused(scope, receive, marked)
            return
        scope.setdefault("state", {})["device"] = device
        await self.app(scope, receive, marked)

    def _device(self, request: Request) -> PairedDevice | None:
        token = request.cookies.get(COOKIE, "")
        if not request.url.path.startswith(API) or not _TOKEN.match(token):
            return None
        device = self.database.read(lambda s: pairing.device_of(s, token))
        if device is not None and not pairing.seen_lately(device):
            self.database.write(lambda s: pairing.was_here(s, device))
        return device


_NOT_PAIRED = "This device is not paired with the program. Pair it: have the code shown on the laptop, under Phones."
_LAPTOP_ONLY = "Which devices are let in is changed on the laptop itself, under Phones."
_HELPER = "A helper's device logs its one sortie and opens nothing else."
_FROM_AFAR = "The program is reached from this place's own network only."


def _refusal(request: Request, device: PairedDevice | None) -> tuple[str, str, int]:
    """Return code, words and status of a refusal; empty words where the request is let in."""
    if not _near(request):
        return "from-afar", _FROM_AFAR, 403
    path, asked = request.url.path, (request.method, request.url.path)
    if not path.startswith(API) or asked in FOR_ANYBODY:
        return "", "", 200
    if device is None:
        return "not-paired", _NOT_PAIRED, 401
    if FOR_THE_LAPTOP.match(path):
        return "laptop-only", _LAPTOP_ONLY, 403
    if device.helps is not None and asked not in helpers(device.helps.model_id, device.helps.sortie_id):
        return "helper-only", _HELPER, 403
    return "", "", 200


def helpers(model_id: uuid.UUID, sortie_id: uuid.UUID) -> frozenset[tuple[str, str]]:
    """Return what a helper's device is let into: its sortie, to read and to log, and the emergency cards of its model."""
    sortie = f"{V1}/sorties/{sortie_id}"
    return frozenset(
        {
            ("GET", sortie),
            ("POST", f"{sortie}/records"),
            ("POST", f"{sortie}/log"),
            ("POST", f"{sortie}/notes"),
            ("PUT", f"{sortie}/notes/photo"),
            ("PUT", f"{sortie}/notes/voice"),
            ("GET", f"{V1}/models/{model_id}/emergencies"),
        }
        | FOR_ANYBODY
    )


def _near(request: Request) -> bool:
    """Return whether a request comes from a private or a link-local address."""
    host = request.client.host if request.client else ""
    try:
        return ipaddress.ip_address(host).is_private
    except ValueError:
        return False
