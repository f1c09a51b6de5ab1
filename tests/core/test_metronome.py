"""The metronome: where beats fall, and how notes are held against them."""

from dataclasses import replace
from fractions import Fraction
from itertools import pairwise
from math import log
from statistics import fmean

import pytest

from orexis.core.judging.standard import Standard
from orexis.core.score.pulse import Click
from orexis.core.score.steps import Play, Score
from orexis.core.session.building import block_of
from orexis.core.session.metronome import Metronome, beats_of, count_in_s, seconds_at
from orexis.core.session.plan import Plan
from orexis.core.session.running import begin
from orexis.core.session.stand import Stand
from orexis.core.session.timing import Timing, timing_of, timing_words
from orexis.standin.performance import perform
from orexis.standin.reading import as_played, voice_of
from tests.core.exercises.writing import writer

RATE = 48_000


def score(beats: int, in_bar: int = 4, bpm: float | None = 72.0) -> Score:
    return Score(tuple(Play(60, Fraction(1)) for _ in range(beats)), in_bar, bpm)


def test_every_beat_falls_on_its_sample_however_long_it_goes_on() -> None:
    music = score(400)
    beats = beats_of(Metronome(), music, 1234, RATE)
    # A beat at 72 a minute is 40 000 samples of 48 kHz exactly.
    assert [beat.sample - 1234 for beat in beats] == [40_000 * n for n in range(len(beats))]


@pytest.mark.parametrize(
    ("in_bar", "parts", "accents", "bar"),
    [
        (3, 1, (0,), ["bar", "beat", "beat"]),
        (4, 2, (0,), ["bar", "part", "beat", "part", "beat", "part", "beat", "part"]),
        (5, 1, (0, 3), ["bar", "beat", "beat", "bar", "beat"]),
        (2, 3, (0,), ["bar", "part", "part", "beat", "part", "part"]),
        (7, 1, (0, 2, 4), ["bar", "beat", "bar", "beat", "bar", "beat", "beat"]),
    ],
)
def test_any_metre_with_its_parts_and_accents(
    in_bar: int, parts: int, accents: tuple[int, ...], bar: list[str]
) -> None:
    metronome = Metronome(parts=parts, accents=accents)
    beats = beats_of(metronome, score(in_bar, in_bar), 0, RATE)
    sounds = [beat.click.value for beat in beats]
    # A bar of count-in, one of music, one after it.
    assert sounds == bar * 3
    assert [beat.number for beat in beats if beat.click is not Click.PART] == [
        *range(1, in_bar + 1)
    ] * 3


def test_the_last_beat_of_the_count_in_says_breathe() -> None:
    beats = beats_of(Metronome(count_in_bars=2, parts=2), score(4), 0, RATE)
    counted = [beat for beat in beats if beat.counted_in and beat.click is not Click.PART]
    assert [beat.words for beat in counted] == [""] * 7 + ["breathe"]
    assert count_in_s(Metronome(count_in_bars=2), score(4)) == pytest.approx(8 * 60 / 72)


def test_music_that_is_free_takes_the_metronomes_own_tempo() -> None:
    beats = beats_of(Metronome(bpm=120.0), score(4, bpm=None), 0, RATE)
    assert {after.sample - before.sample for before, after in pairwise(beats)} == {24_000}


def test_a_ramp_grows_evenly_from_beat_to_beat() -> None:
    metronome, music = Metronome(ramp_to_bpm=120.0), score(16, bpm=60.0)
    # Half way through the beats it goes at 90, and all of it takes 16 / ln 2 times less than 16 s.
    assert seconds_at(metronome, music, 16) == pytest.approx(16 * log(2), rel=1e-9)
    beats = [beat.sample for beat in beats_of(metronome, music, 0, RATE) if not beat.counted_in]
    steps = [after - before for before, after in pairwise(beats)]
    assert steps[:16] == sorted(steps[:16], reverse=True)
    assert steps[16:] == [24_000] * (len(steps) - 16)
    slower = seconds_at(Metronome(ramp_to_bpm=30.0), music, 16)
    assert slower == pytest.approx(16 * 2 * log(2), rel=1e-9)


@pytest.mark.parametrize(("late_s", "latency_s"), [(0.0, 0.0), (0.09, 0.06), (-0.05, 0.0)])
def test_onsets_are_told_against_their_beats(late_s: float, latency_s: float) -> None:
    made = writer("cornet-bb")
    block = block_of("interval-rhythms", made, {"times": 1.0}, {"metronome": "on"})
    state = begin(Plan("Test", (block,)), RATE, Standard.NORMAL)
    task, starts = state.task, state.stretches[1].end or 0
    sound = perform(as_played(task.score), voice_of(task.score, made.instrument), RATE)
    stand = Stand(task, made.horn, Standard.NORMAL, RATE)
    truth_s = [note["start_s"] for note in sound.truth["notes"]]
    (attempt,) = [*stand.feed(sound.samples).attempts, *stand.finish().attempts]
    # The take's first frame, had the sound begun that much after its beat.
    heard_s = starts / RATE + late_s - truth_s[0] + attempt.frames.first * 0.01
    told = timing_of(state, attempt.answers, heard_s, latency_s)
    assert told is not None
    # A slur takes its time, so its note speaks a little after its beat.
    beats = [0, 1, 2, 3, 4]
    on_the_way_s = fmean(
        at - truth_s[0] - beat * 60 / 72 for at, beat in zip(truth_s, beats, strict=True)
    )
    late = late_s + on_the_way_s - latency_s
    assert told.mean_ms == pytest.approx(1000 * late, abs=15)
    assert told.spread_ms < 20
    assert told.notes == len(task.score.notes)
    unknown = timing_of(state, attempt.answers, heard_s, None)
    assert unknown == replace(told, mean_ms=None)


def test_timing_in_words() -> None:
    assert timing_words(Timing(12.4, 8.0, 5)) == "Against the beat: 12 ms late, ± 8 ms."
    assert timing_words(Timing(-30.0, 0.0, 1)) == "Against the beat: 30 ms early."
    assert timing_words(Timing(0.2, 4.0, 3)) == "Against the beat: on the beat, ± 4 ms."
    assert timing_words(Timing(None, 9.0, 3)) == (
        "Against the beat ± 9 ms. How late is not told until this device is measured."
    )
