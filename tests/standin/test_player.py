"""The stand-in player: its faults have the sizes they are said to have.

Ground truth is the waveform itself (spectra and envelopes), then the whole path is held to it.
"""

import numpy as np
import pytest

from orexis.core.horn.instruments import INSTRUMENTS, Instrument
from orexis.core.horn.pitch import hz_from_midi
from orexis.core.listening.analysis import analyse
from orexis.core.listening.events import Note
from orexis.standin.player import Skill, play_long_tone
from tests.sounds import RATE, Samples

PLAIN = Skill(hold_s=3.0)
LEAD_S = 0.5


def spectral_peak_hz(sound: Samples, near_hz: float) -> float:
    """The strongest frequency within a semitone of one, from a long padded spectrum."""
    size = 1 << 21
    spectrum = np.abs(np.fft.rfft(sound * np.hanning(len(sound)), size))
    frequencies = np.fft.rfftfreq(size, 1 / RATE)
    window = np.abs(12 * np.log2(np.maximum(frequencies, 1) / near_hz)) < 1
    return float(frequencies[window][np.argmax(spectrum[window])])


def middle(sound: Samples, hold_s: float = 3.0) -> Samples:
    start = round((LEAD_S + 0.5) * RATE)
    return sound[start : start + round((hold_s - 1) * RATE)]


@pytest.mark.parametrize("cents", [-22.0, 0.0, 14.0])
def test_the_centre_is_where_it_was_set(cents: float) -> None:
    sound = play_long_tone(220.0, Skill(centre_cents=cents, hold_s=3.0))
    heard = 1200 * np.log2(spectral_peak_hz(middle(sound), 220.0) / 220.0)
    assert heard == pytest.approx(cents, abs=1.0)


def test_it_is_quiet_before_and_after_the_note() -> None:
    sound = play_long_tone(220.0, PLAIN)
    assert len(sound) == round((LEAD_S + 3.0 + 0.8) * RATE)
    assert np.abs(sound[: round(0.49 * RATE)]).max() < 0.001
    assert np.abs(sound[-round(0.79 * RATE) :]).max() < 0.001
    assert np.abs(middle(sound)).max() > 0.05


def test_it_never_clips() -> None:
    for f0_hz in (29.1, 116.5, 932.3):
        assert np.abs(play_long_tone(f0_hz, Skill(breath_db=-10, hold_s=2.0))).max() < 1


def test_the_same_arguments_give_the_same_samples_and_another_seed_others() -> None:
    first, again = play_long_tone(220.0, PLAIN), play_long_tone(220.0, PLAIN)
    assert np.array_equal(first, again)
    assert not np.array_equal(first, play_long_tone(220.0, PLAIN, seed=2))


def test_low_notes_have_their_strength_above_the_fundamental_as_brass_does() -> None:
    sound = middle(play_long_tone(58.27, PLAIN))
    power = np.abs(np.fft.rfft(sound * np.hanning(len(sound)))) ** 2
    frequencies = np.fft.rfftfreq(len(sound), 1 / RATE)
    fundamental = power[frequencies < 1.5 * 58.27].sum()
    assert power[frequencies >= 1.5 * 58.27].sum() > 3 * fundamental


def heard(f0_hz: float, skill: Skill) -> Note:
    sound = play_long_tone(f0_hz, skill)
    notes = analyse([sound], RATE).notes
    return max(notes, key=lambda note: note.last - note.first)


@pytest.mark.parametrize("breath_db", [-30.0, -20.0, -12.0])
def test_breath_is_heard_as_harmonicity(breath_db: float) -> None:
    # Noise at −20 dB of the tone is a harmonics-to-noise ratio of 20 dB.
    note = heard(220.0, Skill(breath_db=breath_db, hold_s=3.0))
    assert note.harmonicity_db == pytest.approx(-breath_db, abs=1.5)


PLAYERS = [
    (INSTRUMENTS["tenor-horn-eb"], 58),
    (INSTRUMENTS["cornet-bb"], 65),
    (INSTRUMENTS["trombone-bass"], 46),
    (INSTRUMENTS["tuba-eb-4v-comp"], 39),
]


@pytest.mark.parametrize(("instrument", "midi"), PLAYERS, ids=[one.key for one, _ in PLAYERS])
class TestFaultsAreFoundOnEveryInstrument:
    """Sizes of the normal gate, on a comfortable note of each horn."""

    def test_a_clean_note_has_none(self, instrument: Instrument, midi: int) -> None:
        measures = heard(hz_from_midi(midi), PLAIN).measures
        assert abs(measures.centre_cents) < 2
        assert measures.spread_cents < 2
        assert abs(measures.scoop_cents) < 6
        assert abs(measures.sag_cents) < 6
        assert measures.hold_s == pytest.approx(3.0, abs=0.1)

    def test_a_scoop(self, instrument: Instrument, midi: int) -> None:
        measures = heard(hz_from_midi(midi), Skill(scoop_cents=-50, hold_s=3.0)).measures
        # The 40 ms farthest out begin a little after the lowest point.
        assert -55 < measures.scoop_cents < -30

    def test_a_sag(self, instrument: Instrument, midi: int) -> None:
        measures = heard(hz_from_midi(midi), Skill(sag_cents=-35, hold_s=3.0)).measures
        assert -40 < measures.sag_cents < -22

    def test_a_wobble(self, instrument: Instrument, midi: int) -> None:
        measures = heard(hz_from_midi(midi), Skill(wobble_cents=18, hold_s=5.0)).measures
        # A sine's half range from 16 to 84 % is 0.876 of its extent.
        assert measures.vibrato is None
        assert measures.spread_cents == pytest.approx(0.876 * 18, abs=3)

    def test_a_note_off_its_centre(self, instrument: Instrument, midi: int) -> None:
        note = heard(hz_from_midi(midi), Skill(centre_cents=-28, hold_s=3.0))
        assert note.midi == midi
        assert note.measures.centre_cents == pytest.approx(-28, abs=2)
