"""Every operation of the interface sent what its schema allows and what it does not: no answer may be an error of ours.

``python -m bench.fuzz [SECONDS]`` (default 1200) serves the demo and Tarn on loopback and runs Schemathesis over the OpenAPI
description: worked examples, boundary values of every schema, generated data, and chains of calls.
"""

from __future__ import annotations

import re
import socket
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import uvicorn
from sqlalchemy.orm import sessionmaker

from jinba.api.app import create_app
from jinba.cli import postgres
from jinba.persistence.database import make_engine, unit_of_work, upgrade
from tests.states import fly_template

PHASES = "examples,coverage,fuzzing,stateful"


@dataclass(frozen=True)
class Found:
    """How many cases were sent and how many were answered by an error of ours; what the run said."""

    cases: int
    failures: int
    said: str


def run(address: str, *, seconds: int | None = None, phases: str = PHASES, examples: int = 60) -> Found:
    """Return what a run found. The project file is left out: a zip is not made from a schema (tests/api/test_damaged.py)."""
    command = [
        str(Path(sys.executable).with_name("schemathesis")),
        "run",
        f"{address}/api/openapi.json",
        "--checks=not_a_server_error",
        f"--phases={phases}",
        f"--max-examples={examples}",
        "--exclude-operation-id=importModel",
        "--continue-on-failure",
        "--suppress-health-check=all",
        "--generation-database=none",
        "--warnings=off",
        "--no-color",
    ]
    if seconds is not None:
        command.append(f"--max-time={seconds}")
    with tempfile.TemporaryDirectory() as folder:
        ran = subprocess.run(command, capture_output=True, text=True, check=False, cwd=folder)
    said = ran.stdout + ran.stderr
    counted = re.search(r"(\d+) generated(?:, (\d+) found (\d+) unique failures)?", said)
    failures = len(re.findall(r"Server error", said))
    return Found(int(counted[1]) if counted else 0, failures, said)


@contextmanager
def serving(url: str) -> Iterator[str]:
    """Serve a database on loopback; yield the address."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = int(probe.getsockname()[1])
    app = create_app(url)
    server = uvicorn.Server(uvicorn.Config(app, host="127.0.0.1", port=port, log_level="error"))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.05)
    # Described once before anybody waits for it: that takes seconds on a busy machine.
    app.openapi()
    yield f"http://127.0.0.1:{port}"
    server.should_exit = server.force_exit = True
    thread.join(timeout=10)


def main() -> None:
    """Fuzz for so many seconds and print what was found."""
    seconds = int(sys.argv[1]) if len(sys.argv) > 1 else 1200
    with tempfile.TemporaryDirectory(prefix="jinba-fuzz-") as folder:
        Path(folder).chmod(0o755)
        server = postgres.start(Path(folder) / "pg", fast=True)
        try:
            postgres.ensure_database(server, "fuzz")
            upgrade(server.url("fuzz"))
            with unit_of_work(sessionmaker(make_engine(server.url("fuzz")))) as session:
                fly_template(session)
            with serving(server.url("fuzz")) as address:
                found = run(address, seconds=seconds)
        finally:
            postgres.stop(server)
    print(found.said[-2500:])
    print(f"{found.cases} cases, {found.failures} errors of ours")


if __name__ == "__main__":
    main()
