"""`orexis plan` and `orexis simulate`, run as commands on a data file."""

import json
from pathlib import Path
from typing import Any

import pytest
from typer.testing import CliRunner, Result

from orexis import cli
from orexis.core.coach.about import About, Experience, Wish
from orexis.core.horn.notation import Clef, NoteView
from orexis.store.coaching import keep_about
from orexis.store.database import Database
from orexis.store.holding import held
from orexis.store.models import DayPlanRow
from orexis.store.players import PlayerDetails, add_player

RUN = CliRunner()


@pytest.fixture
def data(tmp_path: Path) -> Path:
    path = tmp_path / "orexis.db"
    database = Database(path)
    with database.session() as session:
        player = add_player(
            session, PlayerDetails("Jory", "tuba-eb-4v-comp", NoteView.SOUNDING, Clef.BASS)
        )
        keep_about(session, player.id, About(Experience.SOME_YEARS, Wish.DOWN, 40, 5))
    database.close()
    return path


def run(*words: str, data: Path) -> Result:
    return RUN.invoke(cli.app, [*words, "--data", str(data)])


def document(*words: str, data: Path) -> dict[str, Any]:
    result = run(*words, "--json", data=data)
    assert result.exit_code == 0, result.output
    found: dict[str, Any] = json.loads(result.stdout)
    return found


def test_a_plan_is_printed_as_its_document(data: Path) -> None:
    plan = document("plan", "--player", "jory", "--date", "2026-06-01", data=data)
    assert (plan["schema"], plan["date"], plan["minutes"]) == ("orexis.plan/1", "2026-06-01", 40)
    whole = sum(block["minutes"] + block["rest_minutes"] for block in plan["blocks"])
    assert 38 <= whole <= 40
    assert plan["blocks"][0]["kind"] == "breath"
    assert plan["warnings"] == []


def test_a_plan_is_for_the_minutes_lips_and_hours_that_are_given(data: Path) -> None:
    tired = document("plan", "--player", "Jory", "--minutes", "20", "--lips", "tired", data=data)
    assert (tired["minutes"], tired["lips"]) == (20, "tired")
    assert {"high", "pedals"}.isdisjoint(block["kind"] for block in tired["blocks"])
    quiet = document("plan", "--player", "Jory", "--quiet", data=data)
    assert {block["exercise"]["family"] for block in quiet["blocks"]} <= {
        *("breath", "siren", "sustained-buzz", "interval-buzz", "slur-shape", "first-buzz"),
    }


def test_a_plan_can_be_read_by_people_and_keeps_nothing(data: Path) -> None:
    result = run("plan", "--player", "Jory", "--date", "2026-06-01", data=data)
    assert result.stdout.startswith("Monday: ")
    database = Database(data)
    with database.session() as session:
        assert session.query(DayPlanRow).count() == 0
    database.close()


def test_a_plan_is_made_beside_a_server_that_holds_the_file(data: Path) -> None:
    with held(data, "in a test"):
        assert run("plan", "--player", "Jory", data=data).exit_code == 0


@pytest.mark.deep
def test_weeks_are_simulated_as_their_document(data: Path) -> None:
    words = ("simulate", "--player", "Jory", "--weeks", "2", "--seed", "3")
    simulation = document(*words, data=data)
    assert simulation["schema"] == "orexis.simulation/1"
    assert len(simulation["days"]) == 14
    assert any(day["missed"] for day in simulation["days"])
    played = [day for day in simulation["days"] if not day["missed"]]
    assert all(one["plan"]["schema"] == "orexis.plan/1" for one in played)
    assert all(one["decided"] for one in played)
    assert document(*words, data=data) == simulation


@pytest.mark.parametrize("option", ["--approach", "--school"])
def test_an_approach_changes_what_is_simulated(data: Path, option: str) -> None:
    words = ("simulate", "--player", "Jory", "--weeks", "1", option, "buzzing=diagnosis")
    days = document(*words, data=data)["days"]
    kinds = {block["kind"] for day in days if day["plan"] for block in day["plan"]["blocks"]}
    assert "buzz" not in kinds


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (("plan", "--player", "Nobody"), "There is no player Nobody; there are: Jory."),
        (("plan", "--player", "Jory", "--date", "tomorrow"), "Give the day as year-month-day"),
        (("simulate", "--player", "Jory", "--weeks", "1", "--approach", "x"), "question=answer"),
        (
            ("simulate", "--player", "Jory", "--weeks", "1", "--approach", "diet=soup"),
            "There is no question diet.",
        ),
    ],
)
def test_what_cannot_be_is_said_in_a_line(data: Path, words: tuple[str, ...], says: str) -> None:
    result = run(*words, data=data)
    assert result.exit_code == 2
    assert says in result.output
    assert "Traceback" not in result.output


def test_a_data_file_that_is_not_there_is_not_made(tmp_path: Path) -> None:
    missing = tmp_path / "none.db"
    result = run("plan", "--player", "Jory", data=missing)
    assert result.exit_code == 2
    assert "There is no data file" in result.output
    assert not missing.exists()
