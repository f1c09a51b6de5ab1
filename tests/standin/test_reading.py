"""The stand-in player reads a score, and the ear hears what was written."""

import numpy as np
import pytest

from orexis.core.listening.analysis import analyse
from orexis.practice.exercises import NothingToHearError, played
from orexis.standin.performance import perform
from orexis.standin.reading import as_played, voice_of
from orexis.standin.score import Faults
from orexis.standin.tone import MOUTHPIECE, timbre_of
from tests.core.exercises.writing import task, writer

RATE = 44_100


def heard(family: str, instrument: str, **values: float | str) -> tuple[list[int], list[str], int]:
    """Notes, how they meet, and glides, as the ear has them."""
    written = task(family, instrument, **values)
    horn = writer(instrument).instrument
    voice = voice_of(written.score, horn)
    found = analyse([perform(as_played(written.score), voice, RATE).samples], RATE)
    kinds = [change.kind.value for change in found.transitions]
    return [note.midi for note in found.notes], kinds, len(found.glides)


@pytest.mark.one_in(3)
@pytest.mark.parametrize(
    ("family", "instrument"),
    [
        ("pyramid", "trombone-tenor"),
        ("chained-intervals", "cornet-bb"),
        ("rising-triads", "cornet-bb"),
        ("two-octave-scale", "tenor-horn-eb"),
        ("pedal-sets", "trombone-tenor"),
        ("melody", "euphonium-bb"),
        ("engaged-corners", "cornet-bb"),
    ],
)
def test_every_note_that_is_written_is_heard(family: str, instrument: str) -> None:
    notes, _, glides = heard(family, instrument)
    assert notes == list(task(family, instrument).score.pitches)
    assert glides == 0


def test_notes_meet_as_they_are_written() -> None:
    _, kinds, _ = heard("skip-slur", "trombone-tenor", times=1)
    # Tongued first, then slurred; a breath between.
    assert kinds == ["tongued", "tongued", "breath", "slur", "slur"]


def test_a_siren_is_one_glide_a_time_and_a_ladder_one_a_rung() -> None:
    assert heard("siren", "cornet-bb", times=2)[2] == 2
    notes, kinds, glides = heard("glide-ladder", "trombone-tenor", rungs=2)
    assert (len(notes), glides) == (4, 2)
    assert kinds == ["glide", "breath", "glide"]


def test_beats_stay_where_they_are_written() -> None:
    written = task("interval-rhythms", "cornet-bb", rhythm="long-short", tempo=60, times=1)
    found = analyse(
        [perform(as_played(written.score), timbre_of(46), RATE, lead_s=0.5).samples], RATE
    )
    starts = [note.start_s for note in found.notes]
    # 1½, ½, 1½ and ½ beats at 60, from half a second on.
    assert np.diff(starts) == pytest.approx([1.5, 0.5, 1.5, 0.5], abs=0.05)


def test_what_is_all_buzzed_is_played_on_the_mouthpiece() -> None:
    cornet = writer("cornet-bb").instrument
    assert voice_of(task("siren", "cornet-bb").score, cornet) is MOUTHPIECE
    for mixed in ("buzz-then-play", "pyramid", "breath"):
        # Its fundamental is B♭2.
        assert voice_of(task(mixed, "cornet-bb").score, cornet) == timbre_of(46)


def test_faults_are_on_every_note() -> None:
    written = task("couplets", "cornet-bb", widest=1)
    notes = [
        part
        for part in as_played(written.score, Faults(centre_cents=20))
        if hasattr(part, "faults")
    ]
    assert {part.faults.centre_cents for part in notes} == {20}


def test_what_has_no_sound_or_too_much_says_so() -> None:
    cornet = writer("cornet-bb").horn
    with pytest.raises(NothingToHearError, match="breathing alone"):
        played(task("breath", "cornet-bb"), cornet)
    with pytest.raises(NothingToHearError, match="fewer repetitions"):
        played(task("long-tone", "cornet-bb", hold_s=60, times=10), cornet)
