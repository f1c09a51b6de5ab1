"""How notes meet, what is touched on the way, glides, sirens and trills: on spliced tones."""

import numpy as np
import pytest

from orexis.core.listening.analysis import Analysis, analyse
from orexis.core.listening.notes.events import Change
from orexis.core.listening.notes.measures import Shape
from orexis.core.listening.notes.passages import PassageFollower
from orexis.core.listening.notes.trills import Trill
from orexis.core.listening.tracking.frames import Frames
from tests.sounds import RATE, Samples, bent, harmonic, noise, silence, softened, steady


def hz(midi: float) -> float:
    return float(440 * 2 ** ((midi - 69) / 12))


def tied(*parts: tuple[float, float]) -> Samples:
    """One breath: pitches (MIDI) held for seconds, one phase running through."""
    pitch = np.concatenate([np.full(round(seconds * RATE), hz(midi)) for midi, seconds in parts])
    return softened(harmonic(pitch))


def heard(sound: Samples, drone_hz: float | None = None) -> Analysis:
    padded = np.concatenate((silence(0.3), sound, silence(0.5)))
    return analyse([padded], RATE, drone_hz=drone_hz)


def test_a_slur_is_told_with_its_time_and_no_gap() -> None:
    (change,) = heard(tied((58, 0.6), (65, 0.6))).transitions
    assert change.kind is Change.SLUR
    assert change.start_s == pytest.approx(0.9, abs=0.02)
    assert change.duration_s <= 0.03
    assert change.gap_s == 0
    assert change.touched == ()


@pytest.mark.parametrize("low", [41, 53, 63, 70])
@pytest.mark.parametrize("dwell_s", [0.035, 0.05, 0.12])
def test_a_slot_that_speaks_on_the_way_is_touched_and_no_note(low: int, dwell_s: float) -> None:
    # Slots 2, 3 and 4 of one length; below 200 Hz a slot must dwell longer to be seen.
    dwell_s = max(dwell_s, 0.06) if low < 56 else dwell_s
    analysis = heard(tied((low, 0.8), (low + 7, dwell_s), (low + 12, 0.8)))
    assert [note.midi for note in analysis.notes] == [low, low + 12]
    (change,) = analysis.transitions
    (touched,) = change.touched
    assert touched.midi == low + 7
    assert touched.duration_s == pytest.approx(dwell_s, abs=0.025)


def test_two_slots_can_be_touched_on_one_way() -> None:
    analysis = heard(tied((58, 0.8), (65, 0.05), (70, 0.05), (74, 0.8)))
    assert [touched.midi for touched in analysis.transitions[0].touched] == [65, 70]


def slid(low: float, high: float, seconds: float) -> Samples:
    """From one pitch to another in so many seconds, a second on each end, on one breath."""
    here, there = (np.full(RATE, hz(midi)) for midi in (high, low))
    way = hz(high) * (hz(low) / hz(high)) ** np.linspace(0, 1, round(seconds * RATE))
    return softened(harmonic(np.concatenate((here, way, there))))


@pytest.mark.parametrize("low", [34, 41, 46])
def test_a_slide_too_quick_for_its_pitch_to_be_told_is_no_gap(low: int) -> None:
    # An octave in 0.32 s: 37 cents a frame, over windows that are as long as a low note needs.
    analysis = heard(slid(low, low + 12, 0.32))
    (change,) = analysis.transitions
    assert (change.kind, change.gap_s) == (Change.GLIDE, 0)
    assert change.duration_s == pytest.approx(0.32, abs=0.06)


def test_what_stops_and_starts_elsewhere_is_a_gap_however_loud_the_air() -> None:
    # Nothing on either side goes to where the other is.
    air = noise(0.32, 0.1)
    parts = (softened(steady(hz(53), 1.0)), air, softened(steady(hz(46), 1.0)))
    (change,) = heard(np.concatenate(parts)).transitions
    assert change.gap_s > 0.25


@pytest.mark.parametrize("octave", [12, 19])
def test_an_octave_or_twelfth_leaves_nothing_touched_that_was_not(octave: int) -> None:
    for low in (46, 58, 65):
        for parts in ((low, low + octave), (low + octave, low)):
            analysis = heard(tied((parts[0], 0.7), (parts[1], 0.7)))
            assert [note.midi for note in analysis.notes] == list(parts)
            assert analysis.transitions[0].touched == ()


def test_short_notes_of_a_fast_passage_are_notes() -> None:
    midis = [58, 60, 62, 63, 65, 63, 62, 60, 58]
    analysis = heard(tied(*[(midi, 0.1) for midi in midis]))
    assert [note.midi for note in analysis.notes] == midis
    assert all(change.kind is Change.SLUR for change in analysis.transitions)


def test_a_wrong_slot_at_the_start_is_a_crack() -> None:
    (note,) = heard(tied((51, 0.06), (58, 1.0))).notes
    assert (note.midi, note.cracked_from_midi) == (58, 51)
    assert abs(note.measures.scoop_cents) < 5


@pytest.mark.parametrize(("gap_s", "kind"), [(0.06, Change.TONGUED), (0.5, Change.BREATH)])
def test_silence_between_is_a_gap_of_its_length(gap_s: float, kind: Change) -> None:
    tone, second = softened(steady(hz(58), 0.6)), softened(steady(hz(65), 0.6))
    (change,) = heard(np.concatenate((tone, silence(gap_s), second))).transitions
    assert change.kind is kind
    # The soft ends add a little to the silence.
    assert change.gap_s == pytest.approx(gap_s + 0.02, abs=0.03)


def test_the_tongue_makes_two_notes_of_one_pitch() -> None:
    tone = steady(hz(58), 1.2)
    time_s = np.arange(len(tone)) / RATE
    dip = 1 - 0.9 * np.exp(-(((time_s - 0.6) / 0.02) ** 2))
    analysis = heard(softened(tone * dip))
    assert [note.midi for note in analysis.notes] == [58, 58]
    assert analysis.transitions[0].kind is Change.TONGUED
    assert analysis.transitions[0].dip_db > 9


def test_a_level_that_wanes_before_a_change_is_told() -> None:
    sound = tied((58, 1.0), (65, 1.0))
    level = np.ones(len(sound))
    fade = round(0.8 * RATE), round(0.95 * RATE)
    level[fade[0] : fade[1]] = np.linspace(1, 10 ** (-6 / 20), fade[1] - fade[0])
    level[fade[1] : RATE] = 10 ** (-6 / 20)
    (change,) = heard(sound * level).transitions
    assert change.waning_db == pytest.approx(6, abs=1)
    assert heard(sound).transitions[0].waning_db < 1


def test_pitch_that_goes_past_the_note_is_an_overshoot() -> None:
    cents = np.concatenate((np.zeros(RATE), np.full(RATE, 700.0)))
    past = round(0.08 * RATE)
    cents[RATE : RATE + past] += np.linspace(40, 0, past)
    (change,) = heard(softened(bent(hz(58), cents))).transitions
    assert change.overshoot_cents == pytest.approx(36, abs=8)


def test_a_slow_half_step_is_two_notes_and_a_glide() -> None:
    cents = np.concatenate((np.zeros(RATE), np.linspace(0, 100, RATE), np.full(RATE, 100.0)))
    analysis = heard(softened(bent(hz(53), cents)))
    assert [note.midi for note in analysis.notes] == [53, 54]
    assert abs(analysis.notes[0].measures.centre_cents) < 3
    assert abs(analysis.notes[1].measures.centre_cents) < 3
    (glide,) = analysis.glides
    assert glide.span_semitones == pytest.approx(1, abs=0.1)
    assert glide.start_s == pytest.approx(1.3, abs=0.12)
    assert glide.end_s == pytest.approx(2.3, abs=0.12)
    assert analysis.transitions[0].kind is Change.GLIDE


def test_a_note_between_two_glides_may_shift_and_stays_a_note() -> None:
    def way(start: float, end: float, seconds: float) -> Samples:
        return np.linspace(start, end, round(seconds * RATE))

    cents = np.concatenate(
        (
            way(0, 0, 0.6),
            way(0, 450, 0.3),
            way(450, 450, 0.6),
            way(450, 485, 0.1),
            way(485, 485, 0.7),
            way(485, 850, 0.3),
            way(850, 850, 0.6),
        )
    )
    analysis = heard(softened(bent(hz(50), cents)))
    assert [note.midi for note in analysis.notes] == [50, 55, 58]
    assert len(analysis.glides) == 2
    assert [change.kind for change in analysis.transitions] == [Change.GLIDE] * 2


@pytest.mark.parametrize("seconds", [0.8, 2.0, 4.0])
@pytest.mark.parametrize("semitones", [7, 24])
def test_a_siren_is_one_glide_and_no_note(seconds: float, semitones: int) -> None:
    time_s = np.arange(round(2 * seconds * RATE)) / RATE
    cents = 50 * semitones * (1 - np.cos(np.pi * time_s / seconds))
    analysis = heard(softened(bent(hz(50), cents)))
    assert analysis.notes == ()
    (glide,) = analysis.glides
    assert glide.passes == 2
    assert glide.breaks == 0
    assert glide.span_semitones == pytest.approx(semitones, abs=0.3)
    # The fastest of a cosine is π/2 of its mean, a frame being 10 ms.
    fastest = 100 * semitones / seconds * np.pi / 2 * 0.01
    assert glide.largest_jump_cents == pytest.approx(fastest, rel=0.2, abs=3)


def test_a_siren_that_breaks_off_has_a_break() -> None:
    time_s = np.arange(2 * RATE) / RATE
    cents = 600 * time_s
    cents[RATE:] += 300
    (glide,) = heard(softened(bent(hz(50), cents))).glides
    assert glide.breaks == 1
    assert glide.largest_jump_cents == pytest.approx(306, abs=40)


def test_vibrato_makes_neither_glides_nor_trills_nor_scoops() -> None:
    time_s = np.arange(3 * RATE) / RATE
    analysis = heard(softened(bent(hz(62), 40 * np.sin(2 * np.pi * 5.5 * time_s))))
    (note,) = analysis.notes
    assert note.measures.vibrato is not None
    assert note.measures.vibrato.extent_cents == pytest.approx(40, abs=4)
    assert analysis.glides == ()
    assert analysis.trills == ()
    assert abs(note.measures.scoop_cents) < 10


def trill(low: float, high: float, rate_hz: float, turns: int) -> Trill:
    length = 1 / (2 * rate_hz)
    parts = [(high if turn % 2 else low, length) for turn in range(turns)]
    analysis = heard(tied((low, 0.5), *parts))
    assert len(analysis.notes) >= turns - 1
    (found,) = analysis.trills
    return found


@pytest.mark.parametrize("rate_hz", [3.0, 5.0, 7.5, 10.0])
@pytest.mark.parametrize("interval", [1, 2, 5])
def test_a_trill_has_its_rate_and_is_clear(rate_hz: float, interval: int) -> None:
    found = trill(65, 65 + interval, rate_hz, 20)
    assert (found.low_midi, found.high_midi) == (65, 65 + interval)
    assert found.rate_hz == pytest.approx(rate_hz, rel=0.06)
    assert found.clear_share > 0.9
    assert found.evenness_cv < 0.15


def test_a_smeared_trill_is_less_clear_than_a_clean_one() -> None:
    # Every third of its upper notes lands 60 cents short.
    length, parts = 0.1, []
    for turn in range(24):
        upper = 67 - (0.6 if turn % 6 == 1 else 0.0)
        parts.append((upper if turn % 2 else 65.0, length))
    (found,) = heard(tied(*parts)).trills
    assert found.clear_share == pytest.approx(1 - 4 / 24, abs=0.06)


def test_an_uneven_trill_has_its_spread() -> None:
    lengths = [0.08, 0.12] * 10
    parts = [(67.0 if i % 2 else 65.0, seconds) for i, seconds in enumerate(lengths)]
    (found,) = heard(tied(*parts)).trills
    # Two lengths 20 % either side of their mean.
    assert found.evenness_cv == pytest.approx(0.2, abs=0.06)


@pytest.mark.parametrize(
    ("level", "shape"),
    [
        ([1.0, 1.0], Shape.STEADY),
        ([0.3, 1.0], Shape.CRESCENDO),
        ([1.0, 0.3], Shape.DIMINUENDO),
        ([0.3, 1.0, 0.3], Shape.SWELL),
    ],
)
def test_dynamics_have_a_shape(level: list[float], shape: Shape) -> None:
    tone = steady(hz(58), 2.0)
    ends = np.linspace(0, 1, len(level))
    decibels = np.interp(np.linspace(0, 1, len(tone)), ends, 20 * np.log10(level))
    (note,) = heard(softened(tone * 10 ** (decibels / 20))).notes
    assert note.measures.shape is shape


def test_a_slow_rise_is_measured() -> None:
    tone = steady(hz(58), 1.5)
    ramp = np.clip(np.arange(len(tone)) / RATE / 0.25, 0, 1)
    (note,) = heard(softened(tone * ramp)).notes
    # From 10 to 90 % of a straight line of 250 ms.
    assert note.measures.rise_s == pytest.approx(0.2, abs=0.04)


def test_a_drone_it_knows_of_is_not_heard_and_the_player_on_it_is() -> None:
    drone = harmonic(np.full(6 * RATE, 220.0)) * 10 ** (-18 / 20)
    player = np.concatenate(
        (silence(1.5), softened(steady(220.0, 1.5)), silence(1.0), softened(steady(330.0, 1.5)))
    )
    sound = drone.copy()
    sound[: len(player)] += player
    notes = heard(sound, drone_hz=220.0).notes
    assert [note.midi for note in notes] == [57, 64]
    assert notes[0].start_s == pytest.approx(1.8, abs=0.05)
    # 330 Hz lies 2 cents over E4.
    assert notes[1].measures.centre_cents == pytest.approx(1.96, abs=0.5)


@pytest.mark.parametrize("midi", [29, 57, 69])
def test_a_soft_note_is_heard_beside_a_drone_whatever_their_interval(midi: int) -> None:
    # A pedal two octaves and a third under the drone, the drone's own pitch, and its octave; the
    # drone leaks at −38 dB, the player is at −30.
    drone = harmonic(np.full(4 * RATE, 220.0))
    drone *= 10 ** (-38 / 20) / drone.std()
    tone = softened(steady(hz(midi), 1.5))
    sound = np.concatenate((silence(1.0), tone * 10 ** (-30 / 20) / tone.std(), silence(1.5)))
    notes = analyse([drone + sound], RATE, drone_hz=220.0).notes
    assert [note.midi for note in notes] == [midi]


def test_with_headphones_even_the_softest_unison_is_heard() -> None:
    tone = softened(steady(220.0, 1.5))
    sound = np.concatenate((noise(1.0, 1e-4), tone * 10 ** (-36 / 20) / tone.std()))
    (note,) = analyse([sound], RATE, drone_hz=220.0).notes
    assert note.midi == 57


def test_a_drone_is_taken_out_alike_whatever_the_chunks() -> None:
    drone = 0.1 * steady(220.0, 3.0)
    drone[RATE : 2 * RATE] += steady(293.665, 1.0)
    found = []
    for size in (480, 5000, len(drone)):
        chunks = [drone[at : at + size] for at in range(0, len(drone), size)]
        found.append(analyse(chunks, RATE, drone_hz=220.0).frames.f0_hz)
    assert np.array_equal(found[0], found[1], equal_nan=True)
    assert np.array_equal(found[0], found[2], equal_nan=True)


def test_a_metronome_alone_makes_no_notes() -> None:
    time_s = np.arange(round(0.02 * RATE)) / RATE
    click = 0.4 * np.sin(2 * np.pi * 1500 * time_s) * np.exp(-time_s / 0.005)
    sound = silence(4.0)
    for at in range(0, 4 * RATE, RATE // 2):
        sound[at : at + len(click)] += click
    assert heard(sound).notes == ()


def test_a_hum_beside_the_player_is_not_a_note() -> None:
    hum = harmonic(np.full(4 * RATE, 50.0)) * 10 ** (-34 / 20)
    sound = hum.copy()
    sound[RATE : 3 * RATE] += softened(steady(hz(58), 2.0))
    assert [note.midi for note in heard(sound).notes if note.midi == 58] == [58]


def test_passages_do_not_depend_on_how_frames_arrive() -> None:
    sound = np.concatenate(
        (tied((58, 0.5), (65, 0.05), (70, 0.6)), silence(0.5), noise(0.2), tied((62, 0.7)))
    )
    frames = heard(sound).frames
    whole = PassageFollower(440.0)
    wanted = whole.step(frames) + whole.finish()
    for size in (1, 7, 64):
        follower = PassageFollower(440.0)
        found = []
        for at in range(0, len(frames), size):
            found += follower.step(frames.between(at, at + size))
        assert found + follower.finish() == wanted


def test_nothing_comes_of_nothing() -> None:
    follower = PassageFollower(440.0)
    assert follower.step(Frames.none()) + follower.finish() == []


def in_a_church(sound: Samples) -> Samples:
    """Reflections that take 1.5 s to die away, 8 dB under the direct sound in all."""
    random = np.random.default_rng(5)
    time_s = np.arange(round(1.5 * RATE)) / RATE
    tail: Samples = random.standard_normal(len(time_s)) * 10 ** (-3 * time_s / 1.5)
    tail[: round(0.006 * RATE)] = 0
    tail *= 10 ** (-8 / 20) / np.sqrt((tail**2).sum())
    tail[0] = 1.0
    size = 1 << (len(sound) + len(tail)).bit_length()
    wet = np.fft.irfft(np.fft.rfft(sound, size) * np.fft.rfft(tail, size), size)
    return wet[: len(sound) + len(tail)]


def test_what_the_room_says_after_a_note_is_not_the_note() -> None:
    (note,) = heard(in_a_church(softened(steady(hz(62), 2.0)))).notes
    assert note.end_s == pytest.approx(2.3, abs=0.3)
    assert abs(note.measures.sag_cents) < 8
    assert abs(note.measures.centre_cents) < 3


def test_tongued_notes_stay_apart_in_a_room() -> None:
    tone = softened(steady(hz(58), 0.4))
    sound = in_a_church(np.concatenate([part for _ in range(4) for part in (tone, silence(0.08))]))
    notes = heard(sound).notes
    assert [note.midi for note in notes] == [58] * 4


def test_an_echo_played_softly_is_heard() -> None:
    loud, soft = softened(steady(hz(58), 0.6)), softened(steady(hz(58), 0.6)) * 10 ** (-20 / 20)
    notes = heard(np.concatenate((loud, silence(0.15), soft))).notes
    assert [note.midi for note in notes] == [58, 58]


def test_a_quiet_recording_is_heard_all_the_same() -> None:
    sound = tied((58, 0.6), (65, 0.6)) * 10 ** (-35 / 20)
    assert [note.midi for note in heard(sound).notes] == [58, 65]


def test_a_long_diminuendo_is_held_to_its_end() -> None:
    tone = steady(hz(58), 4.0)
    fading = 10 ** (np.linspace(0, -26, len(tone)) / 20)
    (note,) = heard(softened(tone * fading)).notes
    assert note.end_s == pytest.approx(4.3, abs=0.05)
    assert note.measures.shape is Shape.DIMINUENDO


@pytest.mark.parametrize("air_s", [0.1, 0.25])
def test_air_before_a_note_speaks_is_its_response(air_s: float) -> None:
    # A room at −70 dB, air 25 dB under the tone, then the tone.
    tone = tied((58, 1.0))
    room = noise(1.5 + air_s + 1.0 + 0.5, 3e-4)
    air = noise(air_s, float(tone.std()) * 10 ** (-25 / 20))
    sound = room.copy()
    sound[round(1.5 * RATE) :][: len(air)] += air
    sound[round((1.5 + air_s) * RATE) :][: len(tone)] += tone
    (note,) = analyse([sound], RATE).notes
    assert note.measures.response_s == pytest.approx(air_s, abs=0.03)


def test_a_note_that_speaks_at_once_has_no_response_time_and_later_ones_none_at_all() -> None:
    first, second = heard(tied((58, 0.6), (65, 0.6))).notes
    assert first.measures.response_s == pytest.approx(0, abs=0.02)
    assert second.measures.response_s is None


def test_response_does_not_depend_on_the_size_of_the_chunks() -> None:
    sound = np.concatenate((noise(1.0, 3e-4), noise(0.15, 8e-3), tied((58, 1.0)), silence(0.5)))
    found = []
    for size in (97, 512, len(sound)):
        chunks = [sound[at : at + size] for at in range(0, len(sound), size)]
        found.append(analyse(chunks, RATE).notes[0].measures.response_s)
    assert found[0] == found[1] == found[2]


def test_a_slur_whose_pitch_moves_too_quickly_to_be_told_is_no_gap() -> None:
    # An octave in 80 ms, while the level falls by 6 dB and rises again.
    times_s = np.arange(round(2.0 * RATE)) / RATE
    cents = np.interp(times_s, [0.96, 1.04], [0.0, 1200.0])
    dip_db = np.interp(times_s, [0.96, 1.0, 1.04], [0.0, -6.0, 0.0])
    sound = bent(233.082, cents) * 10 ** (dip_db / 20)
    heard = analyse([np.concatenate((silence(0.5), softened(sound), silence(0.5)))], RATE)
    assert [note.midi for note in heard.notes] == [58, 70]
    (change,) = heard.transitions
    assert (change.kind, change.gap_s) == (Change.SLUR, 0.0)


@pytest.mark.parametrize(("first_hz", "second_hz", "midis"), [(174.61, 233.08, [53, 58])])
def test_two_notes_that_sound_together_for_a_moment_are_no_third_below(
    first_hz: float, second_hz: float, midis: list[int]
) -> None:
    # A fourth: both are harmonics of B♭1. The first rings on for 80 ms, as in a lively room.
    first, second = steady(first_hz, 1.08), steady(second_hz, 1.0)
    first[-round(0.08 * RATE) :] *= np.linspace(1.0, 0.3, round(0.08 * RATE))
    sound = np.zeros(round(3.0 * RATE))
    sound[round(0.5 * RATE) :][: len(first)] += softened(first)
    sound[round(1.5 * RATE) :][: len(second)] += softened(second)
    heard = analyse([sound], RATE)
    assert [note.midi for note in heard.notes] == midis
