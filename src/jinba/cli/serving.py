"""Serving: the web server in a thread, the main thread for signals and for PostgreSQL, which is started again if it dies."""

from __future__ import annotations

import signal
import threading
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from types import FrameType

import uvicorn
from fastapi import FastAPI

from jinba.cli import postgres

SIGNALS = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)
_LOOK_S = 0.5
_DIRECT = urllib.request.build_opener(urllib.request.ProxyHandler({}))
"""Whatever proxy this machine uses, loopback is not behind it."""


class StopRequested(BaseException):
    """Somebody wants the program to end: Ctrl-C, a closed terminal, a polite kill."""


def _requested(number: int, _: FrameType | None) -> None:
    raise StopRequested(signal.Signals(number).name)


@contextmanager
def stopping_everything(folder: Path) -> Iterator[None]:
    """Stop the PostgreSQL of a folder at the end, whatever ends it; a signal ends it in good order."""
    for number in SIGNALS:
        signal.signal(number, _requested)
    try:
        yield
    except StopRequested:
        pass
    finally:
        # The second Ctrl-C of an impatient hand must not leave the database running.
        for number in SIGNALS:
            signal.signal(number, signal.SIG_IGN)
        print("stopping PostgreSQL", flush=True)
        postgres.stop_in(folder)


class Web:
    """The web server, in a thread of its own."""

    def __init__(self, app: FastAPI, *, port: int) -> None:
        config = uvicorn.Config(app, host="127.0.0.1", port=port, log_level="warning", server_header=False)
        self.server = uvicorn.Server(config)
        self.address = f"http://127.0.0.1:{port}"
        self.thread = threading.Thread(target=self.server.run, daemon=True)

    def start(self) -> None:
        """Serve; returns when a page has been served. Raises: RuntimeError when the web server ends instead."""
        self.thread.start()
        while self.thread.is_alive():
            with suppress(OSError), _DIRECT.open(self.address, timeout=5) as answer:
                answer.read()
                return
            time.sleep(0.05)
        raise RuntimeError("The web server did not start.")

    def stop(self) -> None:
        """End it; answers under way are given a moment."""
        self.server.should_exit = True
        self.thread.join(timeout=5)


def watch(web: Web, server: postgres.Server) -> None:
    """Stay until the web server ends; start PostgreSQL again whenever it dies, and say so."""
    down_since: float | None = None
    while web.thread.is_alive():
        web.thread.join(timeout=_LOOK_S)
        if postgres.alive(server):
            continue
        if down_since is None:
            down_since = time.monotonic()
            print("PostgreSQL has died; starting it again. What was acknowledged is kept.", flush=True)
        if postgres.restart(server):
            print(f"PostgreSQL runs again after {time.monotonic() - down_since:.1f} s", flush=True)
            down_since = None
