"""The program asks itself what a first visitor will, so that nobody waits for queries to be compiled and parts to be loaded."""

from __future__ import annotations

import contextlib
import json
import time
import urllib.request

from jinba.core.bench.answer import bench_answer
from jinba.core.silhouettes import silhouette_configuration

_OF_A_MODEL = ("", "/plan", "/bench", "/emergencies", "/next-sortie", "/notes", "/board")
_PATIENCE_S = 30.0
_AFTER_S, _BREATH_S = 5.0, 0.15
"""Left to a phone that has waited for the program to come back, before the first question, and between two of them [s]."""


def warm_up(address: str) -> None:
    """Ask for what Today, Plan and the console ask for; what fails says so to whoever asks next, not here."""
    time.sleep(_AFTER_S)
    with contextlib.suppress(OSError, ValueError, KeyError):
        models = json.loads(_asked(f"{address}/api/v1/models"))
        for path in _OF_A_MODEL if models else ():
            time.sleep(_BREATH_S)
            with contextlib.suppress(OSError):
                _asked(f"{address}/api/v1/models/{models[0]['id']}{path}")
    bench_answer(silhouette_configuration("high_wing", span_m=1.0))


def _asked(url: str) -> bytes:
    # The address is this program's own, on loopback.
    with urllib.request.urlopen(url, timeout=_PATIENCE_S) as answer:
        return bytes(answer.read())
