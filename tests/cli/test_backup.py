"""Everything into one file and back, proved table by table; what is damaged or in the way changes nothing."""

from __future__ import annotations

import json
import uuid
import zipfile
from pathlib import Path

import psycopg
import pytest
from sqlalchemy.orm import sessionmaker

from jinba.cli import backup, postgres
from jinba.cli import main as cli
from jinba.cli.backup import BackupError, read_backup, write_backup
from jinba.persistence.database import make_engine, reading, unit_of_work
from jinba.services import archive, pairing
from tests.conftest import cloned
from tests.states import TARN


@pytest.fixture
def written(server, flown_template, tmp_path) -> tuple[Path, dict[str, int]]:
    file = tmp_path / "everything.backup"
    with cloned(server, flown_template) as url:
        let_a_phone_in(url)
        return file, write_backup(server, url.rsplit("/", 1)[1], file)


def let_a_phone_in(url: str) -> None:
    engine = make_engine(url)
    with unit_of_work(sessionmaker(engine)) as s:
        pairing.pair(s, code=pairing.new_code(s).code, name="old phone")
    engine.dispose()


@pytest.fixture
def target(server):
    name = f"r_{uuid.uuid4().hex[:10]}"
    yield name
    postgres.drop_database(server, name)


def project(url: str) -> object:
    engine = make_engine(url)
    with reading(sessionmaker(engine)) as s:
        _, found = archive.export_model(s, TARN)
    engine.dispose()
    return found


def test_what_is_restored_is_what_was_backed_up_row_for_row(server, flown_template, written, target):
    file, rows = written
    assert rows["model"] >= 4
    assert rows["estimate"] >= 3
    assert read_backup(server, target, file) == rows
    with cloned(server, flown_template) as url:
        assert project(server.url(target)) == project(url)
    with psycopg.connect(server.url(target).replace("+psycopg", "")) as c:
        for table in backup.LEFT_OUT:
            assert c.execute(f"SELECT count(*) FROM {table}").fetchone() == (0,), "a backup lets nobody in"
    with pytest.raises(BackupError, match="models here already"):
        read_backup(server, target, file)


def test_a_damaged_or_foreign_file_is_refused_and_nothing_is_there_afterwards(server, written, target, tmp_path):
    file, _ = written
    whole = file.read_bytes()
    with zipfile.ZipFile(file) as z:
        manifest, dump = json.loads(z.read(backup.MANIFEST)), z.read(backup.DUMP)

    def made(name: str, **said: object) -> Path:
        with zipfile.ZipFile(tmp_path / name, "w") as z:
            z.writestr(backup.MANIFEST, json.dumps(manifest | said))
            z.writestr(backup.DUMP, dump)
        return tmp_path / name

    less = {**manifest["tables"], "record": {"rows": 1, "digest": "x"}}
    cut, flipped = tmp_path / "cut", tmp_path / "flipped"
    cut.write_bytes(whole[: len(whole) // 2])
    # Inside the dump: a header of the archive holds bytes that nobody reads.
    at = whole.index(dump) + len(dump) // 2
    flipped.write_bytes(whole[:at] + bytes([whole[at] ^ 255]) + whole[at + 1 :])
    for bad, words in (
        (tmp_path / "none", "There is no file"),
        (cut, "damaged"),
        (flipped, "damaged"),
        (made("other", format="zip"), "not a backup of this program"),
        (made("newer", version=9), "newer program"),
        (made("less", tables=less), "does not hold what it says, in record"),
    ):
        with pytest.raises(BackupError, match=words):
            read_backup(server, target, bad)
    with psycopg.connect(server.url("postgres").replace("+psycopg", "")) as c:
        left = c.execute("SELECT datname FROM pg_database WHERE datname LIKE %s", (f"{target}_%",)).fetchall()
    assert left == []


def test_the_commands_say_what_they_did_and_what_is_missing(tmp_path_factory, capsys):
    state = tmp_path_factory.mktemp("empty")
    assert cli.main(["backup", str(state / "f"), "--state", str(state)]) == 1
    assert "nothing in" in capsys.readouterr().err
    state.chmod(0o755)
    assert cli.main(["reset-demo", "--state", str(state)]) == 0
    assert cli.main(["restore", str(state / "gone"), "--state", str(state)]) == 1
    assert "There is no file" in capsys.readouterr().err
