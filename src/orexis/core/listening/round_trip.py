"""How long a sound takes out of the loudspeaker and back through the microphone.

A row of clicks is played and recorded from the moment it is played. Each click is looked for by
itself, by cross-correlation with what was played, to a fraction of a sample by a parabola through
the peak; the round trip is the median over the clicks, and their spread says whether it can be
relied on. The clicks stand at uneven distances, so that no other can be taken for one.
"""

from dataclasses import dataclass

import numpy as np

from orexis.core.arrays import FloatArray

_AT_S = (0.5, 1.37, 2.05, 3.01, 3.66, 4.61, 5.22, 6.18, 6.95, 7.59)
_AFTER_S = 1.5
LASTS_S = _AT_S[-1] + _AFTER_S
_CLICK_S, _FROM_HZ, _TO_HZ = 0.012, 1200.0, 4500.0
_LONGEST_S = 0.6
_OVER_THE_REST = 9.0
_FEWEST = 6
_WIDEST_S = 0.003
_LATE_S = 0.12
"""Cables and what is built in take 10 to 80 ms there and back, Bluetooth 150 and more."""


class NotHeardError(ValueError):
    """The clicks were not heard well enough; the message says what to do."""


@dataclass(frozen=True, slots=True)
class RoundTrip:
    """The delay (s), half the 16 to 84 % range over the clicks (s), and how many were heard."""

    delay_s: float
    spread_s: float
    clicks: int


def click(sample_rate: int) -> FloatArray:
    """One click at full scale: a short sweep, which a room leaves sharper than a tone."""
    t = np.arange(round(_CLICK_S * sample_rate)) / sample_rate
    sweep = 2 * np.pi * (_FROM_HZ * t + (_TO_HZ - _FROM_HZ) / (2 * _CLICK_S) * t**2)
    shaped: FloatArray = np.sin(sweep) * np.hanning(len(t))
    return shaped


def clicks(sample_rate: int) -> FloatArray:
    """All that is played: mono samples at full scale ±1."""
    sound = np.zeros(round(LASTS_S * sample_rate))
    one = 0.8 * click(sample_rate)
    for at_s in _AT_S:
        start = round(at_s * sample_rate)
        sound[start : start + len(one)] += one
    return sound


def round_trip(recorded: FloatArray, sample_rate: int) -> RoundTrip:
    """The round trip in a recording (mono) that began when the first sample was played.

    Raises `NotHeardError` where too few clicks stand out, or they disagree.
    """
    one = click(sample_rate)
    found = [_delay(recorded, one, round(at_s * sample_rate), sample_rate) for at_s in _AT_S]
    delays = np.array([delay for delay in found if delay is not None])
    if len(delays) < _FEWEST:
        raise NotHeardError(
            f"Only {len(delays)} of {len(_AT_S)} clicks were heard. Turn the loudspeaker up, take "
            "headphones off, and keep quiet meanwhile."
        )
    low, middle, high = np.percentile(delays, [16, 50, 84])
    spread_s = float(high - low) / 2
    if spread_s > _WIDEST_S:
        raise NotHeardError(
            f"The clicks came back {1000 * spread_s:.0f} ms apart from each other. Close what else "
            "plays or records, then try again."
        )
    return RoundTrip(float(middle), spread_s, len(delays))


def round_trip_words(found: RoundTrip) -> str:
    """What a round trip rests on, what it is used for, and what to do where it is long."""
    words = (
        f"From {found.clicks} clicks, ± {1000 * found.spread_s:.1f} ms. It is taken off every "
        "onset from the next session on. Measure again when you change the microphone or "
        "loudspeaker."
    )
    if found.delay_s < _LATE_S:
        return words
    return (
        f"{words} So long is usual with Bluetooth. You hear the metronome late by about as much, "
        "and the delay changes from one connection to the next: use a loudspeaker or headphones "
        "with a cable."
    )


def _delay(recorded: FloatArray, one: FloatArray, start: int, rate: int) -> float | None:
    """How much later than it was played a click is heard, where it stands out."""
    window = recorded[start : start + round(_LONGEST_S * rate) + len(one)]
    if len(window) < 2 * len(one):
        return None
    match = np.correlate(window, one, mode="valid")
    power = np.abs(match)
    peak = int(power.argmax())
    if power[peak] < _OVER_THE_REST * np.median(power) or not power[peak]:
        return None
    return (peak + _between(power, peak)) / rate


def _between(power: FloatArray, peak: int) -> float:
    """Where between samples the top of a peak lies."""
    if not 0 < peak < len(power) - 1:
        return 0.0
    before, top, after = power[peak - 1 : peak + 2]
    bend = before - 2 * top + after
    return 0.0 if not bend else float((before - after) / (2 * bend))
