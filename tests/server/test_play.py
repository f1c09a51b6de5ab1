"""`orexis play` and what `orexis analyse` says of it."""

import json
from pathlib import Path

import soundfile
from typer.testing import CliRunner

from orexis.cli import app

RUN = CliRunner()
ASKED = ("--instrument", "tenor-horn-eb", "--notes", "Bb3 D F Bb4")


def test_it_plays_into_a_file_with_the_truth_beside_it(tmp_path: Path) -> None:
    file = tmp_path / "out.wav"
    result = RUN.invoke(app, ["play", str(file), *ASKED, "--seconds", "0.6"])
    assert result.exit_code == 0, result.output
    truth = json.loads((tmp_path / "out.truth.json").read_text(encoding="utf-8"))
    assert truth["schema"] == "orexis.analysis/1"
    assert [note["name"] for note in truth["notes"]] == ["B♭3", "D4", "F4", "B♭4"]
    assert soundfile.info(file).duration == truth["take"]["duration_s"]
    told = RUN.invoke(app, ["analyse", str(file), "--wanted", "Bb3 D4 F4 A4 Bb4"])
    assert "4 of 5 spoke; missed: A4." in told.stdout
    assert "In one breath." in told.stdout


def test_the_same_seed_gives_the_same_file_and_another_does_not(tmp_path: Path) -> None:
    sounds = []
    for name, seed in (("a", 1), ("b", 1), ("c", 2)):
        file = tmp_path / f"{name}.wav"
        RUN.invoke(app, ["play", str(file), *ASKED, "--as", "beginner", "--seed", str(seed)])
        sounds.append(file.read_bytes())
    assert sounds[0] == sounds[1] != sounds[2]


def test_what_cannot_be_played_is_said(tmp_path: Path) -> None:
    for options, told in (
        (("--instrument", "kazoo", "--notes", "C4"), "kazoo"),
        (("--instrument", "tenor-horn-eb", "--notes", "C4 H"), "not a note"),
        (("--instrument", "tenor-horn-eb", "--notes", " "), "which notes"),
        ((*ASKED, "--seconds", "50", "--notes", "C4 " * 20), "longer than 600 s"),
    ):
        result = RUN.invoke(app, ["play", str(tmp_path / "x.wav"), *options])
        assert result.exit_code == 2
        assert told in result.output
    assert list(tmp_path.iterdir()) == []
    result = RUN.invoke(app, ["play", str(tmp_path / "no" / "x.wav"), *ASKED])
    assert result.exit_code == 2
    assert "cannot be written" in result.output
