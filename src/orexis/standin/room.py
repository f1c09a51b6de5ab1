"""What a microphone hears of a room beside the horn: noise of several colours, hum, a fan, a
chair, and the tail of every sound.

Levels are RMS in dB re full scale over the whole band. Brown and pink noise are white noise whose
power falls by 6 and 3 dB an octave above 20 Hz.
"""

from dataclasses import dataclass

import numpy as np
from scipy.signal import butter, fftconvolve, sosfilt

from orexis.core.arrays import FloatArray

_ABOVE_HZ = 20.0
_HUM_HZ, _HUM_HARMONICS = 50.0, (1.0, 0.3, 0.5, 0.1, 0.25)
_FAN_HZ, _FAN_BLADES_HZ = (90.0, 900.0), 23.0
_KNOCK_S, _KNOCK_HZ = 0.09, (60.0, 700.0)
_FIRST_REFLECTION_S = 0.006
_SILENT_DB = -120.0


@dataclass(frozen=True, slots=True)
class Room:
    """A room by what is heard of it: `hiss_db` white, `pink_db` and `rumble_db` (brown) noise,
    `hum_db` of the mains, `fan_db` of a fan, a chair or a foot that knocks as loud as `knock_db`
    every `knock_every_s`, and a tail `tail_db` under the sound that falls by 60 dB in `tail_s`."""

    hiss_db: float = _SILENT_DB
    pink_db: float = _SILENT_DB
    rumble_db: float = _SILENT_DB
    hum_db: float = _SILENT_DB
    fan_db: float = _SILENT_DB
    knock_db: float = _SILENT_DB
    knock_every_s: float = 3.7
    tail_db: float = _SILENT_DB
    tail_s: float = 0.3


STILL = Room()
ROOMS: dict[str, Room] = {
    "quiet": Room(hiss_db=-78.0, rumble_db=-72.0, tail_db=-18.0, tail_s=0.25),
    "practice": Room(hiss_db=-62.0, rumble_db=-55.0, tail_db=-15.0, tail_s=0.35),
    "living": Room(
        hiss_db=-66.0, pink_db=-58.0, hum_db=-60.0, knock_db=-42.0, tail_db=-14.0, tail_s=0.45
    ),
    "lively": Room(hiss_db=-68.0, pink_db=-62.0, fan_db=-54.0, tail_db=-11.0, tail_s=0.9),
}
"""Rooms that people practise in, from the quietest."""


def heard_in(room: Room, samples: FloatArray, sample_rate: int, seed: int = 1) -> FloatArray:
    """Sound (mono, full scale ±1) as it is heard in a room, as long as it was. The same arguments
    give the same samples."""
    random = np.random.default_rng(seed)
    count = len(samples)
    heard = _with_tail(room, samples, sample_rate, random)
    for level_db, exponent in ((room.hiss_db, 0.0), (room.pink_db, 1.0), (room.rumble_db, 2.0)):
        if level_db > _SILENT_DB:
            heard = heard + _at(_coloured(count, exponent, sample_rate, random), level_db)
    time_s = np.arange(count) / sample_rate
    if room.hum_db > _SILENT_DB:
        heard = heard + _at(_hum(time_s), room.hum_db)
    if room.fan_db > _SILENT_DB:
        heard = heard + _at(_fan(time_s, sample_rate, random), room.fan_db)
    if room.knock_db > _SILENT_DB:
        heard = heard + _knocks(room, count, sample_rate, random)
    clipped: FloatArray = np.clip(heard, -1, 1)
    return clipped


def _at(noise: FloatArray, level_db: float) -> FloatArray:
    """Noise at a level."""
    scaled: FloatArray = noise * (10 ** (level_db / 20) / max(float(noise.std()), 1e-12))
    return scaled


def _coloured(
    count: int, exponent: float, sample_rate: int, random: np.random.Generator
) -> FloatArray:
    """Noise whose power goes with 1/f to an exponent."""
    spectrum = np.fft.rfft(random.standard_normal(count))
    frequency = np.fft.rfftfreq(count, 1 / sample_rate)
    shaped = spectrum * np.maximum(frequency, _ABOVE_HZ) ** (-exponent / 2)
    noise: FloatArray = np.fft.irfft(np.where(frequency >= _ABOVE_HZ / 2, shaped, 0), count)
    return noise


def _hum(time_s: FloatArray) -> FloatArray:
    hum = np.zeros(len(time_s))
    for order, strength in enumerate(_HUM_HARMONICS, start=1):
        hum += strength * np.sin(2 * np.pi * order * _HUM_HZ * time_s + order)
    return hum


def _fan(time_s: FloatArray, sample_rate: int, random: np.random.Generator) -> FloatArray:
    """Air through blades: a band of noise that swells with each of them."""
    band = butter(2, _FAN_HZ, "bandpass", fs=sample_rate, output="sos")
    air: FloatArray = sosfilt(band, random.standard_normal(len(time_s)))
    return air * (1 + 0.4 * np.sin(2 * np.pi * _FAN_BLADES_HZ * time_s))


def _knocks(room: Room, count: int, sample_rate: int, random: np.random.Generator) -> FloatArray:
    """Something that knocks now and then, never in time."""
    length = round(_KNOCK_S * sample_rate)
    band = butter(2, _KNOCK_HZ, "bandpass", fs=sample_rate, output="sos")
    fades = np.exp(-np.arange(length) / (length / 5))
    knocks = np.zeros(count)
    at = round(random.uniform(0.1, 0.9) * room.knock_every_s * sample_rate)
    while at + length < count:
        knock = sosfilt(band, random.standard_normal(length)) * fades
        knocks[at : at + length] += _at(knock, room.knock_db)
        at += round(random.uniform(0.6, 1.4) * room.knock_every_s * sample_rate)
    return knocks


def _with_tail(
    room: Room, samples: FloatArray, sample_rate: int, random: np.random.Generator
) -> FloatArray:
    """The sound with the reverberation of the room."""
    if room.tail_db <= _SILENT_DB:
        return samples
    time_s = np.arange(round(room.tail_s * sample_rate)) / sample_rate
    tail = random.standard_normal(len(time_s)) * 10 ** (-3 * time_s / room.tail_s)
    tail[: round(_FIRST_REFLECTION_S * sample_rate)] = 0
    tail *= 10 ** (room.tail_db / 20) / np.sqrt((tail**2).sum())
    tail[0] = 1.0
    wet: FloatArray = fftconvolve(samples, tail)[: len(samples)]
    return wet
