"""The stand-in player's scores: the truth it writes is the sound it makes."""

import numpy as np
import pytest

from orexis.core.listening.analysis import analyse
from orexis.standin.performance import perform
from orexis.standin.score import Change, Faults, ScoreNote, Siren, Touched
from orexis.standin.tone import LARGE, MIDDLE, MOUTHPIECE, SMALL, strengths, timbre_of

RATE = 48_000
SCORE = (
    ScoreNote(58, 0.8),
    ScoreNote(65, 0.8, reached=Change("slur")),
    ScoreNote(62, 0.6, reached=Change("tongued"), faults=Faults(centre_cents=-20)),
    ScoreNote(62, 1.0, -26.0, 8.0, reached=Change("breath")),
)


def test_notes_stand_where_the_truth_says() -> None:
    played = perform(SCORE, MIDDLE, RATE)
    times = [edge for note in played.truth["notes"] for edge in (note["start_s"], note["end_s"])]
    # 0.5 s of quiet, a 35 ms slur, 50 ms of tongue and half a second of breath.
    assert times == pytest.approx([0.5, 1.3, 1.335, 2.135, 2.185, 2.785, 3.285, 4.285], abs=1e-6)
    assert played.truth["take"]["duration_s"] == pytest.approx(len(played.samples) / RATE)
    quiet = played.samples[: round(0.45 * RATE)]
    assert np.abs(quiet).max() < 0.001


def test_frames_of_the_truth_are_the_pitch_of_the_sound() -> None:
    played = perform((ScoreNote(57, 2.0),), MIDDLE, RATE)
    at = round(1.0 * RATE)
    piece = played.samples[at : at + RATE] * np.hanning(RATE)
    spectrum = np.abs(np.fft.rfft(piece, 8 * RATE))
    near = slice(8 * 215, 8 * 225)
    peak_hz = (np.argmax(spectrum[near]) + near.start) / 8
    truth = played.truth["frames"]["f0_hz"][100:200]
    assert 1200 * np.log2(peak_hz / np.mean(truth)) == pytest.approx(0, abs=1.5)


def test_what_it_plays_is_what_is_heard() -> None:
    played = perform(SCORE, MIDDLE, RATE)
    analysis = analyse([played.samples], RATE)
    assert [note.midi for note in analysis.notes] == [
        note["midi"] for note in played.truth["notes"]
    ]
    assert [change.kind.value for change in analysis.transitions] == [
        change["kind"] for change in played.truth["transitions"]
    ]
    for note, true in zip(analysis.notes, played.truth["notes"], strict=True):
        assert note.measures.centre_cents == pytest.approx(true["centre_cents"], abs=2)
        assert note.start_s == pytest.approx(true["start_s"], abs=0.04)


def test_a_missed_note_is_silent_and_has_no_truth() -> None:
    missed = (
        ScoreNote(58, 0.6),
        ScoreNote(60, 0.6, faults=Faults(missed=True)),
        ScoreNote(62, 0.6),
    )
    played = perform(missed, MIDDLE, RATE)
    assert [note["midi"] for note in played.truth["notes"]] == [58, 62]


def test_touched_slots_and_sirens_are_in_the_truth() -> None:
    way = Change("slur", touched=(Touched(65, 0.05),))
    played = perform((ScoreNote(58, 0.8), ScoreNote(70, 0.8, reached=way)), MIDDLE, RATE)
    (change,) = played.truth["transitions"]
    assert change["touched"] == [{"midi": 65, "duration_s": 0.05}]
    siren = perform((Siren(50, 62, 2, 1.0),), MOUTHPIECE, RATE)
    assert siren.truth["notes"] == []
    assert siren.truth["glides"][0]["span_semitones"] == 12


def test_the_same_arguments_give_the_same_samples() -> None:
    first, again = perform(SCORE, SMALL, RATE), perform(SCORE, SMALL, RATE)
    assert np.array_equal(first.samples, again.samples)
    assert not np.array_equal(first.samples, perform(SCORE, SMALL, RATE, seed=2).samples)


def test_it_grows_brighter_as_it_grows_louder() -> None:
    def centroid(level_db: float) -> float:
        piece = perform((ScoreNote(58, 1.0, level_db),), MIDDLE, RATE).samples[
            RATE : RATE + RATE // 4
        ]
        power = np.abs(np.fft.rfft(piece)) ** 2
        return float((power * np.fft.rfftfreq(len(piece), 1 / RATE)).sum() / power.sum())

    assert centroid(-14) > 1.3 * centroid(-32)


def test_the_bell_keeps_a_pedals_fundamental_weak() -> None:
    (pedal,) = strengths(MIDDLE, np.array([58.27]), np.zeros(1), RATE).T
    assert pedal[0] < 0.3 * pedal.max()
    assert (pedal**2).sum() / 2 == pytest.approx(1)
    assert timbre_of(22) is LARGE
    assert timbre_of(46) is SMALL


def test_a_voice_is_the_horns_at_every_pitch_so_high_notes_have_fewer_overtones() -> None:
    # The corner of the spectrum stays where it is: an octave up, half as many harmonics reach it.
    score = (ScoreNote(58, 1.0), ScoreNote(70, 1.0, reached=Change("breath")))
    low, high = analyse([perform(score, SMALL, RATE).samples], RATE).notes
    assert low.brightness == pytest.approx(2 * high.brightness, rel=0.2)
    assert low.measures.level_db == pytest.approx(high.measures.level_db, abs=0.5)


def test_nothing_sounds_over_half_the_sample_rate() -> None:
    # The 11th harmonic of the high note would lie at 11.5 kHz, and come back at 10.5.
    rate = 22_050
    score = (ScoreNote(58, 1.0), ScoreNote(84, 1.0, reached=Change("slur")))
    sound = perform(score, SMALL, rate).samples[round(1.8 * rate) : round(2.4 * rate)]
    power = np.abs(np.fft.rfft(sound * np.hanning(len(sound)))) ** 2
    hz = np.fft.rfftfreq(len(sound), 1 / rate)
    of_1046 = np.abs(hz / 1046.5 - np.round(hz / 1046.5)) < 0.02
    assert power[~of_1046 & (hz > 500)].sum() < 1e-4 * power.sum()


def test_a_start_is_noisier_than_what_follows_and_a_slurred_note_has_none() -> None:
    # Above 8 kHz a large horn has no harmonics, so that what is there is noise.
    score = (ScoreNote(46, 0.8), ScoreNote(53, 0.8, reached=Change("slur", dip_db=0.0)))
    sound = perform(score, LARGE, RATE, seed=3).samples

    def noise_at(start_s: float, seconds: float = 0.025) -> float:
        part = sound[round(start_s * RATE) : round((start_s + seconds) * RATE)]
        power = np.abs(np.fft.rfft(part * np.hanning(len(part)))) ** 2
        return float(power[np.fft.rfftfreq(len(part), 1 / RATE) > 8000].mean())

    # The first note starts at 0.5 s, the second after it and a slur of 35 ms.
    assert noise_at(0.505) > 1.7 * noise_at(1.0)
    assert noise_at(1.340) < 1.3 * noise_at(1.6)
