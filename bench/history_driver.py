"""Driver of ``bench.history``: runs unchanged in this tree and in older ones, through the HTTP interface they share.

Prints one JSON object: what-if CPU and the lateness of its last answer after a two-second drag, board, model page [ms];
with more than eight sorties asked for also 400 sorties and sixty pages at once.
"""

from __future__ import annotations

import json
import socket
import statistics
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.request
import uuid
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import uvicorn
from clone_history import clone_to  # type: ignore[import-not-found]  # run as a script, also beside an older tree
from sqlalchemy import event
from sqlalchemy.pool import Pool

from jinba.api.app import create_app
from jinba.cli import postgres
from jinba.persistence.database import upgrade
from jinba.services import sister

V1 = "/api/v1"


class Client:
    """A program at the other end of a connection, over HTTP as a browser would."""

    def __init__(self, port: int) -> None:
        self.base = f"http://127.0.0.1:{port}{V1}"

    def call(self, method: str, path: str, body: Any = None) -> Any:
        """Return the answer's JSON. Raises: HTTPError."""
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(
            self.base + path, data=data, method=method, headers={"Content-Type": "application/json"}
        )
        with urllib.request.urlopen(request, timeout=300) as answer:
            return json.loads(answer.read())

    def status(self, path: str) -> int:
        """Return the status of a page."""
        try:
            with urllib.request.urlopen(self.base + path, timeout=300) as answer:
                answer.read()
                return int(answer.status)
        except urllib.error.HTTPError as error:
            return int(error.code)


def close_gates(c: Client, model: str) -> dict[str, Any]:
    """Pass every open gate; return what plans the next sortie as it is proposed, against every stop that the version knows."""
    plan = c.call("GET", f"/models/{model}/plan")
    cards = {k["id"]: k for k in plan["cards"]}
    for gate in plan["programme"]["gates"]:
        readings = [{"key": k["key"], "choice": "yes"} for k in cards[gate]["captures"] if k["kind"] == "yes_no"]
        record = {"card_id": gate, "outcome": "passed", "readings": readings}
        c.call("POST", f"/models/{model}/ground-cards", {"id": str(uuid.uuid4()), "record": record})
    plan = c.call("GET", f"/models/{model}/plan")
    reasons = {s["code"]: "nobody flies it" for s in plan.get("stops", ())}
    return {"card_ids": plan["programme"]["flight"], **({"reasons": reasons} if reasons else {})}


def fly(c: Client, model: str, times: int) -> None:
    """Fly so many sorties with the simulated model, the reworks accepted."""
    for _ in range(times):
        sortie = str(uuid.uuid4())
        c.call("POST", f"/models/{model}/sorties", {"id": sortie, **close_gates(c, model)})
        c.call("POST", f"/sorties/{sortie}/stand-in")
        c.call("POST", f"/models/{model}/rework", {"id": str(uuid.uuid4())})


class Held:
    """How long connections were taken from the pool, of every engine of this process. [ms]"""

    def __init__(self) -> None:
        self.since: dict[int, float] = {}
        self.spans: list[float] = []
        event.listen(Pool, "checkout", lambda _, record, __: self.since.update({id(record): time.perf_counter()}))
        event.listen(Pool, "checkin", lambda _, record: self.ended(id(record)))

    def ended(self, record: int) -> None:
        """Count a connection given back."""
        begun = self.since.pop(record, None)
        if begun is not None:
            self.spans.append(1000 * (time.perf_counter() - begun))

    def longest(self, work: Any) -> tuple[float, float]:
        """Return (longest a connection was held, the whole call) of a call. [ms]"""
        self.spans.clear()
        begun = time.perf_counter()
        work()
        return max(self.spans), 1000 * (time.perf_counter() - begun)


def landing(c: Client, model: str, held: Held, n: int) -> dict[str, float]:
    """Return how long a connection is held while a further sortie is flown and its rework decided."""
    sortie, figures = str(uuid.uuid4()), {}
    planned = close_gates(c, model)
    for name, path, body in (
        ("plan", f"/models/{model}/sorties", {"id": sortie, **planned}),
        ("landing", f"/sorties/{sortie}/stand-in", None),
        ("rework", f"/models/{model}/rework", {"id": str(uuid.uuid4())}),
    ):
        longest, whole = held.longest(lambda p=path, b=body: c.call("POST", p, b))
        figures[f"{name} after {n} sorties: connection held [ms]"] = longest
        figures[f"{name} after {n} sorties: answered [ms]"] = whole
    return figures


def best_ms(work: Any, times: int = 5) -> float:
    """Return the median time of a call. [ms]"""
    taken = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        taken.append(time.perf_counter() - start)
    return 1000 * statistics.median(taken)


def drag_lateness_ms(c: Client, model: str, setup: dict[str, Any]) -> float:
    """Return how long after the last move of a two-second drag its answer came, at sixty moves, each tree's own page's way.

    Now: one request under way, the newest next. Before: one request a move, as the page of that version sent them.
    """
    one_at_a_time = "--queue-all" not in sys.argv
    moved = [{**setup, "pack_minutes": setup["pack_minutes"] + i / 1000} for i in range(60)]
    latest, done = [0], threading.Event()
    if one_at_a_time:

        def loop() -> None:
            seen = -1
            while seen < 59:
                if latest[0] == seen:
                    time.sleep(0.001)
                    continue
                seen = latest[0]
                c.call("POST", f"/models/{model}/what-if", moved[seen])
            done.set()

        threading.Thread(target=loop, daemon=True).start()
        for i in range(60):
            time.sleep(2 / 60)
            latest[0] = i
        end = time.perf_counter()
        done.wait()
        return 1000 * (time.perf_counter() - end)
    with ThreadPoolExecutor(6) as pool:
        for i in range(60):
            time.sleep(2 / 60)
            last = pool.submit(c.call, "POST", f"/models/{model}/what-if", moved[i])
        end = time.perf_counter()
        last.result()
        return 1000 * (time.perf_counter() - end)


def cpu_ms(c: Client, model: str, setup: dict[str, Any], times: int = 20) -> float:
    """Return the processor time of this process for one what-if, the client's share included. [ms]"""
    start = time.process_time()
    for i in range(times):
        c.call("POST", f"/models/{model}/what-if", {**setup, "pack_minutes": setup["pack_minutes"] + i / 1000})
    return 1000 * (time.process_time() - start) / times


def correction(c: Client, model: str, held: Held, n: int) -> dict[str, float]:
    """Return how long a connection is held while an entry of the first sortie is corrected and all after it computed anew."""
    first = next(s for s in c.call("GET", f"/models/{model}")["sorties"] if s["number"] == 1)
    line = next(e for e in c.call("GET", f"/sorties/{first['id']}")["log"] if e["record"]["card_id"] == "F1")
    record = {**line["record"], "note": "seen from the other side"}
    body = {"id": str(uuid.uuid4()), "record": record, "replaces": line["id"]}
    longest, whole = held.longest(lambda: c.call("POST", f"/sorties/{first['id']}/records", body))
    return {
        f"first of {n} sorties corrected: connection held [ms]": longest,
        f"first of {n} sorties corrected: answered [ms]": whole,
    }


def measure(c: Client, sorties: list[int]) -> dict[str, float]:
    """Return every figure of this tree."""
    figures: dict[str, float] = {}
    held = Held()
    for n in sorties:
        model = str(uuid.uuid4())
        body = {"id": model, "name": f"m{n}", "silhouette": "low_wing", "span_m": 1.5}
        # Earlier versions know no rehearsals and refuse what they do not know.
        c.call("POST", "/models", body | ({"rehearsal": True} if hasattr(sister, "rehearse") else {}))
        fly(c, model, n)
        setup = c.call("GET", f"/models/{model}")["setup"]
        cpu_ms(c, model, setup, 3)
        figures[f"what-if CPU, {n} sorties [ms]"] = cpu_ms(c, model, setup)
        figures[f"last answer after a 2 s drag, {n} sorties [ms]"] = drag_lateness_ms(c, model, setup)
        figures[f"board, {n} sorties [ms]"] = best_ms(lambda m=model: c.call("GET", f"/models/{m}/board"), 3)
        figures[f"model page, {n} sorties [ms]"] = best_ms(lambda m=model: c.call("GET", f"/models/{m}"))
        figures |= landing(c, model, held, n)
        if n and "--queue-all" not in sys.argv:
            figures |= correction(c, model, held, n)
        if n == 8:
            with ThreadPoolExecutor(60) as pool:
                start = time.perf_counter()
                found = list(pool.map(lambda _, m=model: c.status(f"/models/{m}"), range(60)))
            figures["sixty pages at once, failures"] = sum(s != 200 for s in found)
            figures["sixty pages at once, all answered [ms]"] = 1000 * (time.perf_counter() - start)
    return figures


def main() -> None:
    """Serve on loopback, measure, print the figures as JSON."""
    sorties = [int(a) for a in sys.argv[1:] if a.isdecimal()]
    with tempfile.TemporaryDirectory(prefix="jinba-bench-") as folder:
        Path(folder).chmod(0o755)
        server = postgres.start(Path(folder) / "pg", fast=True)
        try:
            postgres.ensure_database(server, "bench")
            upgrade(server.url("bench"))
            with socket.socket() as probe:
                probe.bind(("127.0.0.1", 0))
                port = probe.getsockname()[1]
            app = create_app(server.url("bench"))
            web = uvicorn.Server(uvicorn.Config(app, host="127.0.0.1", port=port, log_level="critical"))
            threading.Thread(target=web.run, daemon=True).start()
            while not web.started:
                time.sleep(0.05)
            figures = measure(Client(port), sorties)
            if max(sorties) > 8:
                figures |= many(Client(port), server.url("bench"))
            print(json.dumps(figures))
            web.should_exit = True
        finally:
            postgres.stop(server)


def many(c: Client, url: str) -> dict[str, float]:
    """Return the figures of a model with 400 sorties: its flown ones cloned row by row in the database."""
    model = clone_to(url, 400)
    return {
        "model page, 400 sorties [ms]": best_ms(lambda: c.call("GET", f"/models/{model}")),
        "board, 400 sorties [ms]": best_ms(lambda: c.call("GET", f"/models/{model}/board"), 3),
        "what-if CPU, 400 sorties [ms]": cpu_ms(c, model, c.call("GET", f"/models/{model}")["setup"]),
    }


if __name__ == "__main__":
    main()
