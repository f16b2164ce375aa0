"""Everything in one file, and back: a dump of the database with what it must hold, proved when it is read."""

from __future__ import annotations

import json
import os
import subprocess
import zipfile
import zlib
from pathlib import Path
from typing import Any

import psycopg
from psycopg import sql

from jinba import __version__
from jinba.cli import postgres

FORMAT = "jinba-backup"
VERSION = 1
MANIFEST, DUMP = "manifest.json", "database.dump"
LEFT_OUT = ("pairing_code", "paired_device")
"""Tables whose rows stay here: who is let in belongs to this machine, not to the data. A backup lets nobody in."""


class BackupError(RuntimeError):
    """A backup that cannot be written or read; the message says why and what was left as it was."""


def write_backup(server: postgres.Server, database: str, file: Path) -> dict[str, int]:
    """Write a database into one file, as it is at one moment; return how many rows each table has.

    Raises: BackupError; a file that was there is replaced only by a whole new one.
    """
    with _connected(server, database) as c, c.transaction():
        c.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ READ ONLY")
        snapshot = _one(c, "SELECT pg_export_snapshot()")
        tables = _contents(c)
        arguments = ["--format=custom", "--no-owner", f"--snapshot={snapshot}", "--dbname", _address(server, database)]
        arguments += [f"--exclude-table-data=public.{name}" for name in LEFT_OUT]
        dump = _tool(server, "pg_dump", arguments)
    manifest = {"format": FORMAT, "version": VERSION, "program": __version__, "tables": tables}
    draft = file.with_name(file.name + ".part")
    with zipfile.ZipFile(draft, "w", zipfile.ZIP_STORED) as z:
        z.writestr(MANIFEST, json.dumps(manifest, indent=1))
        z.writestr(DUMP, dump)
    draft.replace(file)
    return {name: int(t["rows"]) for name, t in tables.items()}


def read_backup(server: postgres.Server, database: str, file: Path) -> dict[str, int]:
    """Restore a backup into a database that holds nothing; return how many rows each table has, each compared.

    It is restored beside its place and takes it when every table holds what the backup says. Raises: BackupError.
    """
    manifest, dump = _opened(file)
    draft = f"{database}_restoring"
    if not _empty(server, database):
        raise BackupError("There are models here already. Restore into an empty state: say another folder, --state")
    postgres.drop_database(server, draft)
    postgres.ensure_database(server, draft)
    try:
        _tool(server, "pg_restore", ["--no-owner", "--exit-on-error", "--dbname", _address(server, draft)], dump)
        with _connected(server, draft) as c:
            found = _contents(c)
        if found != manifest["tables"]:
            wrong = sorted(k for k in {*found, *manifest["tables"]} if found.get(k) != manifest["tables"].get(k))
            raise BackupError(f"The backup does not hold what it says, in {', '.join(wrong)}. Nothing was changed.")
        postgres.drop_database(server, database)
        with _connected(server, "postgres") as c:
            names = (sql.Identifier(draft), sql.Identifier(database))
            c.execute(sql.SQL("ALTER DATABASE {} RENAME TO {}").format(*names))
    finally:
        postgres.drop_database(server, draft)
    return {name: int(t["rows"]) for name, t in found.items()}


def _opened(file: Path) -> tuple[dict[str, Any], bytes]:
    try:
        with zipfile.ZipFile(file) as z:
            manifest, dump = json.loads(z.read(MANIFEST)), z.read(DUMP)
    except FileNotFoundError:
        raise BackupError(f"There is no file {file}.") from None
    except (zipfile.BadZipFile, zlib.error, KeyError, ValueError, EOFError, RuntimeError, NotImplementedError):
        raise BackupError(f"{file} is not a backup, or it is damaged. Nothing was changed.") from None
    if not isinstance(manifest, dict) or manifest.get("format") != FORMAT:
        raise BackupError(f"{file} is not a backup of this program. Nothing was changed.")
    if manifest.get("version") != VERSION:
        raise BackupError(f"{file} was written by a newer program ({manifest.get('program')}). Restore it with that.")
    return manifest, dump


def _contents(c: psycopg.Connection[Any]) -> dict[str, dict[str, Any]]:
    """Return of every table how many rows it has and what they come to, whatever their order."""
    found = {}
    names = c.execute("SELECT tablename FROM pg_tables WHERE schemaname = 'public' ORDER BY tablename").fetchall()
    for (name,) in names:
        if name in LEFT_OUT:
            continue
        query = "SELECT count(*), md5(coalesce(string_agg(md5(t::text), '' ORDER BY md5(t::text)), '')) FROM {} t"
        rows, digest = c.execute(sql.SQL(query).format(sql.Identifier(name))).fetchone() or (0, "")
        found[name] = {"rows": rows, "digest": digest}
    return found


def _empty(server: postgres.Server, database: str) -> bool:
    postgres.ensure_database(server, database)
    with _connected(server, database) as c:
        there = _one(c, "SELECT to_regclass('public.model') IS NOT NULL")
        return not there or not _one(c, "SELECT EXISTS (SELECT 1 FROM model)")


def _one(c: psycopg.Connection[Any], query: str) -> Any:
    row = c.execute(query.encode()).fetchone()
    return None if row is None else row[0]


def _connected(server: postgres.Server, database: str) -> psycopg.Connection[Any]:
    return psycopg.connect(server.url(database).replace("+psycopg", ""), autocommit=True)


def _address(server: postgres.Server, database: str) -> str:
    """Return where a database is, without its password: that goes by the environment, which no process list shows."""
    return f"postgresql://{postgres.USER}@127.0.0.1:{server.port}/{database}"


def _tool(server: postgres.Server, name: str, arguments: list[str], given: bytes | None = None) -> bytes:
    command = [str(postgres.find_binaries() / name), *arguments]
    environment = {**os.environ, "PGPASSWORD": server.password}
    ran = subprocess.run(command, input=given, capture_output=True, env=environment, check=False)
    if ran.returncode != 0:
        raise BackupError(f"{name} failed: {ran.stderr.decode(errors='replace').strip()[-400:]}")
    return ran.stdout
