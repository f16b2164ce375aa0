"""Commands: serve, demo data, OpenAPI. The root script ``./jinba`` prepares the machine and calls these."""

from __future__ import annotations

import argparse
import json
import os
import signal
import socket
import sys
import threading
import time
from pathlib import Path

# One computation per request is small: threads inside the linear algebra only fight for two cores.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import uvicorn
from sqlalchemy.orm import sessionmaker

from jinba.api.app import create_app
from jinba.cli import postgres
from jinba.core.bench.answer import bench_answer
from jinba.core.silhouettes import silhouette_configuration
from jinba.formats.nomenclature import nomenclature_page
from jinba.persistence.database import make_engine, unit_of_work, upgrade
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
    reset = commands.add_parser("reset-demo", help="forget the demo data; the next demo starts afresh")
    reset.add_argument("--state", type=Path, default=Path(".jinba"))
    for name, words in (
        ("openapi", "write the OpenAPI description"),
        ("nomenclature", "write the nomenclature page of the documentation"),
    ):
        commands.add_parser(name, help=words).add_argument("file", type=Path)
    args = parser.parse_args(argv)
    try:
        if args.command in ("demo", "serve"):
            return _serve(args.command, args.port, args.state.resolve())
        if args.command == "reset-demo":
            return _reset_demo(args.state.resolve())
        if args.command == "nomenclature":
            args.file.write_text(nomenclature_page())
            return 0
        args.file.write_text(json.dumps(create_app("postgresql+psycopg://x@localhost/x").openapi(), indent=1) + "\n")
        return 0
    except postgres.PostgresError as error:
        print(f"jinba: {error}", file=sys.stderr)
        return 1


def _serve(kind: str, port: int, state: Path) -> int:
    if not _port_free(port):
        print(
            f"jinba: port {port} is busy. Stop what uses it, or say another one: ./jinba {kind} --port {port + 1}",
            file=sys.stderr,
        )
        return 1
    begun = time.monotonic()
    print("starting PostgreSQL on loopback", flush=True)
    server = postgres.start(state / "postgres")
    try:
        url = _prepare(server, kind)
        app = create_app(url, web_dist=settings().web_dist)
        threading.Thread(target=_warm_up, daemon=True).start()
        print(
            f"ready after {time.monotonic() - begun:.1f} s:  http://127.0.0.1:{port}   (Ctrl-C stops everything)",
            flush=True,
        )
        uvicorn.run(app, host="127.0.0.1", port=port, log_level="warning")
    except KeyboardInterrupt:
        pass
    finally:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        print("stopping PostgreSQL", flush=True)
        postgres.stop(server)
    return 0


def _prepare(server: postgres.Server, kind: str) -> str:
    database = f"jinba_{kind}"
    postgres.ensure_database(server, database)
    url = server.url(database)
    print("bringing the database up to date", flush=True)
    upgrade(url)
    if kind == "demo":
        engine = make_engine(url)
        with unit_of_work(sessionmaker(engine)) as session:
            print("demo data loaded" if load_demo(session) else "demo data is there", flush=True)
        engine.dispose()
    return url


def _warm_up() -> None:
    bench_answer(silhouette_configuration("high_wing", span_m=1.0))


def _reset_demo(state: Path) -> int:
    server = postgres.start(state / "postgres")
    try:
        postgres.drop_database(server, "jinba_demo")
        print("demo data forgotten")
    finally:
        postgres.stop(server)
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
