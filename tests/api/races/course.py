"""How writers are set off at the same moment, and what they may be answered."""

from __future__ import annotations

import threading
from collections import Counter
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

from fastapi.testclient import TestClient

from tests.api.steps import V1, new_id
from tests.states import TARN

MODEL = f"{V1}/models/{TARN}"
Call = Callable[[], Any]
Run = Callable[[TestClient, int, bool], None]


def together(calls: list[Call]) -> list[Any]:
    """Make all calls at the same moment; return their answers in order."""
    start = threading.Barrier(len(calls))

    def one(call: Call) -> Any:
        start.wait()
        return call()

    with ThreadPoolExecutor(len(calls)) as pool:
        return list(pool.map(one, calls))


def counts(answers: list[Any]) -> Counter[int]:
    found = Counter(a.status_code for a in answers)
    assert not [s for s in found if s >= 500], [a.text for a in answers if a.status_code >= 500]
    return found


@dataclass(frozen=True)
class Race:
    """``run`` (client, how many, same content?) makes the state, races, and checks what must be true afterwards."""

    route: str
    run: Run


class Course:
    """The races of one module, in its order."""

    def __init__(self) -> None:
        self.races: list[Race] = []

    def __call__(self, route: str) -> Callable[[Run], Run]:
        """Return what enters a function for the race of a route."""

        def add(run: Run) -> Run:
            self.races.append(Race(route, run))
            return run

        return add


def post_all(client: TestClient, url: str, bodies: list[Any], **more: Any) -> Counter[int]:
    return counts(together([lambda b=b: client.post(url, json=b, **more) for b in bodies]))


def named(n: int, same: bool, body: dict[str, Any], key: str, values: Callable[[int], Any]) -> list[dict[str, Any]]:
    """Return n requests under one id: all alike, or each asking for something else."""
    identity = new_id()
    return [{"id": identity, **body, key: values(0 if same else i)} for i in range(n)]


def expect_one_or_all(found: Counter[int], n: int, same: bool, good: int) -> None:
    assert found == ({good: n} if same else {good: 1, 409: n - 1})
