"""What must hold of every layer of listening, whatever comes in: one check a layer, for one seed.

The tests run some thousands of them, `make bench` hundreds of thousands.
"""

import json
from collections.abc import Callable, Iterable
from contextlib import suppress
from functools import cache

import numpy as np
from numpy.random import Generator

from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.family import ExerciseRefusedError
from orexis.core.exercises.task import Task
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import note_name
from orexis.core.horn.setup import Horn
from orexis.core.judging.attempts import judge, outcomes
from orexis.core.judging.marks import marks
from orexis.core.judging.matching import last_reached, lay_beside
from orexis.core.judging.pattern_words import pattern_sentences
from orexis.core.judging.ribbon import ribbon_of
from orexis.core.judging.standard import Standard
from orexis.core.listening.microphone.check import MicrophoneCheck
from orexis.core.listening.microphone.words import finding_words, summary_words
from orexis.core.listening.notes.events import Events, Passage
from orexis.core.listening.notes.passages import PassageFollower
from orexis.core.listening.notes.patterns import WantedNote, match_pattern
from orexis.core.listening.tracking.frames import Frames
from orexis.core.listening.tracking.tracker import FrameTracker
from orexis.core.session.stand import Attempt, Stand
from orexis.formats.analysis import events_document
from tests.core.exercises.writing import task
from tests.sounds import Samples, softened, steady
from tests.strange import pieces, strange_frames, strange_sound

_RATES = (8_000, 16_000, 22_050, 44_100, 48_000)
_STAND_RATE = 8_000


def check_tracker(seed: int) -> None:
    """Frames are numbers, and the same however the sound comes and is asked for."""
    rng = np.random.default_rng(seed)
    rate = int(rng.choice(_RATES))
    sound = strange_sound(rng, rate)
    drone_hz = float(rng.uniform(60, 400)) if rng.random() < 0.15 else None
    whole, _ = _tracked(sound, rate, drone_hz, [len(sound)], 1)
    frames, known = _tracked(sound, rate, drone_hz, pieces(rng, len(sound)), 6)
    _, other_known = _tracked(sound, rate, drone_hz, pieces(rng, len(sound)), 6)
    for name in ("f0_hz", "level_db", "harmonicity_db", "brightness"):
        assert np.array_equal(getattr(whole, name), getattr(frames, name), equal_nan=True), name
    shared = known.keys() & other_known.keys()
    assert {at: known[at] for at in shared} == {at: other_known[at] for at in shared}
    voiced = whole.voiced
    assert np.isfinite(whole.level_db).all()
    assert np.isfinite(whole.harmonicity_db[voiced]).all()
    assert np.isfinite(whole.brightness[voiced]).all()
    assert ((whole.f0_hz[voiced] > 10) & (whole.f0_hz[voiced] < 2500)).all()


def _tracked(
    sound: Samples, rate: int, drone_hz: float | None, sizes: Iterable[int], told_frames: int
) -> tuple[Frames, dict[int, int]]:
    """All frames of a sound that comes in pieces, and how many were known after so many samples."""
    tracker = FrameTracker(rate, 0, drone_hz, told_frames)
    parts: list[Frames] = []
    known: dict[int, int] = {}
    at = 0
    for size in sizes:
        parts.append(tracker.feed(sound[at : at + size]))
        tracker.early()
        at += size
        known[at] = sum(map(len, parts))
    return Frames.joined([*parts, tracker.finish()]), known


def check_microphone(seed: int) -> None:
    """What is told of a microphone are numbers, and the same however the sound comes."""
    rng = np.random.default_rng(seed)
    rate = int(rng.choice(_RATES))
    sound = strange_sound(rng, rate)
    whole, parted = MicrophoneCheck(rate), MicrophoneCheck(rate)
    whole.feed(sound)
    at = 0
    for size in pieces(rng, len(sound)):
        parted.feed(sound[at : at + size])
        parted.told()
        at += size
    told = whole.told()
    assert told == parted.told()
    levels_db = [told.room_db or 0.0, *(told.notes_db or ())]
    assert np.isfinite(levels_db).all()
    assert summary_words(told)
    for finding in told.findings:
        assert finding_words(finding, told)


def check_passages(seed: int) -> None:
    """Notes follow one another, everything told is a number, and steps change nothing."""
    rng = np.random.default_rng(seed)
    frames = strange_frames(rng, int(rng.integers(0, 3)) * 1000)
    slots = tuple(rng.uniform(20, 90, 6)) if rng.random() < 0.5 else None
    beside = None if slots is None else lambda midi: slots
    glimpses = rng.random() < 0.3
    whole = _followed(frames, [len(frames)], beside, glimpses=False)
    assert repr(_followed(frames, pieces(rng, len(frames)), beside, glimpses=glimpses)) == repr(
        whole
    )
    events = Events.of(whole)
    json.dumps(events_document(events), allow_nan=False)
    marks(events, note_name)
    marks(events, note_name, sounding=True)
    ribbon_of(frames, 440.0)
    assert len(events.transitions) == max(len(events.notes) - 1, 0)
    over = frames.first
    for note in events.notes:
        assert over <= note.first < note.last <= frames.first + len(frames)
        over = note.last
    assert all(
        transition.duration_s >= 0 and transition.gap_s > -1e-9 for transition in events.transitions
    )
    assert all(glide.end_s > glide.start_s and glide.span_semitones >= 0 for glide in events.glides)
    assert all(trill.rate_hz > 0 and 0 <= trill.clear_share <= 1 for trill in events.trills)


def _followed(
    frames: Frames,
    sizes: Iterable[int],
    beside: Callable[[int], tuple[float, ...]] | None,
    *,
    glimpses: bool,
) -> list[Passage]:
    follower = PassageFollower(440.0, beside)
    passages: list[Passage] = []
    at = frames.first
    for size in sizes:
        passages += follower.step(frames.between(at, at + size))
        at += size
        if glimpses:
            follower.glimpse()
    return passages + follower.finish()


@cache
def _tasks() -> tuple[tuple[Task, Horn], ...]:
    """Every exercise of the book, on three horns."""
    found: list[tuple[Task, Horn]] = []
    for horn in ("tenor-horn-eb", "trombone-tenor", "tuba-eb"):
        for key in FAMILIES:
            with suppress(ExerciseRefusedError):
                found.append((task(key, horn).once, Horn(INSTRUMENTS[horn])))
    return tuple(found)


def check_judging(seed: int) -> None:
    """Whatever was heard, there is a verdict on it, and words for it."""
    rng = np.random.default_rng(seed)
    asked, horn = _tasks()[int(rng.integers(len(_tasks())))]
    frames = strange_frames(rng) if rng.random() < 0.5 else _around(rng, asked)
    events = Events.of(_followed(frames, [len(frames)], None, glimpses=False))
    level = list(Standard)[int(rng.integers(3))]
    seen = lay_beside(asked, events, horn)
    verdict = judge(seen, level)
    assert len(seen.answers) == len(seen.asked)
    assert np.isfinite([result.measured for result in verdict.results]).all()
    outcomes(asked, verdict)
    last_reached(asked, events.notes, horn)
    wanted = [note.note.midi for note in seen.asked] or [60]
    match = match_pattern([WantedNote(midi) for midi in wanted], events)
    pattern_sentences(match, wanted, [note.midi for note in events.notes], note_name)


def _around(rng: Generator, asked: Task) -> Frames:
    """Strange frames, moved to where an exercise lies."""
    frames = strange_frames(rng)
    voiced = frames.f0_hz[frames.voiced]
    pitches = asked.score.pitches or (60,)
    if not len(voiced):
        return frames
    wanted_hz = 440 * 2 ** ((float(rng.choice(pitches)) - 69) / 12)
    f0_hz = np.clip(frames.f0_hz * wanted_hz / np.median(voiced), 15.0, 2200.0)
    return Frames(frames.first, f0_hz, frames.level_db, frames.harmonicity_db, frames.brightness)


def check_stand(seed: int) -> None:
    """The same sound makes the same attempts, all at once or in pieces."""
    rng = np.random.default_rng(seed)
    asked, horn = _tasks()[int(rng.integers(len(_tasks())))]
    sound = np.concatenate([_something(rng, asked) for _ in range(int(rng.integers(1, 7)))])
    sound = np.concatenate((sound, np.zeros(2 * _STAND_RATE)))
    rest_frames = int(rng.choice((0, 0, 20, 150, 400)))
    once = _stood(asked, horn, sound, [len(sound)], rest_frames)
    cut_up = _stood(asked, horn, sound, pieces(rng, len(sound)), rest_frames)
    assert [repr(attempt) for attempt in once[0]] == [repr(attempt) for attempt in cut_up[0]]
    assert once[1] == cut_up[1]


def _something(rng: Generator, asked: Task) -> Samples:
    """A note of the exercise, a rest, or anything."""
    pitches = asked.score.pitches or (60,)
    match rng.integers(0, 4):
        case 0:
            return np.zeros(int(rng.integers(1, _STAND_RATE)))
        case 1:
            return strange_sound(rng, _STAND_RATE)
        case _:
            hz = 440 * 2 ** ((float(rng.choice(pitches)) - 69) / 12)
            return softened(steady(hz, float(rng.uniform(0.1, 1.6)), _STAND_RATE), _STAND_RATE)


def _stood(
    asked: Task, horn: Horn, sound: Samples, sizes: Iterable[int], rest_frames: int
) -> tuple[list[Attempt], list[int]]:
    """The attempts and the disturbed rests of a sound, a rest after each attempt."""
    stand = Stand(asked, horn, Standard.NORMAL, _STAND_RATE)
    attempts: list[Attempt] = []
    disturbed: list[int] = []

    def ended(attempt: Attempt) -> None:
        attempts.append(attempt)
        end = attempt.frames.first + len(attempt.frames)
        stand.put(asked, Standard.NORMAL, end + rest_frames)

    stand.ended = ended
    stand.disturbed = disturbed.append
    at = 0
    for size in sizes:
        stand.feed(sound[at : at + size])
        at += size
    stand.finish()
    return attempts, disturbed


CHECKS = {
    "tracker": check_tracker,
    "microphone": check_microphone,
    "passages": check_passages,
    "judging": check_judging,
    "stand": check_stand,
}
