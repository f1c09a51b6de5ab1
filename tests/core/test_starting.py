"""What starts an attempt: a note, however soft, and none of the other sounds of a practice room."""

from collections.abc import Callable
from functools import cache

import numpy as np
import pytest
from scipy.signal import butter, lfilter, sosfilt

from orexis.core.exercises.task import Task
from orexis.core.listening.tracking.frames import Frames
from orexis.core.listening.tracking.tracker import FrameTracker
from orexis.core.session.starting import Starting
from tests.core.exercises.writing import task
from tests.sounds import RATE, Samples, bent, silence, softened, steady

_NOTES = {
    "tenor-horn-eb": "Bb3",
    "tuba-eb-4v-comp": "Bb1",
    "cornet-bb": "F4",
    "trombone-bass": "Bb2",
}


def room(count: int, level_db: float = -62.0) -> Samples:
    """The noise of a quiet room, steeper towards the top."""
    white = np.random.default_rng(5).normal(size=count)
    brown = lfilter([1.0], [1.0, -0.95], white)
    return at_level(brown, level_db)


def at_level(sound: Samples, level_db: float) -> Samples:
    scaled: Samples = sound / np.sqrt(np.mean(sound**2)) * 10 ** (level_db / 20)
    return scaled


def _band(sound: Samples, low_hz: float, high_hz: float) -> Samples:
    found: Samples = sosfilt(butter(2, (low_hz, high_hz), "band", fs=RATE, output="sos"), sound)
    return found


def _decays(seconds: float, rate: float) -> Samples:
    t = np.arange(round(seconds * RATE)) / RATE
    return np.exp(-rate * t)


def cough(seed: int) -> Samples:
    random = np.random.default_rng(seed)
    bursts = []
    for _ in range(int(random.integers(1, 4))):
        shape = _decays(0.3, 12.0)
        noise = _band(random.normal(size=len(shape)), 300, 3000)
        # The voice joins in for a moment, and falls.
        hz = np.linspace(random.uniform(150, 260), 90, len(shape))
        voice = np.sign(np.sin(2 * np.pi * np.cumsum(hz) / RATE)) * _decays(0.3, 18.0)
        bursts += [noise * shape + 0.4 * voice, silence(random.uniform(0.1, 0.3))]
    return at_level(np.concatenate(bursts), -18)


def valve_click(seed: int) -> Samples:
    random = np.random.default_rng(seed)
    clicks = []
    for _ in range(int(random.integers(3, 9))):
        t = np.arange(round(0.03 * RATE)) / RATE
        ring = np.sin(2 * np.pi * random.uniform(600, 2500) * t) * np.exp(-220 * t)
        clicks += [ring, silence(random.uniform(0.06, 0.4))]
    return at_level(np.concatenate(clicks), -24)


def water_key(seed: int) -> Samples:
    random = np.random.default_rng(seed)
    seconds = random.uniform(0.6, 1.6)
    t = np.arange(round(seconds * RATE)) / RATE
    gurgle = 0.6 + 0.4 * np.sin(2 * np.pi * random.uniform(7, 15) * t)
    hiss = _band(random.normal(size=len(t)), 500, 6000)
    return at_level(hiss * gurgle * np.minimum(1, 20 * t), -26)


def talking(seed: int) -> Samples:
    """Syllables from their definition: pulses whose rate moves, through two formants, with
    consonants of noise between, and pauses."""
    random = np.random.default_rng(seed)
    base_hz = random.choice([105.0, 125.0, 190.0, 230.0])
    parts: list[Samples] = []
    for syllable in range(14):
        seconds = random.uniform(0.09, 0.26)
        count = round(seconds * RATE)
        rise = random.uniform(-0.25, 0.18)
        hz = base_hz * (1.15 - 0.02 * syllable) * (1 + rise * np.linspace(0, 1, count))
        hz = hz * (1 + 0.012 * np.repeat(random.normal(size=count // 400 + 1), 400)[:count])
        phase = np.cumsum(hz) / RATE
        pulses = np.diff(np.floor(phase), prepend=0.0)
        vowel = sum(
            _band(pulses, 0.85 * formant, 1.15 * formant)
            for formant in random.choice([[700, 1200], [300, 2200], [500, 1700]], axis=0)
        )
        shape = np.sin(np.linspace(0, np.pi, count)) ** 0.6
        noise = _band(random.normal(size=round(random.uniform(0.03, 0.09) * RATE)), 2000, 7000)
        parts += [at_level(vowel * shape, -22), at_level(noise, -36)]
        if syllable % 5 == 4:
            parts.append(silence(random.uniform(0.2, 0.5)))
    return np.concatenate(parts)


def next_room(seed: int) -> Samples:
    """Somebody else's long notes through a wall: soft, and without their overtones."""
    random = np.random.default_rng(seed)
    notes = []
    for _ in range(2):
        note = steady(233.08 * 2 ** (random.integers(-5, 8) / 12), 1.2)
        sos = butter(4, 260, "low", fs=RATE, output="sos")
        notes += [at_level(sosfilt(sos, note), -52), silence(0.4)]
    return softened(np.concatenate(notes))


def furniture(seed: int) -> Samples:
    """A chair, a mute put down, the music stand: ringing thuds and a squeak that slides."""
    random = np.random.default_rng(seed)
    t = np.arange(round(0.5 * RATE)) / RATE
    thud = np.sin(2 * np.pi * random.uniform(70, 140) * t) * np.exp(-28 * t)
    squeak_hz = np.linspace(random.uniform(500, 900), random.uniform(1000, 1600), len(t))
    squeak = np.sin(2 * np.pi * np.cumsum(squeak_hz) / RATE) * np.sin(np.pi * t / 0.5)
    return np.concatenate([at_level(thud, -20), silence(0.3), at_level(squeak, -30)])


OTHERS: list[tuple[Callable[[int], Samples], int]] = [
    (kind, seed)
    for kind, seeds in (
        (cough, 4),
        (valve_click, 3),
        (water_key, 3),
        (talking, 5),
        (next_room, 3),
        (furniture, 2),
    )
    for seed in range(seeds)
]


@cache
def frames_of(kind: Callable[[int], Samples], seed: int) -> Frames:
    """What is heard of a sound in a quiet room."""
    return in_a_room(kind(seed))


def in_a_room(sound: Samples) -> Frames:
    whole = np.concatenate((silence(1.0), sound, silence(0.3)))
    tracker = FrameTracker(RATE)
    return Frames.joined([tracker.feed(whole + room(len(whole))), tracker.finish()])


def started(frames: Frames, asked: Task) -> int | None:
    """The frame that an attempt begins at, if one does."""
    starting = Starting(asked)
    found = (starting.step(frames, place) for place in range(len(frames)))
    return next((first for first in found if first is not None), None)


def held(instrument: str) -> Task:
    return task("long-tone", instrument, from_midi=_NOTES[instrument], hold_s=2)


def test_there_are_twenty_of_six_kinds() -> None:
    assert (len(OTHERS), len({kind for kind, _ in OTHERS})) == (20, 6)


@pytest.mark.parametrize("instrument", _NOTES)
@pytest.mark.parametrize(
    ("kind", "seed"), OTHERS, ids=[f"{kind.__name__}-{seed}" for kind, seed in OTHERS]
)
def test_no_other_sound_starts_a_try(
    kind: Callable[[int], Samples], seed: int, instrument: str
) -> None:
    assert started(frames_of(kind, seed), held(instrument)) is None


@pytest.mark.parametrize("instrument", _NOTES)
def test_a_note_hardly_louder_than_the_room_starts_a_try(instrument: str) -> None:
    asked = held(instrument)
    hz = 440 * 2 ** ((asked.score.pitches[0] - 69) / 12)
    soft = softened(at_level(steady(hz, 1.2), -50))
    assert started(in_a_room(soft), asked) == pytest.approx(100, abs=6)


def test_a_wide_vibrato_and_a_short_note_start_a_try() -> None:
    t = np.arange(round(1.2 * RATE)) / RATE
    shaken = at_level(bent(233.08, 45 * np.sin(2 * np.pi * 5.5 * t)), -24)
    asked = held("tenor-horn-eb")
    assert started(in_a_room(softened(shaken)), asked) == pytest.approx(100, abs=4)
    short = softened(at_level(steady(233.08, 0.32), -24))
    assert started(in_a_room(short), asked) == pytest.approx(100, abs=4)


def test_a_siren_starts_a_try_though_it_holds_no_pitch() -> None:
    t = np.arange(round(1.5 * RATE)) / RATE
    siren = at_level(bent(155.56, 1200 * (1 - np.cos(2 * np.pi * t / 1.5)) / 2), -24)
    asked = task("siren", "tenor-horn-eb")
    assert started(in_a_room(softened(siren)), asked) is not None


@pytest.mark.parametrize(("level_db", "starts"), [(-46.0, False), (-40.0, True)])
def test_far_softer_than_this_player_is_somebody_else(level_db: float, starts: bool) -> None:
    starting = Starting(held("tenor-horn-eb"))
    starting.learn(-12.0)
    heard = in_a_room(softened(at_level(steady(233.08, 0.8), level_db)))
    assert any(starting.step(heard, place) for place in range(len(heard))) is starts


def test_a_room_that_is_always_loud_wants_a_louder_note() -> None:
    starting = Starting(held("tuba-eb-4v-comp"))
    asked = task("long-tone", "tenor-horn-eb", from_midi="Bb3", hold_s=2)
    neighbour = in_a_room(softened(at_level(steady(233.08, 1.2), -40)))
    # Far from what is asked it is no try, and from then on it is the room.
    assert all(starting.step(neighbour, place) is None for place in range(len(neighbour)))
    starting.put(asked)
    same = in_a_room(softened(at_level(steady(233.08, 0.8), -40)))
    assert all(starting.step(same, place) is None for place in range(len(same)))
    louder = in_a_room(softened(at_level(steady(233.08, 0.8), -24)))
    assert any(starting.step(louder, place) for place in range(len(louder)))
