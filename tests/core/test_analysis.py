"""Where notes begin and end, and whole analyses, on sounds from their definition."""

import numpy as np
import pytest

from orexis.core.listening.analysis import Analysis, analyse
from tests.sounds import RATE, Samples, bent, noise, silence, softened, steady


def heard(*parts: Samples) -> Analysis:
    sound = np.concatenate(parts)
    return analyse((sound[at : at + RATE] for at in range(0, len(sound), RATE)), RATE)


def test_one_note_has_its_place_name_and_centre() -> None:
    # B♭3 is MIDI 58: 440·2^((58−69)/12) = 233.082 Hz; 12 cents low is 231.472 Hz.
    analysis = heard(silence(0.5), softened(steady(231.472, 2.0)), silence(0.5))
    (note,) = analysis.notes
    assert note.midi == 58
    assert note.measures.centre_cents == pytest.approx(-12, abs=0.2)
    assert note.start_s == pytest.approx(0.5, abs=0.04)
    assert note.end_s == pytest.approx(2.5, abs=0.04)
    assert note.measures.hold_s == pytest.approx(2.0, abs=0.05)
    assert note.measures.spread_cents < 0.5


def test_a_silence_between_makes_two_notes_of_one_pitch() -> None:
    tone = softened(steady(233.08, 0.6))
    analysis = heard(tone, silence(0.2), tone)
    assert [note.midi for note in analysis.notes] == [58, 58]
    ((start_s, end_s),) = analysis.silences
    assert start_s == pytest.approx(0.6, abs=0.04)
    assert end_s == pytest.approx(0.8, abs=0.04)


def test_a_slur_makes_two_notes_that_meet() -> None:
    analysis = heard(steady(233.08, 0.6), steady(349.23, 0.6))
    first, second = analysis.notes
    assert (first.midi, second.midi) == (58, 65)
    assert first.last == second.first
    assert first.end_s == pytest.approx(0.6, abs=0.03)


def test_a_scoop_belongs_to_its_note() -> None:
    cents = np.concatenate((np.linspace(-60, 0, round(0.15 * RATE)), np.zeros(2 * RATE)))
    (note,) = heard(silence(0.2), softened(bent(233.08, cents)), silence(0.2)).notes
    assert note.measures.scoop_cents < -30
    assert note.measures.centre_cents == pytest.approx(0, abs=0.5)


def test_a_fast_siren_makes_no_notes() -> None:
    assert not heard(bent(200, np.linspace(0, 1800, RATE))).notes


def test_silence_and_noise_make_no_notes() -> None:
    assert not heard(silence(1.0), noise(1.0), silence(0.5)).notes


def test_another_a4_moves_the_centre() -> None:
    # A4 at 442 Hz played to a 440 Hz reference: 1200·log2(442/440) = +7.85 cents.
    sound = steady(442.0, 1.0)
    assert analyse([sound], RATE).notes[0].measures.centre_cents == pytest.approx(7.85, abs=0.1)
    at_442 = analyse([sound], RATE, a4_hz=442.0).notes[0]
    assert at_442.measures.centre_cents == pytest.approx(0, abs=0.1)
