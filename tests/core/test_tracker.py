"""The frame tracker on signals whose truth is in their definition."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from orexis.core.listening.tracking.frames import HOP_S, Frames
from orexis.core.listening.tracking.tracker import FrameTracker
from tests.core.hearing import tracked
from tests.sounds import RATE, Samples, bent, harmonic, noise, silence, steady


def cents_off(frames: Frames, f0_hz: float) -> Samples:
    return 1200 * np.log2(frames.f0_hz / f0_hz)


@pytest.mark.parametrize("rate", [44_100, 48_000, 96_000])
@pytest.mark.parametrize("f0_hz", [25.5, 38.9, 58.27, 98.0, 103.0, 233.08, 466.2, 932.3, 1990.0])
def test_a_steady_tone_is_heard_within_half_a_cent(f0_hz: float, rate: int) -> None:
    frames = tracked(steady(f0_hz, 1.0, rate), rate)
    inner = cents_off(frames, f0_hz)[15:-15]
    assert np.all(np.isfinite(inner))
    assert np.max(np.abs(inner)) < 0.5


def test_there_is_a_frame_every_ten_milliseconds() -> None:
    frames = tracked(steady(220, 1.0))
    assert len(frames) == 100
    assert frames.time_s[37] == pytest.approx(0.37)


def test_a_slow_glide_is_followed_at_every_frame() -> None:
    # 400 cents in 2 s: 2 cents a frame.
    cents = np.linspace(0, 400, 2 * RATE)
    frames = tracked(bent(200, cents))
    truth = 400 * frames.time_s / 2
    heard = cents_off(frames, 200)[10:-10]
    assert np.max(np.abs(heard - truth[10:-10])) < 3


def test_two_notes_are_heard_with_the_change_where_it_is() -> None:
    frames = tracked(np.concatenate((steady(233.08, 0.5), steady(349.23, 0.5))))
    assert np.nanmax(np.abs(cents_off(frames, 233.08)[5:45])) < 1
    assert np.nanmax(np.abs(cents_off(frames, 349.23)[55:95])) < 1


def test_silence_has_no_pitch_and_the_lowest_level() -> None:
    frames = tracked(silence(0.5))
    assert not frames.voiced.any()
    assert np.all(frames.level_db == -100)


def test_noise_has_no_pitch() -> None:
    assert tracked(noise(2.0)).voiced.mean() < 0.005


def test_a_tone_in_noise_20_db_below_it_keeps_its_pitch() -> None:
    tone = steady(174.61, 2.0)
    frames = tracked(tone + noise(2.0, tone.std() / 10))
    inner = cents_off(frames, 174.61)[15:-15]
    assert np.mean(np.isfinite(inner)) > 0.995
    assert np.nanmedian(np.abs(inner)) < 2


def test_a_low_note_is_heard_by_its_harmonics_alone() -> None:
    # A pedal through a microphone that loses everything under 250 Hz.
    frames = tracked(steady(58.27, 1.0, skip=4))
    assert np.nanmedian(np.abs(cents_off(frames, 58.27))) < 1


@pytest.mark.parametrize("f0_hz", [26.0, 29.14, 32.7])
def test_the_level_of_a_pedal_does_not_go_up_and_down_with_its_pulses(f0_hz: float) -> None:
    # A pulse a period, rung off by 17 dB in 8 ms: the 28 ms about a frame may hold none.
    since_s = (np.arange(2 * RATE) / RATE) % (1 / f0_hz)
    pulses = 0.5 * np.exp(-since_s / 0.004) * np.sin(2 * np.pi * 300 * since_s)
    frames = tracked(pulses)
    assert np.ptp(frames.level_db[20:-20]) < 1
    assert np.abs(cents_off(frames, f0_hz)[20:-20]).max() < 5


@pytest.mark.parametrize("f0_hz", [43.65, 58.27, 73.42])
def test_a_low_vibrato_is_nearly_as_wide_as_it_is(f0_hz: float) -> None:
    swing = 25 * np.sin(2 * np.pi * 5.5 * np.arange(2 * RATE) / RATE)
    heard = cents_off(tracked(bent(f0_hz, swing)), f0_hz)[20:-20]
    # The mean over 60 ms leaves sin(π·0.33)/(π·0.33) = 0.83 of it.
    assert 0.8 * 25 < np.percentile(np.abs(heard), 98) < 26


def test_level_is_rms_in_db_below_full_scale() -> None:
    # A sine of peak 0.5: 20·log10(0.5/√2) = −9.03 dB.
    sine = 0.5 * np.sin(2 * np.pi * 440 * np.arange(RATE) / RATE)
    assert np.median(tracked(sine).level_db) == pytest.approx(-9.03, abs=0.05)


def test_harmonicity_is_the_ratio_of_tone_to_noise() -> None:
    tone = steady(220, 2.0)
    frames = tracked(tone + noise(2.0, tone.std() / 10 ** (15 / 20)))
    assert np.nanmedian(frames.harmonicity_db) == pytest.approx(15, abs=1)


def test_brightness_is_the_spectral_centroid_in_multiples_of_the_pitch() -> None:
    # Two harmonics of equal power: the centroid lies half-way, at 1.5 f0.
    phase = 2 * np.pi * 300 * np.arange(RATE) / RATE
    frames = tracked(0.2 * (np.sin(phase) + np.sin(2 * phase)))
    assert np.nanmedian(frames.brightness) == pytest.approx(1.5, abs=0.05)


def test_a_constant_offset_changes_nothing() -> None:
    tone = steady(116.54, 0.5)
    plain, offset = tracked(tone), tracked(tone + 0.3)
    assert np.nanmax(np.abs(plain.f0_hz - offset.f0_hz)[5:-5]) < 1e-6


def test_a_clipped_tone_keeps_its_pitch_and_is_reported() -> None:
    tracker = FrameTracker(RATE)
    frames = tracker.feed(np.clip(8 * steady(155.56, 1.0), -1, 1))
    assert tracker.clipped
    assert np.nanmax(np.abs(cents_off(frames, 155.56)[10:])) < 1


def test_clipping_is_seen_across_two_chunks() -> None:
    sound = silence(0.1)
    sound[1000:1003] = -1.0
    tracker = FrameTracker(RATE)
    tracker.feed(sound[:1002])
    assert not tracker.clipped
    tracker.feed(sound[1002:])
    assert tracker.clipped


def test_frames_are_told_several_at_once_and_can_be_drawn_before() -> None:
    tracker = FrameTracker(RATE, told_frames=8)
    tone = steady(233.08, 0.6)
    told = [len(tracker.feed(tone[at : at + 480])) for at in range(0, len(tone), 480)]
    assert set(told[20:]) == {0, 8}
    early = tracker.early()
    # Seven times eight were told; the shortest window reaches 15 ms to either side.
    assert len(early) == 59 - 56
    assert cents_off(early, 233.08) == pytest.approx(0, abs=10)


def test_a_full_scale_peak_is_not_yet_clipping() -> None:
    tracker = FrameTracker(RATE)
    sound = steady(220, 0.2)
    sound[1000] = 1.0
    tracker.feed(sound)
    assert not tracker.clipped


@pytest.mark.parametrize("bad", [np.nan, np.inf])
def test_samples_that_are_not_numbers_are_refused_and_nothing_is_kept(bad: float) -> None:
    tracker = FrameTracker(RATE)
    with pytest.raises(ValueError, match="not numbers"):
        tracker.feed(np.array([0.0, bad]))
    frames = Frames.joined([tracker.feed(steady(220, 0.3)), tracker.finish()])
    assert len(frames) == 30


def test_more_than_one_channel_is_refused() -> None:
    with pytest.raises(ValueError, match="one channel"):
        FrameTracker(RATE).feed(np.zeros((10, 2)))


@pytest.mark.parametrize("rate", [4000, 400_000])
def test_strange_sample_rates_are_refused(rate: int) -> None:
    with pytest.raises(ValueError, match="Sample rate"):
        FrameTracker(rate)


def test_sound_after_the_end_is_refused() -> None:
    tracker = FrameTracker(RATE)
    tracker.finish()
    with pytest.raises(ValueError, match="finished"):
        tracker.feed(silence(0.1))


SONG = np.concatenate(
    (silence(0.07), steady(46.25, 0.35), noise(0.1, 0.02), harmonic(np.linspace(300, 500, 12_000)))
)
SONG_FRAMES = tracked(SONG)


def in_pieces(tracker: FrameTracker, sizes: list[int]) -> Frames:
    """All frames of a song fed in pieces of some sizes, again and again."""
    parts: list[Frames] = []
    at = 0
    while at < len(SONG):
        size = sizes[len(parts) % len(sizes)]
        parts.append(tracker.feed(SONG[at : at + size]))
        at += size
    parts.append(tracker.finish())
    return Frames.joined(parts)


def same(frames: Frames, other: Frames) -> bool:
    """Whether frames are the same to the last bit."""
    return all(
        np.array_equal(getattr(frames, name), getattr(other, name), equal_nan=True)
        for name in ("f0_hz", "level_db", "harmonicity_db", "brightness")
    )


@settings(max_examples=25, deadline=None)
@given(st.lists(st.integers(1, 9000), min_size=1, max_size=40))
def test_chunking_does_not_change_a_single_value(sizes: list[int]) -> None:
    assert same(in_pieces(FrameTracker(RATE), sizes), SONG_FRAMES)


@pytest.mark.deep
@settings(max_examples=10, deadline=None)
@given(st.lists(st.integers(1, 3000), min_size=1, max_size=20), st.integers(2, 12))
def test_nor_does_telling_several_frames_at_once(sizes: list[int], told_frames: int) -> None:
    assert same(in_pieces(FrameTracker(RATE, told_frames=told_frames), sizes), SONG_FRAMES)


def test_high_notes_are_known_soon_after_they_sound() -> None:
    # What waits for sound to its right is less than 45 ms above 100 Hz.
    frames = FrameTracker(RATE).feed(steady(110, 1.0))
    assert len(frames) * HOP_S > 1.0 - 0.045


def test_a_pedal_s_frames_wait_and_are_not_guessed_at_meanwhile() -> None:
    tracker = FrameTracker(RATE)
    tracker.feed(steady(38.9, 0.5))
    early = tracker.early()
    assert len(early) > 3
    drawn = cents_off(early, 38.9)[early.voiced]
    assert np.all(np.abs(drawn) < 20)


def test_a_new_note_is_shown_while_the_change_before_it_is_in_doubt() -> None:
    sound = np.concatenate((steady(233.08, 0.4), steady(349.23, 0.4)))
    tracker = FrameTracker(RATE)
    known: list[Frames] = []
    told_late_s: list[float] = []
    shown_late_s: list[float] = []
    for end in range(480, len(sound) + 1, 480):
        known.append(tracker.feed(sound[end - 480 : end]))
        told, early = Frames.joined(known), tracker.early()
        assert early.first == len(told)
        for late_s, frames in (
            (told_late_s, told),
            (shown_late_s, Frames.joined([told, early])),
        ):
            sounding = np.flatnonzero(frames.voiced)
            late_s.append(end / RATE - HOP_S * sounding[-1] if len(sounding) else 0.0)
        # A window over both notes finds what they are multiples of, 116.6 Hz.
        to_the_nearer = np.minimum(*(np.abs(cents_off(early, hz)) for hz in (233.08, 349.23)))
        assert np.all(to_the_nearer[early.voiced] < 20)
    assert max(told_late_s) > max(shown_late_s)
    assert max(shown_late_s) <= 0.051


def test_looking_early_changes_nothing() -> None:
    sound = np.concatenate((noise(0.2), steady(233.08, 0.4), steady(58.27, 0.4)))
    looked = FrameTracker(RATE)
    parts: list[Frames] = []
    for at in range(0, len(sound), 700):
        parts.append(looked.feed(sound[at : at + 700]))
        looked.early()
    parts.append(looked.finish())
    np.testing.assert_array_equal(Frames.joined(parts).f0_hz, tracked(sound).f0_hz)
    assert len(looked.early()) == 0


def test_a_tracker_started_later_gives_the_same_frames() -> None:
    sound = steady(220, 3.0)
    whole = tracked(sound)
    tracker = FrameTracker(RATE, first_frame=100)
    later = Frames.joined([tracker.feed(sound[RATE:]), tracker.finish()])
    assert later.first == 100
    assert np.array_equal(later.f0_hz[10:], whole.f0_hz[110:])
