"""Kills the program and its PostgreSQL at random moments while records, proofs and setups are written, and counts.

``python -m bench.kills [N]``: N kills (100 by default); after each everything is started again and every acknowledged write
must be there exactly once. Process kills only: a power cut is not tried.
"""

from __future__ import annotations

import contextlib
import http.client
import json
import os
import random
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.request
import uuid
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field
from itertools import groupby
from pathlib import Path
from typing import Any

from jinba.formats.archive import ProjectFile, read_archive

PATIENCE_S = 90.0
ANSWER_S = 120.0
"""How long an answer may take: its slowest flies a whole sortie on a machine that does other work."""
COMPILED_ONCE = {k: v for k, v in os.environ.items() if k != "PYTHONDONTWRITEBYTECODE"}
"""What is started starts like a user's program: with its modules compiled once."""


@dataclass
class Tally:
    """What was acknowledged, and what was wrong afterwards; ``kills`` by what was killed."""

    kills: Counter[str] = field(default_factory=Counter)
    acknowledged: Counter[str] = field(default_factory=Counter)
    wrong: list[str] = field(default_factory=list)


class Program:
    """The program with its own PostgreSQL, as ``./jinba serve`` runs it, in a state folder of its own."""

    def __init__(self, state: Path) -> None:
        self.state = state
        self.process: subprocess.Popen[bytes] | None = None
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = int(probe.getsockname()[1])
        self.start()

    def start(self) -> None:
        """Start it and wait until it answers. Raises: RuntimeError when it does not within the patience."""
        command = [
            sys.executable,
            "-m",
            "jinba.cli.main",
            "serve",
            "--state",
            str(self.state),
            "--port",
            str(self.port),
        ]
        end = time.monotonic() + PATIENCE_S
        while time.monotonic() < end:
            if self.process is None or self.process.poll() is not None:
                log = (self.state / "program.log").open("ab")
                self.process = subprocess.Popen(command, stdout=log, stderr=log, env=COMPILED_ONCE)
            while self.process.poll() is None and time.monotonic() < end:
                with contextlib.suppress(OSError):
                    self.call("GET", "/models")
                    return
                time.sleep(0.1)
        raise RuntimeError((self.state / "program.log").read_text(errors="replace")[-1500:])

    def call(self, method: str, path: str, body: Any = None) -> Any:
        """Return the answer's JSON, or its bytes. Raises: OSError without a good answer."""
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(
            f"http://127.0.0.1:{self.port}/api/v1{path}",
            data=data,
            method=method,
            headers={"Content-Type": "application/json"},
        )
        try:
            with urllib.request.urlopen(request, timeout=ANSWER_S) as answer:
                content = answer.read()
                return json.loads(content) if "json" in answer.headers["Content-Type"] else content
        except http.client.HTTPException as error:
            # Killed in the middle of an answer: it was begun, and is no acknowledgement.
            raise OSError(str(error)) from error

    def postgres_pids(self) -> list[int]:
        """Return the server's processes, the postmaster first."""
        files = list(self.state.rglob("postmaster.pid"))
        if not files:
            return []
        postmaster = int(files[0].read_text().splitlines()[0])
        children = Path(f"/proc/{postmaster}/task/{postmaster}/children")
        return [postmaster, *(int(p) for p in children.read_text().split())] if children.exists() else []

    def kill(self, what: str) -> None:
        """Kill the program, its PostgreSQL, or both, without a word of warning."""
        victims = self.postgres_pids() if what != "program" else []
        assert self.process is not None
        if what != "postgres":
            self.process.kill()
        for pid in victims:
            with contextlib.suppress(ProcessLookupError):
                os.kill(pid, signal.SIGKILL)
        if what != "postgres":
            self.process.wait()

    def stop(self) -> None:
        """Stop everything in good order."""
        assert self.process is not None
        self.process.send_signal(signal.SIGINT)
        with contextlib.suppress(subprocess.TimeoutExpired):
            self.process.wait(timeout=30)
        self.process.kill()


class Writers:
    """Three clients that write without pause; what was not acknowledged is sent again under its identity."""

    def __init__(self, program: Program, tally: Tally) -> None:
        self.program, self.tally = program, tally
        self.records: dict[str, str] = {}
        self.proofs: set[tuple[int, float]] = set()
        self.minutes: list[float] = []
        self.sorties = 0
        self._prepare()

    def _prepare(self) -> None:
        # What is wrong with a rehearsal hangs on its identity: the same in every run.
        call, self.model = self.program.call, str(uuid.UUID(int=7))
        call(
            "POST",
            "/models",
            {"id": self.model, "name": "Killed", "silhouette": "low_wing", "span_m": 1.4, "rehearsal": True},
        )
        made = call("GET", f"/models/{self.model}")
        # Built crooked: it lands with more trim than the radio may keep, so that there is an order to prove.
        made["setup"]["elevator"]["mechanical_rad"] += 0.02
        made["setup"]["aileron"]["mechanical_rad"] += 0.10
        # Read twice, so that no balance is ordered: to prove one changes the setup, and the writer of setups would never have its turn.
        answer = call("GET", f"/models/{self.model}/bench")["answer"]
        x = answer["x_cg_m"] - 0.01
        made["setup"]["jig"] = {"x_m": x, "sigma_m": 0.002, "items_x_m": answer["items_x_cg_m"], "again_m": x}
        call("PUT", f"/models/{self.model}/setup", {"base_revision": made["revision"], "setup": made["setup"]})
        self._plan()
        call("POST", f"/sorties/{self.sortie}/stand-in")
        order = call("POST", f"/models/{self.model}/rework", {"id": str(uuid.uuid4())})["work_order"]
        self.order = order["id"]
        self.measured = [
            (i, a["expected"]["value"])
            for i, a in enumerate(order["actions"])
            if a["expected"] is not None and a["expected"]["tolerance"] > 0.0
        ]
        self._plan()

    def _plan(self) -> None:
        call = self.program.call
        plan = call("GET", f"/models/{self.model}/plan")
        cards = {c["id"]: c for c in plan["cards"]}
        for gate in plan["programme"]["gates"]:
            readings = [{"key": c["key"], "choice": "yes"} for c in cards[gate]["captures"] if c["kind"] == "yes_no"]
            record = {"card_id": gate, "outcome": "passed", "readings": readings}
            call("POST", f"/models/{self.model}/ground-cards", {"id": str(uuid.uuid4()), "record": record})
        plan = call("GET", f"/models/{self.model}/plan")
        self.sorties += 1
        self.sortie = str(uuid.UUID(int=self.sorties))
        reasons = {s["code"]: "nobody flies it" for s in plan["stops"]}
        body = {"id": self.sortie, "card_ids": plan["programme"]["flight"], "reasons": reasons}
        call("POST", f"/models/{self.model}/sorties", body)

    def write_until(self, stop: threading.Event) -> None:
        """Write from three threads until told to stop."""
        threads = [
            threading.Thread(target=self._loop, args=(work, stop)) for work in (self._record, self._proof, self._setup)
        ]
        for t in threads:
            t.start()
        self.threads = threads

    def join(self) -> None:
        """Wait for the writers to end."""
        for t in self.threads:
            t.join()

    def _loop(self, work: Callable[[], None], stop: threading.Event) -> None:
        while not stop.is_set():
            try:
                work()
            except OSError:
                time.sleep(0.01)

    def _record(self) -> None:
        identity = str(uuid.uuid4())
        note = f"note {identity[:8]}"
        record = {
            "card_id": "F1",
            "outcome": "done",
            "readings": [{"key": "lift_off", "choice": "holds"}],
            "note": note,
        }
        body = {"id": identity, "record": record}
        self._until_acknowledged("POST", f"/sorties/{self.sortie}/records", body)
        self.records[identity] = note
        self.tally.acknowledged["records"] += 1

    def _until_acknowledged(self, method: str, path: str, body: Any) -> None:
        for _ in range(2):
            try:
                self.program.call(method, path, body)
                return
            except OSError as error:
                last = error
        raise last

    def _proof(self) -> None:
        place, value = random.choice(self.measured)
        # No two readings are alike, and each lies within the tolerance of what was ordered.
        proof = (place, value + random.uniform(-4e-4, 4e-4))
        self.program.call("POST", f"/work-orders/{self.order}/proofs", {"index": proof[0], "number": proof[1]})
        self.proofs.add(proof)
        self.tally.acknowledged["proofs"] += 1

    def _setup(self) -> None:
        model = self.program.call("GET", f"/models/{self.model}")
        minutes = round(random.uniform(5.0, 50.0), 6)
        body = {"base_revision": model["revision"], "setup": {**model["setup"], "pack_minutes": minutes}}
        self.program.call("PUT", f"/models/{self.model}/setup", body)
        self.minutes.append(minutes)
        self.tally.acknowledged["setups"] += 1

    def check(self) -> None:
        """Note everything acknowledged that is not there exactly once."""
        project = read_archive(self.program.call("GET", f"/models/{self.model}/archive"))
        self._expect("record", Counter(r.record.note for r in project.records), self.records.values())
        proofs = Counter((p.action, p.number) for o in project.work_orders for p in o.proofs)
        self._expect("proof", proofs, self.proofs)
        self._expect("setup", _minutes(project), self.minutes)

    def _expect(self, what: str, there: Counter[Any], acknowledged: Any) -> None:
        for thing in acknowledged:
            if there[thing] != 1:
                self.tally.wrong.append(f"{what} {thing}: there {there[thing]} times")


def _minutes(project: ProjectFile) -> Counter[float]:
    """Return how often the pack's minutes were set to each value; a proof that is put into the setup leaves them as they are."""
    kept = [project.setups[r.setup].body.pack_minutes for c in project.configurations for r in c.revisions]
    return Counter(minutes for minutes, _ in groupby(kept))


def _until_each_wrote(tally: Tally, before: dict[str, int]) -> None:
    """Wait until each writer had something acknowledged since the start, at most twenty seconds: a slow machine kills as much."""
    until = time.monotonic() + 20.0
    while time.monotonic() < until:
        if all(tally.acknowledged[k] > before.get(k, 0) for k in ("records", "proofs", "setups")):
            return
        time.sleep(0.02)


def run(kills: int, *, seed: int) -> Tally:
    """Return the tally of so many kills at random moments."""
    rng, tally = random.Random(seed), Tally()
    with tempfile.TemporaryDirectory(prefix="jinba-kills-") as folder:
        Path(folder).chmod(0o755)
        program = Program(Path(folder))
        try:
            writers = Writers(program, tally)
            for i in range(kills):
                stop = threading.Event()
                before = dict(tally.acknowledged)
                writers.write_until(stop)
                _until_each_wrote(tally, before)
                time.sleep(rng.uniform(0.0, 0.8))
                what = ("program", "postgres", "both")[i % 3]
                program.kill(what)
                stop.set()
                writers.join()
                tally.kills[what] += 1
                program.start()
                writers.check()
        finally:
            program.stop()
    return tally


def main() -> None:
    """Kill, and print what was acknowledged and what was wrong."""
    kills = int(sys.argv[1]) if len(sys.argv) > 1 else 100
    begun = time.monotonic()
    tally = run(kills, seed=20261127)
    print(f"{kills} kills in {time.monotonic() - begun:.0f} s: {dict(tally.kills)}")
    print(f"acknowledged: {dict(tally.acknowledged)}; lost or doubled: {len(tally.wrong)}")
    for line in tally.wrong[:20]:
        print(f"  {line}")


if __name__ == "__main__":
    main()
