"""The running of the Stand: what makes an attempt, what ends it, and what it keeps."""

import numpy as np
import pytest

from orexis.core.exercises.family import Aim
from orexis.core.exercises.task import Task
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.pitch import hz_from_midi
from orexis.core.horn.setup import Horn
from orexis.core.judging.matching import Place
from orexis.core.judging.standard import Standard
from orexis.core.listening.notes.events import Note
from orexis.core.listening.notes.tone import Tone
from orexis.core.session import stand as stand_module
from orexis.core.session.stand import Attempt, Stand
from tests.core.exercises.writing import task
from tests.sounds import RATE, Samples, harmonic, noise, silence, softened, steady

HORN = Horn(INSTRUMENTS["tenor-horn-eb"])
TONE = task("long-tone", "tenor-horn-eb", from_midi="Bb3", hold_s=2)
B_FLAT_3_HZ = 233.082


def listening(first: int = 0, judged: int = 0, asked: Task = TONE) -> Stand:
    return Stand(asked, HORN, Standard.NORMAL, RATE, first, None, judged)


def play(*parts: Samples, chunk: int = 512, asked: Task = TONE) -> list[Attempt]:
    stand = listening(asked=asked)
    sound = np.concatenate(parts)
    found = []
    for at in range(0, len(sound), chunk):
        found += stand.feed(sound[at : at + chunk]).attempts
    return found


def heard(attempt: Attempt) -> Note:
    """The one note of an attempt."""
    (answer,) = attempt.answers
    assert answer.heard is not None
    return answer.heard


NOTE = softened(steady(B_FLAT_3_HZ, 2.3))


def test_playing_starts_a_try_and_silence_ends_it() -> None:
    (attempt,) = play(silence(1.0), NOTE, silence(0.8))
    assert attempt.verdict.passed
    start_s = attempt.frames.first * 0.01 + heard(attempt).start_s
    assert start_s == pytest.approx(1.0, abs=0.04)
    assert attempt.answers[0].off_cents == pytest.approx(0, abs=0.3)
    # Half a second before the note goes with the take, and the silence that ended it.
    assert attempt.frames.first * 0.01 == pytest.approx(0.5, abs=0.04)
    assert len(attempt.frames) * 0.01 == pytest.approx(3.0, abs=0.06)


def test_a_try_is_over_soon_after_its_last_note_and_waits_longer_for_a_missing_one() -> None:
    assert play(NOTE, silence(0.15)) == []
    assert len(play(NOTE, silence(0.5))) == 1
    two = task("lip-slur", "tenor-horn-eb", slots=2, times=1)
    begun = softened(steady(B_FLAT_3_HZ, 1.5))
    assert play(begun, silence(0.45), asked=two) == []
    assert len(play(begun, silence(0.8), asked=two)) == 1


def test_a_breath_of_many_seconds_is_over_as_soon_as_its_last_note() -> None:
    # Three notes of four seconds, slurred: twelve seconds of sound without a silence.
    asked = task("own-line", "tenor-horn-eb", line="Bb3:4 ~C4:4 ~D4:4", tempo=60.0)
    one = np.concatenate([steady(hz_from_midi(midi), 4.0) for midi in (58, 60, 62)])
    once = softened(one)
    first, second = play(once, silence(0.6), once, silence(0.6), asked=asked)
    for attempt in (first, second):
        assert [answer.heard is not None for answer in attempt.answers] == [True, True, True]
        assert len(attempt.events.notes) == 3


def test_two_notes_with_a_breath_between_are_two_tries() -> None:
    assert len(play(NOTE, silence(1.0), NOTE, silence(1.0))) == 2


def test_a_short_sound_or_noise_is_not_a_try() -> None:
    blip = softened(steady(B_FLAT_3_HZ, 0.15))
    assert play(silence(0.5), blip, silence(0.5), noise(0.8), silence(1.0)) == []


def test_a_wrong_note_is_judged_against_the_one_asked_for() -> None:
    # C4 (MIDI 60) is 200 cents above B♭3.
    (attempt,) = play(softened(steady(261.626, 2.3)), silence(0.8))
    (answer,) = attempt.answers
    assert (answer.spoke, answer.heard and answer.heard.midi) == (False, 60)
    assert answer.off_cents == pytest.approx(200, abs=0.3)
    assert not attempt.verdict.passed


def test_a_try_that_is_sounding_at_the_end_is_judged_as_far_as_it_went() -> None:
    stand = listening()
    stand.feed(steady(B_FLAT_3_HZ, 1.0))
    assert stand.playing
    (attempt,) = stand.finish().attempts
    assert heard(attempt).measures.hold_s == pytest.approx(1.0, abs=0.05)


def test_chunks_of_any_size_give_the_same_try() -> None:
    attempts = [
        play(silence(0.6), NOTE, silence(0.8), chunk=size)[0] for size in (97, 512, 200_000)
    ]
    assert {attempt.frames.first for attempt in attempts} == {attempts[0].frames.first}
    assert {attempt.answers for attempt in attempts} == {attempts[0].answers}


def test_listening_taken_up_from_what_is_needed_gives_the_same_try() -> None:
    sound = np.concatenate((silence(7.3), NOTE, silence(0.8)))
    stand = listening()
    stand.feed(sound[: 7 * RATE])
    stand.feed(sound[7 * RATE : 8 * RATE])
    second = stand.needed_from // 100
    (whole,) = stand.feed(sound[8 * RATE :]).attempts
    (later,) = listening(second * 100).feed(sound[second * RATE :]).attempts
    assert second > 5
    assert (later.frames.first, later.answers) == (whole.frames.first, whole.answers)


def test_a_sounding_try_is_glimpsed_every_quarter_of_a_second() -> None:
    stand = listening()
    # F3, a touched B♭3 and D4 on one breath, from 1 s on.
    pitches = ((174.614, 0.8), (B_FLAT_3_HZ, 0.06), (293.665, 1.0))
    f0_hz = np.concatenate([np.full(round(s * RATE), hz) for hz, s in pitches])
    sound = np.concatenate((silence(1.0), softened(harmonic(f0_hz)), silence(1.0)))
    followed = [stand.feed(sound[at : at + 480]) for at in range(0, len(sound), 480)]
    glimpses = [one.glimpse for one in followed if one.glimpse is not None]
    assert 6 <= len(glimpses) <= 10
    assert all(glimpse.first == pytest.approx(100, abs=3) for glimpse in glimpses)
    assert [len(glimpse.events.notes) for glimpse in glimpses][-1] == 2
    (change,) = glimpses[-1].events.transitions
    assert [touched.midi for touched in change.touched] == [58]
    assert 1.7 <= change.start_s <= 1.9


def test_a_try_keeps_all_that_was_heard_from_its_own_start() -> None:
    broken = np.concatenate((NOTE, silence(0.12), NOTE))
    (attempt,) = play(silence(2.0), broken, silence(0.8))
    first, second = attempt.events.notes
    assert first.start_s == pytest.approx(0.5, abs=0.03)
    assert second.start_s - first.end_s == pytest.approx(0.12, abs=0.04)
    (change,) = attempt.events.transitions
    assert change.start_s == pytest.approx(0.5 + 2.3, abs=0.05)


def test_a_try_that_goes_on_too_long_is_ended_and_the_next_begins_after_it(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(stand_module, "_LONGEST_TRY_FRAMES", 300)
    short = task("long-tone", "tenor-horn-eb", from_midi="Bb3", hold_s=1)
    attempts = play(silence(1.0), softened(steady(B_FLAT_3_HZ, 5.0)), silence(0.8), asked=short)
    # From 1 s to 4 s, and from there to the end at 6 s.
    first, second = attempts
    assert [len(attempt.frames) for attempt in attempts] == [
        pytest.approx(n, abs=4) for n in (351, 270)
    ]
    assert heard(first).measures.hold_s == pytest.approx(3.0, abs=0.05)
    assert heard(second).measures.hold_s == pytest.approx(2.0, abs=0.05)
    starts = second.frames.first + heard(second).first
    assert starts >= first.frames.first + len(first.frames)


@pytest.mark.parametrize(("seconds", "is_try"), [(0.2, False), (0.3, True)])
def test_sound_under_a_quarter_of_a_second_is_no_try(seconds: float, is_try: bool) -> None:
    assert bool(play(silence(1.0), softened(steady(B_FLAT_3_HZ, seconds)), silence(1))) == is_try


def test_what_sounded_before_a_try_is_not_counted_in_it() -> None:
    # Four blips of 70 ms, too short to start one, minutes before in a player's terms.
    blips = [part for _ in range(4) for part in (softened(steady(392.0, 0.07)), silence(0.9))]
    (attempt,) = play(silence(1.0), *blips, softened(steady(B_FLAT_3_HZ, 2.0)), silence(0.8))
    assert [note.midi for note in attempt.events.notes] == [58]


def test_sound_judged_before_makes_no_try_again() -> None:
    sound = np.concatenate(
        (silence(1.0), softened(steady(B_FLAT_3_HZ, 5.9)), silence(1.0),
         softened(steady(B_FLAT_3_HZ, 2.0)), silence(0.8))
    )  # fmt: skip
    first, second = play(sound)
    judged = first.frames.first + len(first.frames)
    # Taken up at 6 s, in the middle of the first note.
    again = listening(600, judged)
    found = again.feed(sound[6 * RATE :]).attempts + again.finish().attempts
    assert [attempt.frames.first for attempt in found] == [second.frames.first]
    assert found[0].answers == second.answers
    assert found[0].events == second.events


def results(attempt: Attempt) -> dict[Aim, tuple[bool, bool]]:
    """Of each aim, whether it holds and whether it could be told."""
    return {result.aim: (result.passed, not result.untold) for result in attempt.verdict.results}


def test_a_note_is_held_against_the_last_that_passed() -> None:
    soft = 0.3 * NOTE
    first, second, third = play(
        silence(1.0), NOTE, silence(0.9), soft, silence(0.9), NOTE, silence(0.9)
    )
    assert results(first)[Aim.LEVEL] == (True, False)
    # 0.3 is 10.5 dB less; it did not pass, so the third is held against the first.
    assert results(second)[Aim.LEVEL] == (False, True)
    off = next(result for result in second.verdict.results if result.aim is Aim.LEVEL)
    assert off.measured == pytest.approx(-10.46, abs=0.1)
    assert results(third)[Aim.LEVEL] == (True, True)
    assert results(third)[Aim.TONE] == (True, False)


def test_the_tone_is_told_once_five_have_passed() -> None:
    stand = listening()
    (attempt,) = play(silence(1.0), NOTE, silence(0.9))
    note = heard(attempt)
    own = Tone(58, note.measures.level_db, note.harmonicity_db, note.brightness, 0.0, 1.0)
    stand.learn([own] * 5)
    airy = NOTE + noise(len(NOTE) / RATE, 0.05)
    sound = np.concatenate((silence(1.0), airy, silence(0.9), NOTE, silence(0.9)))
    breathy, clear = stand.feed(sound).attempts
    assert results(breathy)[Aim.TONE] == (False, True)
    assert results(clear)[Aim.TONE] == (True, True)


def test_a_note_that_cracked_does_not_pass() -> None:
    f0_hz = np.full(round(2.4 * RATE), B_FLAT_3_HZ)
    f0_hz[: round(0.07 * RATE)] = 174.614
    (attempt,) = play(silence(1.0), softened(harmonic(f0_hz)), silence(0.9))
    assert results(attempt)[Aim.SPEAKS] == (False, True)


# B♭3, A3, A♭3, each held and with a breath after it.
LOW = task("low-long-tones", "tenor-horn-eb", from_midi="Bb3", notes=3, hold_s=1)


def tone(midi: int, seconds: float = 1.2) -> Samples:
    return softened(steady(hz_from_midi(midi), seconds))


def test_breaths_that_are_written_do_not_end_a_try_and_its_last_note_does() -> None:
    pause = silence(1.2)
    sound = (silence(1), tone(58), pause, tone(57), pause, tone(56))
    # Half a second after the last note that was asked for, not after the one before.
    assert play(*sound[:-1], silence(0.8), asked=LOW) == []
    (attempt,) = play(*sound, silence(0.7), asked=LOW)
    assert [answer.spoke for answer in attempt.answers] == [True, True, True]
    assert attempt.verdict.passed


def test_a_try_that_is_left_unfinished_ends_after_the_longest_pause_and_a_breath() -> None:
    sound = (silence(1), tone(58), silence(1.2), tone(57))
    assert play(*sound, silence(2.8), asked=LOW) == []
    (attempt,) = play(*sound, silence(3.3), asked=LOW)
    assert [answer.spoke for answer in attempt.answers] == [True, True, False]
    assert not attempt.verdict.passed


def test_the_same_note_often_is_done_when_it_has_been_played_as_often_as_asked() -> None:
    sets = task("pedal-sets", "trombone-tenor", starts=4)
    horn = Horn(INSTRUMENTS["trombone-tenor"])
    midi = sets.score.notes[0].midi
    assert {note.midi for note in sets.score.notes} == {midi}
    starts = [part for _ in sets.score.notes for part in (tone(midi, 2.0), silence(1.0))]

    def attempts(parts: list[Samples]) -> int:
        return len(Stand(sets, horn, Standard.KIND, RATE).feed(np.concatenate(parts)).attempts)

    assert attempts([silence(1), *starts[:-2]]) == 0
    assert attempts([silence(1), *starts]) == 1


def test_each_repetition_is_a_try_of_its_own() -> None:
    slur = task("lip-slur", "tenor-horn-eb", times=3)
    assert slur.score.times == 3
    midis = [note.midi for note in slur.score.notes]
    beat = round(RATE * float(slur.score.notes[0].beats))
    pitch = np.concatenate([np.full(beat, hz_from_midi(midi)) for midi in midis])
    once = (softened(harmonic(pitch)), silence(0.8))
    attempts = play(silence(1), *once, *once, asked=slur)
    assert [len(attempt.answers) for attempt in attempts] == [len(midis)] * 2
    assert all(place.time == 0 for attempt in attempts for place in [attempt.answers[-1].at])


def test_the_score_is_followed_by_what_is_heard() -> None:
    stand = listening(asked=LOW)
    sound = np.concatenate(
        (silence(1), tone(58), silence(1), tone(57), silence(1), tone(56), silence(0.8))
    )
    reached: list[Place | None] = []
    for at in range(0, len(sound), 480):
        glimpse = stand.feed(sound[at : at + 480]).glimpse
        if glimpse is not None:
            reached.append(glimpse.reached)
    steps = [place.step for place in reached if place is not None]
    # Each note is followed by its breath.
    assert sorted(set(steps)) == [0, 2, 4]
    assert steps == sorted(steps)


def test_a_held_note_is_looked_at_less_often_than_notes_that_change() -> None:
    def glimpses(sound: Samples) -> int:
        stand = listening()
        return sum(
            stand.feed(sound[at : at + 960]).glimpse is not None for at in range(0, len(sound), 960)
        )

    held = np.concatenate((silence(1.0), softened(steady(B_FLAT_3_HZ, 6.0))))
    pitch = np.repeat([hz_from_midi(58), hz_from_midi(60)] * 6, RATE // 2)
    moving = np.concatenate((silence(1.0), softened(harmonic(pitch))))
    # Six seconds: four a second while notes change (three at least, in steps of six frames); for
    # a held one, those of its beginning and one a second after it.
    assert glimpses(moving) >= 18
    assert 6 <= glimpses(held) <= 9


def test_a_glimpse_that_begins_within_a_note_tells_of_no_crack_there() -> None:
    # Quavers up and down, longer than a glimpse looks back.
    pyramid = task("pyramid", "tenor-horn-eb")
    midis = [note.midi for note in pyramid.score.notes] * 2
    pitch = np.concatenate([np.full(round(0.45 * RATE), hz_from_midi(midi)) for midi in midis])
    sound = np.concatenate((silence(1.0), softened(harmonic(pitch))))
    stand = listening(asked=pyramid)
    cracks = []
    for at in range(0, len(sound), 960):
        glimpse = stand.feed(sound[at : at + 960]).glimpse
        if glimpse is not None:
            notes = [note for note in glimpse.events.notes if note.first >= glimpse.first]
            cracks += [note for note in notes if note.cracked_from_midi is not None]
    assert cracks == []


def test_a_long_breath_is_followed_to_its_end() -> None:
    # Fifteen notes of a second on one breath: longer than a glimpse looks back.
    scale = task("two-octave-scale", "tenor-horn-eb")
    midis = [note.midi for note in scale.score.notes]
    assert len(midis) == 15
    pitch = np.concatenate([np.full(RATE, hz_from_midi(midi)) for midi in midis])
    sound = np.concatenate((silence(1.0), softened(harmonic(pitch))))
    stand = listening(asked=scale)
    reached: list[int] = []
    for at in range(0, len(sound), 960):
        glimpse = stand.feed(sound[at : at + 960]).glimpse
        if glimpse is not None and glimpse.reached is not None:
            reached.append(glimpse.reached.step)
    assert sorted(set(reached)) == list(range(15))
    assert reached == sorted(reached)


def clicks(seconds: float, level: float) -> Samples:
    """A metronome at 100 as the room gives it back: sweeps of 12 ms that die away, and echoes."""
    sound = silence(seconds)
    t = np.arange(round(0.012 * RATE)) / RATE
    for number, at in enumerate(np.arange(0.2, seconds - 0.2, 0.6)):
        from_hz, to_hz = (6000, 1500) if number % 4 == 0 else (4000, 900)
        turns = from_hz * t + (to_hz - from_hz) * t**2 / (2 * 0.012)
        one = level * np.cos(2 * np.pi * turns) * (1 - t / 0.012) ** 2
        for echo_s, share in ((0.0, 1.0), (0.006, 0.4), (0.019, 0.25), (0.05, 0.1)):
            start = round((at + echo_s) * RATE)
            sound[start : start + len(one)] += share * one
    return sound


@pytest.mark.parametrize("level", [0.02, 0.1, 0.3])
def test_a_click_in_the_room_is_neither_a_note_nor_in_a_note(level: float) -> None:
    whole = np.concatenate((silence(4.0), softened(steady(B_FLAT_3_HZ, 4.0)), silence(3.0)))
    assert play(clicks(6.0, level)) == []
    (attempt,) = play(whole + clicks(11.0, level))
    assert [note.midi for note in attempt.events.notes] == [58]
    (note,) = attempt.events.notes
    assert note.end_s - note.start_s == pytest.approx(4.0, abs=0.06)
    assert abs(note.measures.centre_cents) < 1.0
    assert note.measures.spread_cents < 2.0
    assert note.cracked_from_midi is None
    assert attempt.events.transitions == ()
