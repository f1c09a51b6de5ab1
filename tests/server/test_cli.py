"""The command's own errors, and what it prints for others."""

import json
from pathlib import Path

import pytest
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
    served: list[dict[str, object]] = []
    filled: list[bool] = []

    def fill(session: object, now: object) -> bool:
        filled.append(True)
        return len(filled) == 1

    monkeypatch.setattr(cli, "fill", fill)
    monkeypatch.setattr("uvicorn.run", lambda app, **options: served.append(options))
    data = str(tmp_path / "demo.db")
    first = RUN.invoke(cli.app, ["demo", "--data", data, "--port", "9001"])
    second = RUN.invoke(cli.app, ["demo", "--data", data])
    assert "The demo band's takes are in" in first.stdout
    assert "http://127.0.0.1:9001" in first.stdout
    assert "takes are in" not in second.stdout
    assert {options["host"] for options in served} == {"127.0.0.1"}


def test_a_port_that_is_none_is_refused() -> None:
    assert RUN.invoke(cli.app, ["serve", "--port", "70000"]).exit_code == 2


def test_the_committed_description_is_the_api_that_is_served() -> None:
    committed = json.loads((Path(__file__).parents[2] / "docs/openapi.json").read_text())
    result = RUN.invoke(cli.app, ["openapi"])
    assert json.loads(result.stdout) == committed
    assert {path.split("/")[2] for path in committed["paths"]} == {
        *("instruments", "players", "takes", "recordings", "health"),
    }
