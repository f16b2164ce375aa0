"""The program asks itself what a first visitor will, so that nobody waits for queries to be compiled and parts to be loaded."""

from __future__ import annotations

import contextlib
import http.client
import json
import time
import urllib.request

from jinba.core.bench.answer import bench_answer
from jinba.core.silhouettes import silhouette_configuration

_OF_A_MODEL = ("", "/plan", "/bench", "/emergencies", "/next-sortie", "/notes", "/board")
_PATIENCE_S = 30.0
_DIRECT = urllib.request.build_opener(urllib.request.ProxyHandler({}))
_AFTER_S, _BREATH_S = 5.0, 0.15
"""Left to a phone that has waited for the program to come back, before the first question, and between two of them [s]."""


def warm_up(address: str) -> None:
    """Ask for what Today, Plan and the console ask for; what fails says so to whoever asks next, not here."""
    bench_answer(silhouette_configuration("high_wing", span_m=1.0))
    time.sleep(_AFTER_S)
    with contextlib.suppress(OSError, ValueError, KeyError, http.client.HTTPException):
        models = json.loads(_asked(f"{address}/api/v1/models"))
        for path in _OF_A_MODEL if models else ():
            time.sleep(_BREATH_S)
            with contextlib.suppress(OSError, http.client.HTTPException):
                _asked(f"{address}/api/v1/models/{models[0]['id']}{path}")


def _asked(url: str) -> bytes:
    # The address is this program's own, on loopback: no proxy of the machine has a part in it.
    with _DIRECT.open(url, timeout=_PATIENCE_S) as answer:
        return bytes(answer.read())
