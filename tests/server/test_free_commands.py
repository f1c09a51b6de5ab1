"""`orexis listen` and `orexis follow`: free playing and a part, from files."""

import json
import sys
from dataclasses import replace
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import numpy as np
import pytest
from typer.testing import CliRunner

from orexis import cli
from orexis.formats.audio import pcm_from_floats, wav_from_pcm
from orexis.formats.melody import MelodyUnreadableError
from orexis.formats.part import written_notes
from orexis.standin.performance import perform
from orexis.standin.score import Change, Faults, ScoreNote
from orexis.standin.tone import MIDDLE

RUN = CliRunner()
RATE = 22_050
TONGUED = Change("tongued", gap_s=0.05)


def bar(number: int, *notes: str, marks: str = "") -> str:
    """A bar of quarters such as B3 or E4-1 (a half step lower)."""
    body = ""
    for note in notes:
        alter = "<alter>-1</alter>" if note.endswith("-1") else ""
        step, octave = note[0], note[1]
        body += (
            f"<note><pitch><step>{step}</step>{alter}<octave>{octave}</octave></pitch>"
            "<duration>1</duration><type>quarter</type></note>"
        )
    start = (
        "<attributes><divisions>1</divisions><time><beats>4</beats><beat-type>4</beat-type></time>"
        "</attributes>"
        if number == 1
        else ""
    )
    return f"<measure number='{number}'>{start}{body}{marks}</measure>"


def score(*bars: str) -> bytes:
    return (
        "<score-partwise version='3.1'><part-list><score-part id='P1'><part-name>Horn</part-name>"
        f"</score-part></part-list><part id='P1'>{''.join(bars)}</part></score-partwise>"
    ).encode()


REPEAT = "<barline location='right'><repeat direction='backward'/></barline>"
# B♭3 C4 D4 E♭4, then F4 E♭4 D4 C4 twice over.
PART = score(bar(1, "B3-1", "C4", "D4", "E4-1"), bar(2, "F4", "E4-1", "D4", "C4", marks=REPEAT))
PITCHES = 2 * (58, 60, 62, 63, 65, 63, 62, 60)
BEAT_S = 0.6


def wav(path: Path, notes: list[ScoreNote]) -> Path:
    sound = perform(tuple(notes), MIDDLE, RATE, lead_s=0.6, seed=2).samples
    path.write_bytes(wav_from_pcm(pcm_from_floats(sound), RATE))
    return path


def played(*, cents: float = 0.0) -> list[ScoreNote]:
    faults = Faults(centre_cents=cents)
    return [ScoreNote(midi, BEAT_S - 0.05, reached=TONGUED, faults=faults) for midi in PITCHES]


def asked(*arguments: str) -> Any:
    result = RUN.invoke(cli.app, [*arguments, "--json"])
    assert result.exit_code == 0, result.stderr
    return json.loads(result.stdout)


class TestListen:
    def test_what_was_played_is_told_note_by_note(self, tmp_path: Path) -> None:
        file = wav(tmp_path / "a.wav", played(cents=7))
        told = asked("listen", str(file), "--instrument", "tenor-horn-eb")
        assert told["schema"] == "orexis.sitting/1"
        assert [note["midi"] for note in told["notes"]] == [58, 60, 62, 63, 65]
        assert [note["times"] for note in told["notes"]] == [2, 4, 4, 4, 2]
        assert all(note["cents"] == pytest.approx(7, abs=2) for note in told["notes"])
        assert told["playing_s"] == pytest.approx(16 * 0.55, rel=0.06)
        assert told["playing_s"] == pytest.approx(sum(told["by_register"].values()), abs=0.01)
        assert told["onsets"]["tempo_bpm"] == pytest.approx(100, rel=0.02)
        assert told["onsets"]["mean_ms"] is None

    def test_against_a_metronome_how_late_is_told(self, tmp_path: Path) -> None:
        # The first note begins with the second beat, 30 ms late.
        notes = played()
        sound = perform(tuple(notes), MIDDLE, RATE, lead_s=BEAT_S + 0.03, seed=2).samples
        file = tmp_path / "a.wav"
        file.write_bytes(wav_from_pcm(pcm_from_floats(sound), RATE))
        told = asked("listen", str(file), "--metronome", "100")
        assert told["onsets"]["count"] == 16
        assert told["onsets"]["mean_ms"] == pytest.approx(30, abs=12)
        assert told["onsets"]["spread_ms"] < 12

    def test_a_drone_in_the_room_is_no_note(self, tmp_path: Path) -> None:
        sound = perform(tuple(played()), MIDDLE, RATE, lead_s=2.0, seed=2).samples
        tone = 0.02 * np.sin(2 * np.pi * 116.54 * np.arange(len(sound)) / RATE)
        file = tmp_path / "a.wav"
        file.write_bytes(wav_from_pcm(pcm_from_floats(sound + tone), RATE))
        told = asked("listen", str(file), "--drone", "Bb2")
        assert [note["midi"] for note in told["notes"]] == [58, 60, 62, 63, 65]
        refused = RUN.invoke(cli.app, ["listen", str(file), "--drone", "H9"])
        assert refused.exit_code == 2
        assert "such as Bb3" in refused.stderr

    def test_it_is_said_in_lines(self, tmp_path: Path) -> None:
        said = RUN.invoke(
            cli.app, ["listen", str(wav(tmp_path / "a.wav", played(cents=12)))]
        ).stdout
        assert "of playing" in said
        assert "cents sharp" in said
        assert "Your tempo: about 100 beats a minute." in said

    def test_silence_and_what_is_no_sound_say_what_to_do(self, tmp_path: Path) -> None:
        silent = tmp_path / "silent.wav"
        silent.write_bytes(wav_from_pcm(pcm_from_floats(np.zeros(RATE)), RATE))
        assert "No notes were heard." in RUN.invoke(cli.app, ["listen", str(silent)]).stdout
        assert asked("listen", str(silent))["longest_hold"] is None
        odd = tmp_path / "odd.wav"
        odd.write_text("no sound")
        assert RUN.invoke(cli.app, ["listen", str(odd)]).exit_code == 2
        assert RUN.invoke(cli.app, ["listen", str(silent), "--instrument", "harp"]).exit_code == 2


class TestFollow:
    def follow(self, tmp_path: Path, notes: list[ScoreNote], part: bytes = PART) -> Any:
        (tmp_path / "part.musicxml").write_bytes(part)
        file = wav(tmp_path / "a.wav", notes)
        return asked("follow", str(file), str(tmp_path / "part.musicxml"))

    def test_repeats_are_unfolded_and_every_note_found(self, tmp_path: Path) -> None:
        told = self.follow(tmp_path, played(cents=-9))
        assert told["schema"] == "orexis.follow/1"
        assert [note["midi"] for note in told["notes"]] == list(PITCHES)
        assert [note["bar"] for note in told["notes"]] == 2 * [1, 1, 1, 1, 2, 2, 2, 2]
        assert [note["beat"] for note in told["notes"]] == 4 * [1, 2, 3, 4]
        assert all(note["cents"] == pytest.approx(-9, abs=2) for note in told["notes"])
        assert all(abs(note["late_ms"]) < 25 for note in told["notes"])
        assert (told["extra"], told["stopped_bar"]) == ([], None)
        assert told["tempo_bpm"] == pytest.approx(100, rel=0.01)

    def test_mistakes_are_told_where_they_were(self, tmp_path: Path) -> None:
        notes = played()
        notes[5] = replace(notes[5], midi=64)
        notes[9] = replace(notes[9], faults=Faults(missed=True))
        notes = notes[:14]
        told = self.follow(tmp_path, notes)
        wrong, missed = told["notes"][5], told["notes"][9]
        assert (wrong["heard_midi"], wrong["cents"]) == (64, None)
        assert (missed["start_s"], missed["heard_midi"]) == (None, None)
        assert told["stopped_bar"] == 2
        (tmp_path / "part.musicxml").write_bytes(PART)
        said = RUN.invoke(
            cli.app, ["follow", str(tmp_path / "a.wav"), str(tmp_path / "part.musicxml")]
        ).stdout
        assert "12 of 16 notes played." in said
        assert "bar 2, beat 2, E♭4: you played E4" in said
        assert "bar 1, beat 2, C4: missed" in said
        assert "You stopped in bar 2." in said

    def test_a_transposed_part_is_read_as_it_sounds(self) -> None:
        transposed = PART.replace(b"<divisions>1</divisions>", b"<divisions>1</divisions>").replace(
            b"</time>",
            b"</time><transpose><diatonic>-1</diatonic><chromatic>-2</chromatic></transpose>",
        )
        assert [note.midi for note in written_notes(transposed, "a")] == [
            midi - 2 for midi in PITCHES
        ]

    def test_what_cannot_be_followed_says_why(self, tmp_path: Path) -> None:
        with pytest.raises(MelodyUnreadableError, match="there is no part 2"):
            written_notes(PART, "a.musicxml", 2)
        with pytest.raises(MelodyUnreadableError, match="no MusicXML"):
            written_notes(b"not music", "a.musicxml")
        file = wav(tmp_path / "a.wav", played()[:1])
        gone = RUN.invoke(cli.app, ["follow", str(file), str(tmp_path / "none.musicxml")])
        assert gone.exit_code == 2
        assert "cannot be read" in gone.stderr


class TestTheMicrophone:
    def test_without_its_package_it_says_what_to_do(self, monkeypatch: pytest.MonkeyPatch) -> None:
        monkeypatch.setitem(sys.modules, "sounddevice", None)
        result = RUN.invoke(cli.app, ["listen"])
        assert result.exit_code == 2
        assert "or name a file" in result.stderr

    def test_it_is_listened_to_until_it_is_interrupted(
        self, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        sound = perform(tuple(played()), MIDDLE, 44_100, seed=2).samples

        class Stream:
            at = 0

            def __init__(self, **_: object) -> None: ...

            def __enter__(self) -> "Stream":
                return self

            def __exit__(self, *_: object) -> None: ...

            def read(self, count: int) -> tuple[np.ndarray, bool]:
                if self.at >= len(sound):
                    raise KeyboardInterrupt
                self.at += count
                return sound[self.at - count : self.at, None], False

        device = SimpleNamespace(InputStream=Stream, PortAudioError=OSError)
        monkeypatch.setitem(sys.modules, "sounddevice", device)
        result = RUN.invoke(cli.app, ["listen", "--json"])
        assert result.exit_code == 0
        assert sum(note["times"] for note in json.loads(result.stdout)["notes"]) == 16
        # Each passage is told of as it ends.
        assert "in tune" in result.stderr or "cent" in result.stderr
