"""The `knead` command where it does not come to work: one sentence, and an exit code."""

import json
import socket
import subprocess
import sys
from pathlib import Path
from typing import get_args

import pytest

from knead.cli import BLENDS, FORMATS
from knead.core.model import Blend
from knead.service.render import ExportFormat
from tests.conftest import ROOT


def knead(*arguments: str, folder: Path = ROOT) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "knead.cli", *arguments]
    return subprocess.run(command, cwd=folder, capture_output=True, text=True, check=False, timeout=60)


def test_the_command_offers_what_there_is() -> None:
    assert tuple(BLENDS) == get_args(Blend)
    assert tuple(FORMATS) == get_args(ExportFormat)


def test_a_port_in_use_is_told_with_another_way(database: str) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = str(taken.getsockname()[1])
        answer = knead("serve", "--database", database, "--port", port)
    assert answer.returncode == 2
    assert answer.stderr == f"knead: port {port} is in use; stop what runs there, or choose another with --port.\n"


@pytest.mark.parametrize("command", [["serve", "--port", "8499"], ["worker"]])
def test_a_database_that_is_not_there_is_told(command: list[str]) -> None:
    answer = knead(*command, "--database", "postgresql+psycopg://nobody@127.0.0.1:1/none")
    assert answer.returncode == 2
    assert answer.stderr.startswith("knead: the database can't be reached: ")
    assert answer.stderr.count("\n") == 1
    assert "Traceback" not in answer.stderr


def test_the_schemas_are_written_as_they_are_published(tmp_path: Path) -> None:
    answer = knead("schemas", str(tmp_path / "openapi.json"), str(tmp_path / "bundle.json"))
    assert answer.returncode == 0, answer.stderr
    published = json.loads((ROOT / "docs" / "scene-bundle.schema.json").read_text())
    assert json.loads((tmp_path / "bundle.json").read_text()) == published
    paths = json.loads((tmp_path / "openapi.json").read_text())["paths"]
    assert "/api/scenes/{scene_id}/edits" in paths


@pytest.mark.parametrize("command", ["demo", "serve", "inbetween", "export", "worker"])
def test_every_command_says_what_it_is_for(command: str) -> None:
    answer = knead(command, "--help")
    assert answer.returncode == 0
    assert f"Usage: python -m knead.cli {command}" in answer.stdout
    assert answer.stdout.count(". ") + answer.stdout.count(".\n") >= 1, "in whole sentences"
