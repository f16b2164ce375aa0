"""Commands: serve, demo data, OpenAPI. The root script ``./jinba`` prepares the machine and calls these."""

from __future__ import annotations

import argparse
import json
import os
import socket
import sys
import threading
import time
import uuid
from contextlib import ExitStack
from pathlib import Path

# One computation per request is small: threads inside the linear algebra only fight for two cores.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

from sqlalchemy.orm import Session, sessionmaker

from jinba.api.app import create_app
from jinba.cli import postgres
from jinba.cli.backup import BackupError, read_backup, write_backup
from jinba.cli.field.serving import FIELD_PORT, FieldDoor
from jinba.cli.field.words import words_for
from jinba.cli.serving import Web, stopping_everything, watch
from jinba.cli.state import LOCK, StateError, held, words_of
from jinba.cli.warm import warm_up
from jinba.core.diagnose.update import METHOD_VERSION
from jinba.formats.nomenclature import nomenclature_page
from jinba.persistence.database import make_engine, reading, unit_of_work, upgrade
from jinba.persistence.repositories import Models
from jinba.services import estimates
from jinba.services.computing import written
from jinba.services.demo import load_demo
from jinba.settings import settings

DEFAULT_PORT = 8470


def main(argv: list[str] | None = None) -> int:
    """Run one command; returns the exit code."""
    parser = argparse.ArgumentParser(prog="jinba", description="Jinba, the test pilot's working companion")
    commands = parser.add_subparsers(dest="command", required=True)
    for name, words in (("demo", "serve with demo data"), ("serve", "serve with your own data, kept")):
        sub = commands.add_parser(name, help=words)
        sub.add_argument("--port", type=int, default=DEFAULT_PORT, help=f"loopback port, {DEFAULT_PORT} by default")
        sub.add_argument("--state", type=Path, default=Path(".jinba"), help="folder for the database")
        sub.add_argument("--field", action="store_true", help="let paired phones in over the local network, by TLS")
        sub.add_argument("--field-port", type=int, default=FIELD_PORT, help=f"port for them, {FIELD_PORT} by default")
    reset = commands.add_parser("reset-demo", help="forget the demo data; the next demo starts afresh")
    reset.add_argument("--state", type=Path, default=Path(".jinba"))
    again = commands.add_parser("recompute", help="compute every landed sortie by the present method; say what changed")
    again.add_argument(
        "data", nargs="?", choices=("serve", "demo"), default="serve", help="which data: your own, or the demo"
    )
    again.add_argument("--state", type=Path, default=Path(".jinba"))
    for name, words in (
        ("backup", "write everything into one file, also while the program runs"),
        ("restore", "read such a file into an empty state, and prove that everything is there"),
    ):
        copied = commands.add_parser(name, help=words)
        copied.add_argument("file", type=Path)
        copied.add_argument("data", nargs="?", choices=("serve", "demo"), default="serve")
        copied.add_argument("--state", type=Path, default=Path(".jinba"))
    commands.add_parser("compile", help="compile the simulated flight, once for each of its versions")
    for name, words in (
        ("openapi", "write the OpenAPI description"),
        ("nomenclature", "write the nomenclature page of the documentation"),
    ):
        commands.add_parser(name, help=words).add_argument("file", type=Path)
    args = parser.parse_args(argv)
    state = args.state.resolve() if "state" in args else Path.cwd()
    try:
        return _run(args, state)
    except (postgres.PostgresError, StateError, BackupError) as error:
        print(f"jinba: {error}", file=sys.stderr)
    except Exception as error:
        said = words_of(error, state)
        if said is None:
            raise
        print(f"jinba: {said}", file=sys.stderr)
    return 1


def _run(args: argparse.Namespace, state: Path) -> int:
    if args.command == "openapi":
        args.file.write_text(json.dumps(create_app("postgresql+psycopg://x@localhost/x").openapi(), indent=1) + "\n")
        return 0
    if args.command == "nomenclature":
        args.file.write_text(nomenclature_page())
        return 0
    if args.command == "compile":
        return _compile()
    if args.command in ("demo", "serve"):
        return _serve(args.command, args.port, state, args.field_port if args.field else None)
    if args.command == "backup":
        return _backup(args.file.resolve(), f"jinba_{args.data}", state)
    with held(state), stopping_everything(state / "postgres"):
        if args.command == "restore":
            return _restore(args.file.resolve(), f"jinba_{args.data}", state)
        if args.command == "reset-demo":
            return _reset_demo(state)
        return _recompute(args.data, state)
    return 1


def _serve(kind: str, port: int, state: Path, field_port: int | None) -> int:
    for number, option in ((port, "--port"), (field_port, "--field-port")):
        if number is not None and not _port_free(number):
            print(
                f"jinba: port {number} is busy. Stop what uses it, or say another one: ./jinba {kind} {option} {number + 1}",
                file=sys.stderr,
            )
            return 1
    begun = time.monotonic()
    with held(state), stopping_everything(state / "postgres"), ExitStack() as at_the_end:
        print("starting PostgreSQL on loopback", flush=True)
        server = postgres.start(state / "postgres")
        url = _prepare(server, kind)
        door = None if field_port is None else FieldDoor(state / "field", port=field_port)
        app = create_app(url, web_dist=settings().web_dist, site=None if door is None else door.site)
        web = Web(app, port=port)
        at_the_end.callback(web.stop)
        web.start()
        threading.Thread(target=warm_up, args=(web.address,), daemon=True).start()
        took = time.monotonic() - begun
        print(f"ready after {took:.1f} s:  {web.address}   (Ctrl-C stops everything)", flush=True)
        if door is not None:
            at_the_end.callback(door.stop)
            # One store of queries for both: what has been asked on the laptop is quick on the phone.
            sessions = app.state.sessions
            door.start(
                create_app(url, web_dist=settings().web_dist, site=door.site, for_paired=True, sessions=sessions)
            )
            print(words_for(door.site, url), flush=True)
        watch(web, server)
    return 0


def _prepare(server: postgres.Server, kind: str) -> str:
    database = f"jinba_{kind}"
    postgres.ensure_database(server, database)
    url = server.url(database)
    print("bringing the database up to date", flush=True)
    upgrade(url)
    engine = make_engine(url)
    sessions = sessionmaker(engine)
    if kind == "demo":
        with unit_of_work(sessions) as session:
            print("demo data loaded" if load_demo(session) else "demo data is there", flush=True)
    with reading(sessions) as session:
        behind = estimates.missing(session)
    for model_id in behind:
        _say_changes(sessions, model_id)
    engine.dispose()
    return url


def _say_changes(sessions: sessionmaker[Session], model_id: uuid.UUID) -> None:
    """Compute the sorties of a model by the method of today, one transaction a model, and say what moved."""
    changes = written(sessions, lambda s: estimates.recompute(s, model_id))
    for c in changes:
        before = "not computed before" if c.margin_before is None else f"was {c.margin_before:.1f} ({c.method_before})"
        print(f"{c.model}, sortie {c.sortie}: static margin {c.margin:.1f} % MAC by {c.method}, {before}", flush=True)


def _backup(file: Path, database: str, state: Path) -> int:
    if not (state / LOCK).exists():
        raise BackupError(f"There is nothing in {state} yet.")
    try:
        with held(state), stopping_everything(state / "postgres"):
            rows = write_backup(postgres.start(state / "postgres"), database, file)
    except StateError:
        # The program runs: what it has written up to this moment is written down beside it.
        rows = write_backup(postgres.start(state / "postgres"), database, file)
    print(f"{file}: {rows.get('model', 0)} models, {sum(rows.values())} rows of {len(rows)} tables")
    return 0


def _restore(file: Path, database: str, state: Path) -> int:
    server = postgres.start(state / "postgres")
    rows = read_backup(server, database, file)
    upgrade(server.url(database))
    print(f"restored and compared: {rows.get('model', 0)} models, {sum(rows.values())} rows of {len(rows)} tables")
    return 0


def _recompute(kind: str, state: Path) -> int:
    server = postgres.start(state / "postgres")
    url = server.url(f"jinba_{kind}")
    postgres.ensure_database(server, f"jinba_{kind}")
    upgrade(url)
    engine = make_engine(url)
    sessions = sessionmaker(engine)
    with reading(sessions) as session:
        everything = Models(session).ids()
    for model_id in everything:
        _say_changes(sessions, model_id)
    engine.dispose()
    print(f"{len(everything)} models computed by {METHOD_VERSION}; what was computed before is kept beside it")
    return 0


def _compile() -> int:
    from jinba.services.stand_in import compile_flight  # its compiler takes a second to load

    compile_flight()
    return 0


def _reset_demo(state: Path) -> int:
    postgres.drop_database(postgres.start(state / "postgres"), "jinba_demo")
    print("demo data forgotten")
    return 0


def _port_free(port: int) -> bool:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return False
    return True


if __name__ == "__main__":
    sys.exit(main())
