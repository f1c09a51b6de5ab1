"""The tracker in rooms, at microphones and beside noise: made from their definition.

Pitch of the sounds is known because they are sums of sines; what is done to them is arithmetic.
"""

import numpy as np
import pytest
from scipy.signal import butter, fftconvolve, sosfilt

from orexis.core.listening.tracking.frames import Frames
from tests.core.hearing import tracked
from tests.sounds import RATE, Samples, bent, harmonic, noise, silence, softened, steady

LOW_TO_HIGH_HZ = (29.135, 58.270, 116.541, 233.082, 466.164, 932.328)
"""Every B♭ from the tuba's pedal to the cornet's top."""


def off_cents(frames: Frames, hz: float, from_s: float = 0.3, to_s: float = 1.7) -> Samples:
    """Deviation of the inner frames; NaN where none was heard."""
    inner = frames.f0_hz[round(100 * from_s) : round(100 * to_s)]
    deviation: Samples = 1200 * np.log2(inner / hz)
    return deviation


def wrong_share(frames: Frames, hz: float) -> float:
    """Share of inner frames that are missed or over 50 cents off."""
    off = off_cents(frames, hz)
    return float(np.mean(~(np.abs(off) <= 50)))


@pytest.mark.parametrize("hz", LOW_TO_HIGH_HZ)
class TestConditions:
    """At most one inner frame in two hundred is wrong, and the middle one is right."""

    def test_noise_20_db_under_the_note(self, hz: float) -> None:
        tone = steady(hz, 2.0)
        frames = tracked(tone + noise(2.0, float(tone.std()) / 10))
        assert wrong_share(frames, hz) <= 0.005 if hz > 30 else 0.05
        assert abs(np.nanmedian(off_cents(frames, hz))) <= 0.5

    def test_a_phone_that_loses_everything_under_250_hz(self, hz: float) -> None:
        filtered = sosfilt(butter(4, 250, "highpass", fs=RATE, output="sos"), steady(hz, 2.0))
        frames = tracked(np.asarray(filtered) + noise(2.0, 3e-4))
        assert wrong_share(frames, hz) <= 0.005
        assert abs(np.nanmedian(off_cents(frames, hz))) <= 0.5

    def test_a_clipped_recording(self, hz: float) -> None:
        tone = steady(hz, 2.0)
        limit = 0.35 * float(np.abs(tone).max())
        frames = tracked(np.clip(tone, -limit, limit) / limit)
        assert wrong_share(frames, hz) <= 0.005
        assert abs(np.nanmedian(off_cents(frames, hz))) <= 0.5

    def test_a_room_that_rings_for_half_a_second(self, hz: float) -> None:
        time_s = np.arange(RATE // 2) / RATE
        tail = np.random.default_rng(5).standard_normal(len(time_s)) * 10 ** (-3 * time_s / 0.5)
        tail *= 10 ** (-12 / 20) / float(np.sqrt((tail**2).sum()))
        tail[0] = 1.0
        sound = fftconvolve(softened(steady(hz, 2.0)), tail)[: 2 * RATE]
        frames = tracked(sound)
        assert wrong_share(frames, hz) <= 0.005
        assert abs(np.nanmedian(off_cents(frames, hz))) <= 0.5

    @pytest.mark.parametrize("rate", [44_100, 96_000])
    def test_other_rates_give_the_same_pitch(self, hz: float, rate: int) -> None:
        frames = tracked(steady(hz, 2.0, rate), rate)
        assert np.abs(off_cents(frames, hz)).max() <= 1.5

    def test_hum_of_the_mains_under_the_note(self, hz: float) -> None:
        tone = steady(hz, 2.0)
        hum = steady(50.0, 2.0)
        frames = tracked(tone + hum * float(tone.std() / hum.std()) * 10 ** (-24 / 20))
        assert wrong_share(frames, hz) <= 0.005

    def test_a_constant_offset_changes_nothing(self, hz: float) -> None:
        tone = 0.5 * steady(hz, 2.0)
        plain, shifted = (off_cents(tracked(one), hz) for one in (tone, tone + 0.2))
        assert np.allclose(plain, shifted, atol=0.3)


@pytest.mark.parametrize("hz", [hz for hz in LOW_TO_HIGH_HZ if hz < 250])
def test_a_low_note_is_heard_by_its_upper_harmonics_alone(hz: float) -> None:
    assert wrong_share(tracked(steady(hz, 2.0, skip=2)), hz) <= 0.005


@pytest.mark.parametrize("hz", LOW_TO_HIGH_HZ)
@pytest.mark.parametrize("level_db", [-45, -30, -15])
def test_level_is_the_sounds_rms(hz: float, level_db: float) -> None:
    tone = steady(hz, 2.0)
    tone *= 10 ** (level_db / 20) / float(np.sqrt(np.mean(tone**2)))
    inner = tracked(tone).level_db[30:170]
    # A window of 28 ms does not hold a whole number of a low note's periods.
    assert np.median(inner) == pytest.approx(level_db, abs=0.6 if hz < 100 else 0.3)


@pytest.mark.parametrize("hz", [58.270, 116.541, 233.082, 466.164])
@pytest.mark.parametrize("ratio_db", [10, 20, 28])
def test_harmonicity_is_the_ratio_of_tone_to_noise(hz: float, ratio_db: float) -> None:
    tone = steady(hz, 3.0)
    frames = tracked(tone + noise(3.0, float(tone.std()) * 10 ** (-ratio_db / 20)))
    heard = float(np.nanmedian(frames.harmonicity_db[30:270]))
    # The longest window blurs a clear pedal a little.
    assert heard == pytest.approx(ratio_db, abs=3.0 if hz < 100 else 1.5)


@pytest.mark.parametrize("hz", [116.541, 233.082, 466.164])
def test_brightness_is_the_power_centroid_in_multiples_of_the_pitch(hz: float) -> None:
    frames = tracked(steady(hz, 2.0))
    orders = np.arange(1, 16)
    orders = orders[orders * hz <= 8000]
    # Harmonics 1/k: powers 1/k².
    centroid = (orders / orders**2).sum() / (1 / orders**2).sum()
    assert np.nanmedian(frames.brightness) == pytest.approx(centroid, rel=0.06)


@pytest.mark.parametrize(("hz", "extent"), [(116.541, 20.0), (233.082, 40.0), (466.164, 60.0)])
def test_vibrato_is_followed(hz: float, extent: float) -> None:
    time_s = np.arange(2 * RATE) / RATE
    swing = extent * np.sin(2 * np.pi * 5.5 * time_s)
    frames = tracked(bent(hz, swing))
    inner = slice(20, 180)
    true = extent * np.sin(2 * np.pi * 5.5 * frames.time_s[inner])
    off = 1200 * np.log2(frames.f0_hz[inner] / hz) - true
    # A window looks at its own length: a little of the swing is smoothed away.
    assert np.abs(off).max() <= 0.2 * extent


@pytest.mark.parametrize(("hz", "dwell_s"), [(207.652, 0.035), (311.127, 0.035), (622.254, 0.035)])
def test_a_passing_slot_of_35_ms_is_seen(hz: float, dwell_s: float) -> None:
    # Slots 2, 3 and 4 of one length.
    parts = ((hz, 0.5), (1.5 * hz, dwell_s), (2 * hz, 0.5))
    pitch = np.concatenate([np.full(round(s * RATE), f) for f, s in parts])
    frames = tracked(np.concatenate((silence(0.2), softened(harmonic(pitch)), silence(0.2))))
    near = np.abs(1200 * np.log2(frames.f0_hz / (1.5 * hz))) <= 30
    assert 2 <= near.sum() <= 5


@pytest.mark.parametrize("seconds", [0.5, 1.0, 3.0])
def test_a_two_octave_glide_is_followed_without_a_leap(seconds: float) -> None:
    count = round(seconds * RATE)
    pitch = 116.541 * 4 ** (np.arange(count) / count)
    frames = tracked(np.concatenate((silence(0.2), softened(harmonic(pitch)), silence(0.2))))
    inner = frames.f0_hz[25 : 15 + round(100 * seconds)]
    assert np.isfinite(inner).all()
    step = np.diff(1200 * np.log2(inner))
    # 2400 cents over the glide, a hundredth of a second at a time; twice that at most.
    assert step.max() <= 2 * 24 / seconds
    assert step.min() >= -24 / seconds


def test_noise_clicks_and_silence_have_no_pitch() -> None:
    assert not tracked(noise(2.0)).voiced.any()
    assert not tracked(silence(1.0)).voiced.any()
    click = silence(1.0)
    click[RATE // 2] = 0.9
    assert not tracked(click).voiced.any()
