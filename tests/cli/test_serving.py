"""Start and stop with real processes: signals, a second program, a database that dies, states that cannot be used."""

from __future__ import annotations

import http.client
import json
import os
import re
import signal
import socket
import ssl
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path

import psycopg
import pytest

from bench.kills import COMPILED_ONCE
from jinba.cli import main as cli
from jinba.cli import postgres
from jinba.cli.state import held, words_of

DIRECT = urllib.request.build_opener(urllib.request.ProxyHandler({}))


@pytest.fixture
def state(tmp_path_factory) -> Path:
    path = tmp_path_factory.mktemp("state")
    for p in (path, *path.parents):
        if p == path or p.name.startswith(("pytest-", "popen-")):
            p.chmod(0o755)
    return path


class Running:
    """The program in a process of its own, as the root script starts it."""

    def __init__(self, state: Path, *more: str) -> None:
        self.port = free_port()
        self.state = state
        command = [sys.executable, "-m", "jinba.cli.main", "serve", "--state", str(state), "--port", str(self.port)]
        command += more
        self.process = subprocess.Popen(
            command, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, env=COMPILED_ONCE
        )
        self.said = ""

    def hear(self, words: str) -> None:
        assert self.process.stdout is not None
        for line in self.process.stdout:
            self.said += line
            if words in line:
                return
        raise AssertionError(f"it never said {words!r}:\n{self.said}")

    def status(self) -> int:
        try:
            with DIRECT.open(f"http://127.0.0.1:{self.port}/api/v1/models", timeout=10) as answer:
                return int(answer.status)
        except urllib.error.HTTPError as error:
            return int(error.code)

    def end(self, number: int) -> int:
        self.process.send_signal(number)
        out, _ = self.process.communicate(timeout=60)
        self.said += out
        return self.process.returncode

    def database(self) -> int:
        return int((self.state / "postgres" / "data" / "postmaster.pid").read_text().splitlines()[0])


@pytest.fixture
def started(state) -> Iterator[Callable[..., Running]]:
    """Start the program on one state, as often as wanted; whatever still runs at the end is ended."""
    found: list[Running] = []

    def start(*more: str) -> Running:
        found.append(Running(state, *more))
        return found[-1]

    yield start
    for r in found:
        if r.process.poll() is None:
            r.process.kill()
            r.process.communicate()
    postgres.stop_in(state / "postgres")


def gone(pid: int) -> bool:
    return not Path(f"/proc/{pid}").exists() or "(zombie)" in Path(f"/proc/{pid}/status").read_text()


def test_ended_and_killed_in_its_first_start_it_leaves_nothing_half_made(started, state):
    ended = started()
    ended.hear("starting PostgreSQL")
    time.sleep(0.4)
    ended.end(signal.SIGTERM)
    assert not list((state / "postgres").glob("data/postmaster.pid"))
    killed = started()
    killed.hear("starting PostgreSQL")
    time.sleep(0.2)
    killed.process.kill()
    killed.process.communicate()
    port = free_port()
    again = started("--field", "--field-port", str(port))
    again.hear("ready after")
    assert again.status() == 200, "it says ready when a page is served"
    again.hear("Only paired devices get in")
    lets_in_by_the_code_it_printed(again, state, port)
    assert again.end(signal.SIGTERM) == 0
    assert "Traceback" not in again.said


def lets_in_by_the_code_it_printed(running: Running, state: Path, port: int) -> None:
    """As a phone that has found the name and trusts the authority: over TLS, verified."""
    name = (state / "field" / "name").read_text().strip()
    assert f"https://{name}:{port}" in running.said
    tls = ssl.create_default_context(cafile=str(state / "field" / "authority.crt"))
    code = re.search(r"or type (\S+) at", running.said)

    def asked(method: str, path: str, body: object = None, cookie: str = "") -> tuple[int, str, str]:
        with socket.create_connection(("127.0.0.1", port), timeout=20) as plain:
            there = http.client.HTTPConnection(name, port)
            there.sock = tls.wrap_socket(plain, server_hostname=name)
            headers = {"Content-Type": "application/json", "Cookie": cookie}
            there.request(method, path, None if body is None else json.dumps(body), headers)
            answer = there.getresponse()
            return answer.status, answer.headers.get("Set-Cookie", "").split(";")[0], answer.read().decode()

    assert asked("GET", "/api/v1/models")[0] == 401
    assert asked("GET", "/")[0] == 200
    assert code
    status, cookie, _ = asked("POST", "/api/v1/field/paired-devices", {"code": code[1], "name": "phone"})
    assert status == 200
    assert asked("GET", "/api/v1/models", cookie=cookie)[0] == 200
    assert cli.main(["serve", "--state", str(state), "--port", str(free_port()), "--field", "--field-port", str(port)])


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def test_a_running_program_keeps_its_state_to_itself_heals_its_database_and_ends_with_it(started, state, capsys):
    running = started()
    running.hear("ready after")
    refused_to_share(running, state, capsys)
    healed_after_a_crash(running)
    for number in (signal.SIGTERM, signal.SIGHUP, signal.SIGINT):
        database = running.database()
        assert running.end(number) == 0
        assert "stopping PostgreSQL" in running.said
        assert "Traceback" not in running.said
        assert gone(database), f"{number.name} stops the database too"
        if number is not signal.SIGINT:
            running = started()
            running.hear("ready after")
    with held(state):
        pass


def refused_to_share(running: Running, state: Path, capsys) -> None:
    for command in (["serve", "--port", "0"], ["reset-demo"], ["recompute"]):
        assert cli.main([*command, "--state", str(state)]) == 1
        assert f"is in use by process {running.process.pid}" in capsys.readouterr().err
    assert running.status() == 200


def healed_after_a_crash(running: Running) -> None:
    os.kill(running.database(), signal.SIGKILL)
    seen, end = set(), time.monotonic() + 60
    while time.monotonic() < end and not {200, 503} <= seen:
        seen.add(running.status())
        time.sleep(0.05)
    running.hear("PostgreSQL runs again")
    assert "PostgreSQL has died; starting it again" in running.said
    assert seen <= {200, 503}, "busy, never an error of ours"
    assert running.status() == 200


def test_a_pid_file_that_names_somebody_elses_process_touches_nobody(state):
    server = postgres.start(state, fast=True)
    file = server.data / "postmaster.pid"
    lines = file.read_text().splitlines()
    postgres.stop(server)
    bystander = subprocess.Popen(["sleep", "60"])
    try:
        file.write_text("\n".join([str(bystander.pid), *lines[1:]]) + "\n")
        postgres.stop_in(state)
        assert bystander.poll() is None
        again = postgres.start(state, fast=True)
        assert bystander.poll() is None, "never signalled"
        assert postgres.alive(again)
        postgres.stop(again)
    finally:
        bystander.kill()
        bystander.wait()


def test_a_lost_password_is_said_with_the_way_out(state, capsys):
    postgres.stop(postgres.start(state / "postgres", fast=True))
    (state / "postgres" / "password").unlink()
    assert cli.main(["reset-demo", "--state", str(state)]) == 1
    said = capsys.readouterr().err
    assert "password is missing" in said
    assert "Traceback" not in said


def as_nobody(call) -> str:
    """Run something in a child that may write nothing of ours; return what it said."""
    ours, theirs = os.pipe()
    child = os.fork()
    if child == 0:
        sys.stderr = os.fdopen(theirs, "w")
        if os.geteuid() == 0:
            os.setgid(65534)
            os.setuid(65534)
        try:
            call()
        finally:
            sys.stderr.flush()
            os._exit(0)
    os.close(theirs)
    with os.fdopen(ours) as said:
        words = said.read()
    os.waitpid(child, 0)
    return words


def test_anothers_state_and_a_full_disk_are_one_sentence(state):
    state.chmod(0o555)
    said = as_nobody(lambda: cli.main(["reset-demo", "--state", str(state)]))
    state.chmod(0o755)
    assert "belongs to another user or is write-protected" in said
    (state / "in-use").symlink_to("/dev/full")
    with pytest.raises(OSError, match="No space left") as full, held(state):
        pass
    assert "The disk is full" in (words_of(full.value, state) or "")


def test_older_code_on_a_newer_state_says_so(state, capsys):
    server = postgres.start(state / "postgres", fast=True)
    postgres.ensure_database(server, "jinba_serve")
    cli.upgrade(server.url("jinba_serve"))
    with psycopg.connect(server.url("jinba_serve").replace("+psycopg", ""), autocommit=True) as c:
        c.execute("UPDATE alembic_version SET version_num = '9999'")
    assert cli.main(["recompute", "--state", str(state)]) == 1
    assert "written by a newer version" in capsys.readouterr().err
