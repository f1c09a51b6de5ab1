"""The command's own errors, and what it prints for others."""

import json
import socket
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pytest
from fastapi import FastAPI
from typer.testing import CliRunner

from orexis import cli

RUN = CliRunner()


def test_a_data_file_that_is_no_database_stops_with_what_to_do(tmp_path: Path) -> None:
    broken = tmp_path / "letters.db"
    broken.write_text("Dear lighthouse keeper, " * 50)
    for command in ("serve", "demo"):
        result = RUN.invoke(cli.app, [command, "--data", str(broken)])
        assert result.exit_code == 2
        assert "Check that it is an Orexis file" in result.stderr
    assert broken.read_text().startswith("Dear lighthouse keeper")


def test_the_demo_is_filled_once_and_served_on_loopback(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    served: list[tuple[str, int]] = []
    filled: list[bool] = []

    def fill(session: object, now: object) -> bool:
        filled.append(True)
        return len(filled) == 1

    def run(app: FastAPI, listener: socket.socket, answers: Callable[[], None]) -> None:
        served.append(listener.getsockname())
        answers()

    monkeypatch.setattr("orexis.cli.demo.fill", fill)
    monkeypatch.setattr("orexis.cli.serve.run", run)
    data = str(tmp_path / "demo.db")
    first = RUN.invoke(cli.app, ["demo", "--data", data, "--port", "9001"])
    second = RUN.invoke(cli.app, ["demo", "--data", data])
    assert "The demo band's takes are in" in first.stdout
    assert "http://127.0.0.1:9001" in first.stdout
    assert "takes are in" not in second.stdout
    assert served == [("127.0.0.1", 9001), ("127.0.0.1", 8420)]


def test_a_port_that_is_none_is_refused() -> None:
    assert RUN.invoke(cli.app, ["serve", "--port", "70000"]).exit_code == 2


def test_the_committed_description_is_the_api_that_is_served() -> None:
    committed = json.loads((Path(__file__).parents[2] / "docs/openapi.json").read_text())
    result = RUN.invoke(cli.app, ["openapi"])
    assert json.loads(result.stdout) == committed
    api = [path for path in committed["paths"] if path != "/trust"]
    assert {path.split("/")[2] for path in api} == {
        *("instruments", "fields", "players", "sessions", "latency"),
        *("takes", "recordings", "{kind}", "guests", "storage", "health"),
        *("metronome", "drone", "chart", "sittings", "home", "pairing"),
    }


@pytest.mark.parametrize("words", [("--help",), ("horn", "list"), ("horn", "horn-f", "chart")])
def test_a_command_loads_only_what_it_runs(words: tuple[str, ...]) -> None:
    code = (
        "import sys\n"
        "from orexis.cli import app\n"
        "try: app(sys.argv[1:])\n"
        "except SystemExit as end: assert not end.code\n"
        "heavy = {'fastapi', 'sqlalchemy', 'scipy', 'numpy', 'uvicorn', 'soundfile'}\n"
        "sys.stderr.write(' '.join(sorted(heavy & set(sys.modules))))\n"
    )
    ran = subprocess.run(
        [sys.executable, "-c", code, *words], capture_output=True, text=True, check=True
    )
    assert ran.stdout
    assert ran.stderr == ""


@pytest.mark.deep
def test_the_application_does_without_scipy() -> None:
    code = "import sys, orexis.cli.demo, orexis.cli.analyse; assert 'scipy' not in sys.modules"
    subprocess.run([sys.executable, "-c", code], check=True)
