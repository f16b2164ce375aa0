"""Serving at the field: the door over TLS beside loopback, its certificate and its name kept true while addresses change."""

from __future__ import annotations

import logging
import ssl
import threading
from collections.abc import Callable, Collection
from pathlib import Path

import uvicorn
from fastapi import FastAPI

from jinba.api.field import Site
from jinba.cli.field.announce import TROUBLE, Announcer, private_addresses
from jinba.cli.field.authority import Authority, authority

FIELD_PORT = 8471
_LOOK_S = 5.0
_START_S = 15.0

logger = logging.getLogger("jinba")


class FieldDoor:
    """The server over TLS on every interface, in a thread of its own, with whoever keeps its certificate and its name true."""

    def __init__(
        self,
        folder: Path,
        *,
        port: int = FIELD_PORT,
        addresses: Callable[[], Collection[str]] = private_addresses,
        announcer: Callable[[str, int], Announcer] = Announcer,
    ) -> None:
        self.authority: Authority = authority(folder)
        self.port, self._look = port, addresses
        self.known = frozenset(addresses())
        self.announcer = announcer(self.authority.name, port)
        self.site = Site(
            name=self.authority.name,
            port=port,
            authority=self.authority.der,
            fingerprint=self.authority.fingerprint,
            until=self.authority.until,
            addresses=lambda: self.known,
        )
        self._ended = threading.Event()

    def start(self, app: FastAPI) -> None:
        """Serve and announce. Raises: RuntimeError when the server does not start."""
        self.authority.renewed(self.known)
        certificate, key = self.authority.leaf_files
        config = uvicorn.Config(
            app,
            host="0.0.0.0",
            port=self.port,
            log_level="warning",
            server_header=False,
            ssl_certfile=certificate,
            ssl_keyfile=key,
        )
        config.load()
        assert config.ssl is not None
        config.ssl.minimum_version = ssl.TLSVersion.TLSv1_2
        self.tls = config.ssl
        self.server = uvicorn.Server(config)
        self.thread = threading.Thread(target=self.server.run, daemon=True)
        self.thread.start()
        for _ in range(int(_START_S / 0.05)):
            if self.server.started or not self.thread.is_alive():
                break
            self._ended.wait(0.05)
        if not self.server.started:
            raise RuntimeError("The field door did not start.")
        self._announce()
        threading.Thread(target=self._keep_true, daemon=True).start()

    def look(self) -> None:
        """Follow the machine: other addresses, or a certificate that is getting old, and the name is given a new certificate."""
        now = frozenset(self._look())
        moved = now != self.known
        self.known = now
        if self.authority.renewed(now):
            # From the next connection on; those that are open stay.
            self.tls.load_cert_chain(*self.authority.leaf_files)
        if moved:
            self._announce()

    def stop(self) -> None:
        """End it."""
        self._ended.set()
        self.announcer.stop()
        self.server.should_exit = True
        self.thread.join(timeout=5)

    def _keep_true(self) -> None:
        while not self._ended.wait(_LOOK_S):
            try:
                self.look()
            except Exception as error:
                # Whatever it is, it is looked at again: a door that stopped following would go stale unseen.
                logger.warning("the field door could not follow the network: %s", error)

    def _announce(self) -> None:
        try:
            self.announcer.say(self.known)
        except TROUBLE as error:
            logger.warning("the name %s could not be announced: %s", self.authority.name, error)
