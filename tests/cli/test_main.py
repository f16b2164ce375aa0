"""The commands: what they write, and what they say when something is in the way."""

from __future__ import annotations

import json
import socket
import subprocess
from pathlib import Path

import pytest

from jinba.cli import main as cli
from jinba.cli import postgres

ROOT = Path(__file__).resolve().parents[2]


def test_a_busy_port_is_named_with_a_way_out(capsys, tmp_path):
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        assert cli.main(["serve", "--port", str(port), "--state", str(tmp_path)]) == 1
    said = capsys.readouterr().err
    assert f"port {port} is busy" in said
    assert f"./jinba serve --port {port + 1}" in said
    assert not list(tmp_path.iterdir()), "nothing is started or made"


def test_a_server_that_cannot_start_is_one_sentence_and_no_trace(capsys, tmp_path, monkeypatch):
    def refuse(folder: Path, *, fast: bool = False) -> postgres.Server:
        raise postgres.PostgresError("PostgreSQL's server is not installed: run 'apt-get install postgresql' as root.")

    monkeypatch.setattr(postgres, "start", refuse)
    assert cli.main(["reset-demo", "--state", str(tmp_path)]) == 1
    said = capsys.readouterr().err
    assert said.startswith("jinba: PostgreSQL's server is not installed")
    assert "Traceback" not in said


def test_generated_files_are_written_where_asked(tmp_path):
    assert cli.main(["openapi", str(tmp_path / "o.json")]) == 0
    assert json.loads((tmp_path / "o.json").read_text())["openapi"].startswith("3.")
    assert cli.main(["nomenclature", str(tmp_path / "n.md")]) == 0
    assert (tmp_path / "n.md").read_text().startswith("# Nomenclature")


@pytest.mark.parametrize(
    ("arguments", "code", "words"), [(["--help"], 0, "reset-demo"), (["fly"], 1, "unknown command: fly")]
)
def test_the_root_script_explains_itself(arguments, code, words):
    ran = subprocess.run([str(ROOT / "jinba"), *arguments], capture_output=True, text=True, timeout=20, check=False)
    assert ran.returncode == code
    assert words in ran.stdout + ran.stderr


def test_the_root_script_is_sound_shell():
    assert subprocess.run(["bash", "-n", str(ROOT / "jinba")], timeout=20, check=False).returncode == 0
