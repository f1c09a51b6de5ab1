"""The stand-in player: its faults have the sizes they are said to have.

Ground truth is the waveform itself (spectra and envelopes), then the whole path is held to it.
"""

import numpy as np
import pytest

from orexis.core.horn.instruments import INSTRUMENTS, Instrument
from orexis.core.horn.setup import Horn, Setup
from orexis.core.horn.tuning import Temperament, Tuning
from orexis.core.listening.analysis import analyse
from orexis.core.listening.notes.events import Note
from orexis.standin.performance import Performance, perform
from orexis.standin.player import Skill, played_with
from orexis.standin.score import ScoreNote
from orexis.standin.tone import timbre_of
from tests.core.exercises.writing import task
from tests.sounds import RATE, Samples

PLAIN = Skill()
HOLD_S = 5.0
LEAD_S = 0.5
A3, B_FLAT_1 = 57, 34


def one_note(
    midi: float, skill: Skill, fundamental_midi: int, seed: int = 1, a4_hz: float = 440.0
) -> Performance:
    """A note of five seconds on a horn whose open fundamental is a MIDI number."""
    note = ScoreNote(midi, HOLD_S, faults=skill.faults)
    return perform((note,), timbre_of(fundamental_midi), RATE, seed=seed, a4_hz=a4_hz)


def played(midi: float, skill: Skill, fundamental_midi: int = 39, seed: int = 1) -> Samples:
    return one_note(midi, skill, fundamental_midi, seed).samples


def spectral_peak_hz(sound: Samples, near_hz: float) -> float:
    """The strongest frequency within a semitone of one, from a long padded spectrum."""
    size = 1 << 21
    spectrum = np.abs(np.fft.rfft(sound * np.hanning(len(sound)), size))
    frequencies = np.fft.rfftfreq(size, 1 / RATE)
    window = np.abs(12 * np.log2(np.maximum(frequencies, 1) / near_hz)) < 1
    return float(frequencies[window][np.argmax(spectrum[window])])


def middle(sound: Samples, hold_s: float = HOLD_S) -> Samples:
    start = round((LEAD_S + 0.5) * RATE)
    return sound[start : start + round((hold_s - 1) * RATE)]


@pytest.mark.parametrize("cents", [-22.0, 0.0, 14.0])
def test_the_centre_is_where_it_was_set(cents: float) -> None:
    sound = played(A3, Skill(centre_cents=cents))
    heard = 1200 * np.log2(spectral_peak_hz(middle(sound), 220.0) / 220.0)
    assert heard == pytest.approx(cents, abs=1.0)


def test_it_is_quiet_before_and_after_the_note() -> None:
    sound = played(A3, PLAIN)
    assert len(sound) == round((LEAD_S + HOLD_S + 0.8) * RATE)
    assert np.abs(sound[: round(0.49 * RATE)]).max() < 0.001
    assert np.abs(sound[-round(0.79 * RATE) :]).max() < 0.001
    assert np.abs(middle(sound)).max() > 0.05


def test_it_never_clips() -> None:
    for midi in (22, 46, 82):
        assert np.abs(played(midi, Skill(breath_db=-10))).max() < 1


def test_the_same_arguments_give_the_same_samples_and_another_seed_others() -> None:
    first, again = played(A3, PLAIN), played(A3, PLAIN)
    assert np.array_equal(first, again)
    assert not np.array_equal(first, played(A3, PLAIN, seed=2))


def test_low_notes_have_their_strength_above_the_fundamental_as_brass_does() -> None:
    sound = middle(played(B_FLAT_1, PLAIN, 34))
    power = np.abs(np.fft.rfft(sound * np.hanning(len(sound)))) ** 2
    frequencies = np.fft.rfftfreq(len(sound), 1 / RATE)
    fundamental = power[frequencies < 1.5 * 58.27].sum()
    assert power[frequencies >= 1.5 * 58.27].sum() > 3 * fundamental


def heard(midi: float, skill: Skill, instrument: Instrument | None = None) -> Note:
    sound = played(midi, skill, instrument.fundamental_midi if instrument else 39)
    notes = analyse([sound], RATE).notes
    return max(notes, key=lambda note: note.last - note.first)


@pytest.mark.parametrize("breath_db", [-30.0, -20.0, -12.0])
def test_breath_is_heard_as_harmonicity(breath_db: float) -> None:
    # Noise at −20 dB of the tone is a harmonics-to-noise ratio of 20 dB; lips that are never
    # quite still take a little more off a clear tone.
    note = heard(A3, Skill(breath_db=breath_db))
    assert note.harmonicity_db == pytest.approx(-breath_db, abs=2)


PLAYERS = [
    (INSTRUMENTS["tenor-horn-eb"], 58),
    (INSTRUMENTS["cornet-bb"], 65),
    (INSTRUMENTS["trombone-bass"], 46),
    (INSTRUMENTS["tuba-eb-4v-comp"], 39),
]


@pytest.mark.parametrize(
    ("instrument", "midi"), PLAYERS, ids=[instrument.key for instrument, _ in PLAYERS]
)
class TestFaultsAreFoundOnEveryInstrument:
    """Sizes of the normal standard, on a comfortable note of each horn."""

    def test_a_clean_note_has_none(self, instrument: Instrument, midi: int) -> None:
        measures = heard(midi, PLAIN, instrument).measures
        assert abs(measures.centre_cents) < 2
        assert measures.spread_cents < 2
        assert abs(measures.scoop_cents) < 6
        assert abs(measures.sag_cents) < 6
        assert measures.hold_s == pytest.approx(HOLD_S, abs=0.1)

    def test_a_scoop(self, instrument: Instrument, midi: int) -> None:
        measures = heard(midi, Skill(scoop_cents=-50), instrument).measures
        # The 40 ms farthest out begin a little after the lowest point.
        assert -55 < measures.scoop_cents < -30

    def test_a_sag(self, instrument: Instrument, midi: int) -> None:
        measures = heard(midi, Skill(sag_cents=-35), instrument).measures
        assert -40 < measures.sag_cents < -22

    def test_a_wobble(self, instrument: Instrument, midi: int) -> None:
        measures = heard(midi, Skill(wobble_cents=18), instrument).measures
        # A sine's half range from 16 to 84 % is 0.876 of its extent.
        assert measures.vibrato is None
        assert measures.spread_cents == pytest.approx(0.876 * 18, abs=3)

    def test_a_note_off_its_centre(self, instrument: Instrument, midi: int) -> None:
        note = heard(midi, Skill(centre_cents=-28), instrument)
        assert note.midi == midi
        assert note.measures.centre_cents == pytest.approx(-28, abs=2)


def test_its_truth_is_the_skill_it_was_set_to() -> None:
    skill = Skill(centre_cents=-7, scoop_cents=-30, vibrato_cents=12)
    (note,) = one_note(A3, skill, 39).truth["notes"]
    assert (note["midi"], note["centre_cents"], note["onset"]["scoop_cents"]) == (57, -7, -30)
    assert note["vibrato"] == {"rate_hz": 5.5, "extent_cents": 12}
    assert note["end_s"] - note["start_s"] == HOLD_S


def test_another_a4_moves_the_sound_and_not_the_note() -> None:
    sound = one_note(A3, PLAIN, 39, a4_hz=442.0).samples
    assert spectral_peak_hz(middle(sound), 221.0) == pytest.approx(221.0, abs=0.15)


def test_a_score_is_played_with_its_faults_where_they_show_and_held_as_set() -> None:
    # F3 B♭3 F3 slurred, two beats each, free: a beat is a second, and the last a little longer.
    written = task("lip-slur", "trombone-tenor", times=1).score
    skill = Skill(centre_cents=-9, scoop_cents=-30, sag_cents=-20, holds_percent=50)
    horn = Horn(INSTRUMENTS["trombone-tenor"])
    first, middle_note, last = played_with(skill, written, horn)
    assert isinstance(first, ScoreNote)
    assert isinstance(middle_note, ScoreNote)
    assert isinstance(last, ScoreNote)
    assert [note.faults.centre_cents for note in (first, middle_note, last)] == [-9, -9, -9]
    assert [note.faults.scoop_cents for note in (first, middle_note, last)] == [-30, 0, 0]
    assert [note.faults.sag_cents for note in (first, middle_note, last)] == [0, 0, -20]
    assert first.seconds == 2
    # Four beats, a seventh of a second longer, less the slur: half of that.
    assert last.seconds == pytest.approx((4 + 0.15 - 0.035) / 2)


def test_it_plays_to_the_tuning_of_the_horn() -> None:
    # Over E♭ the just third G lies 13.7 cents low.
    just = Horn(INSTRUMENTS["tenor-horn-eb"], Setup(tuning=Tuning(Temperament.JUST, 3)))
    written = task("long-tone", "tenor-horn-eb", from_midi="G4").score
    (note,) = played_with(PLAIN, written, just)
    assert isinstance(note, ScoreNote)
    assert note.midi == pytest.approx(67 - 0.137, abs=0.001)
