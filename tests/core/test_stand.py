"""The running of the Stand: what makes a try, what ends it, and what it keeps."""

import numpy as np
import pytest

from orexis.core.exercises.longtone import LongTone
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn
from orexis.core.judging.gate import DEFAULT_LIMITS, GateLevel, Rule
from orexis.core.listening.notes.tone import Tone
from orexis.core.session import stand as stand_module
from orexis.core.session.stand import Repetition, Stand
from tests.sounds import RATE, Samples, harmonic, noise, silence, softened, steady

NORMAL = DEFAULT_LIMITS[GateLevel.NORMAL]
HORN = Horn(INSTRUMENTS["tenor-horn-eb"])
TONE = LongTone(HORN, 58, 2.0)
B_FLAT_3_HZ = 233.082


def play(*parts: Samples, chunk: int = 512) -> list[Repetition]:
    stand = Stand(TONE, NORMAL, RATE)
    sound = np.concatenate(parts)
    found = []
    for at in range(0, len(sound), chunk):
        found += stand.feed(sound[at : at + chunk]).repetitions
    return found


NOTE = softened(steady(B_FLAT_3_HZ, 2.3))


def test_playing_starts_a_try_and_silence_ends_it() -> None:
    (repetition,) = play(silence(1.0), NOTE, silence(0.8))
    assert repetition.verdict.passed
    assert repetition.note.start_s == pytest.approx(1.0, abs=0.04)
    assert repetition.measures.centre_cents == pytest.approx(0, abs=0.3)
    # Half a second either side of the note goes with the take.
    assert repetition.frames.first * 0.01 == pytest.approx(0.5, abs=0.04)
    assert len(repetition.frames) * 0.01 == pytest.approx(3.3, abs=0.06)


def test_the_try_lasts_until_half_a_second_of_silence() -> None:
    assert play(NOTE, silence(0.4)) == []
    assert len(play(NOTE, silence(0.7))) == 1


def test_two_notes_with_a_breath_between_are_two_tries() -> None:
    assert len(play(NOTE, silence(1.0), NOTE, silence(1.0))) == 2


def test_a_short_sound_or_noise_is_not_a_try() -> None:
    blip = softened(steady(B_FLAT_3_HZ, 0.15))
    assert play(silence(0.5), blip, silence(0.5), noise(0.8), silence(1.0)) == []


def test_a_wrong_note_is_judged_against_the_one_asked_for() -> None:
    # C4 (MIDI 60) is 200 cents above B♭3.
    (repetition,) = play(softened(steady(261.626, 2.3)), silence(0.8))
    assert repetition.measures.centre_cents == pytest.approx(200, abs=0.3)
    assert not repetition.verdict.passed


def test_a_try_that_is_sounding_at_the_end_is_judged_as_far_as_it_went() -> None:
    stand = Stand(TONE, NORMAL, RATE)
    stand.feed(steady(B_FLAT_3_HZ, 1.0))
    assert stand.playing
    (repetition,) = stand.finish().repetitions
    assert repetition.measures.hold_s == pytest.approx(1.0, abs=0.05)


def test_chunks_of_any_size_give_the_same_try() -> None:
    tries = [play(silence(0.6), NOTE, silence(0.8), chunk=size)[0] for size in (97, 512, 200_000)]
    assert {one.frames.first for one in tries} == {tries[0].frames.first}
    assert {one.measures for one in tries} == {tries[0].measures}


def test_listening_taken_up_from_what_is_needed_gives_the_same_try() -> None:
    sound = np.concatenate((silence(7.3), NOTE, silence(0.8)))
    stand = Stand(TONE, NORMAL, RATE)
    stand.feed(sound[: 7 * RATE])
    stand.feed(sound[7 * RATE : 8 * RATE])
    second = stand.needed_from // 100
    (whole,) = stand.feed(sound[8 * RATE :]).repetitions
    (later,) = Stand(TONE, NORMAL, RATE, second * 100).feed(sound[second * RATE :]).repetitions
    assert second > 5
    assert (later.frames.first, later.measures) == (whole.frames.first, whole.measures)


def test_a_sounding_try_is_glimpsed_every_quarter_of_a_second() -> None:
    stand = Stand(TONE, NORMAL, RATE)
    # F3, a touched B♭3 and D4 on one breath, from 1 s on.
    pitches = ((174.614, 0.8), (B_FLAT_3_HZ, 0.06), (293.665, 1.0))
    f0_hz = np.concatenate([np.full(round(s * RATE), hz) for hz, s in pitches])
    sound = np.concatenate((silence(1.0), softened(harmonic(f0_hz)), silence(1.0)))
    glimpses = [
        heard.glimpse
        for at in range(0, len(sound), 480)
        for heard in [stand.feed(sound[at : at + 480])]
        if heard.glimpse is not None
    ]
    assert 6 <= len(glimpses) <= 10
    assert all(glimpse.first == pytest.approx(100, abs=3) for glimpse in glimpses)
    assert [len(glimpse.events.notes) for glimpse in glimpses][-1] == 2
    (change,) = glimpses[-1].events.transitions
    assert [touched.midi for touched in change.touched] == [58]
    assert 1.7 <= change.start_s <= 1.9


def test_a_try_keeps_all_that_was_heard_from_its_own_start() -> None:
    broken = np.concatenate((NOTE, silence(0.12), NOTE))
    (repetition,) = play(silence(2.0), broken, silence(0.8))
    first, second = repetition.events.notes
    assert first.start_s == pytest.approx(0.5, abs=0.03)
    assert second.start_s - first.end_s == pytest.approx(0.12, abs=0.04)
    (change,) = repetition.events.transitions
    assert change.start_s == pytest.approx(0.5 + 2.3, abs=0.05)


def test_a_try_that_goes_on_too_long_is_ended_and_the_next_begins_after_it(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(stand_module, "_LONGEST_TRY_FRAMES", 300)
    tries = play(silence(1.0), softened(steady(B_FLAT_3_HZ, 5.0)), silence(0.8))
    # From 1 s to 4 s, and from there to the end at 6 s.
    first, second = tries
    assert [len(one.frames) for one in tries] == [pytest.approx(n, abs=4) for n in (351, 300)]
    assert first.measures.hold_s == pytest.approx(3.0, abs=0.05)
    assert second.measures.hold_s == pytest.approx(2.0, abs=0.05)
    assert second.note.first >= first.frames.first + len(first.frames)


@pytest.mark.parametrize(("seconds", "is_try"), [(0.2, False), (0.3, True)])
def test_sound_under_a_quarter_of_a_second_is_no_try(seconds: float, is_try: bool) -> None:
    assert bool(play(silence(1.0), softened(steady(B_FLAT_3_HZ, seconds)), silence(1))) == is_try


def test_what_sounded_before_a_try_is_not_counted_in_it() -> None:
    # Four blips of 70 ms, too short to start one, minutes before in a player's terms.
    blips = [part for _ in range(4) for part in (softened(steady(392.0, 0.07)), silence(0.9))]
    (repetition,) = play(silence(1.0), *blips, softened(steady(B_FLAT_3_HZ, 2.0)), silence(0.8))
    assert [note.midi for note in repetition.events.notes] == [58]


def test_sound_judged_before_makes_no_try_again() -> None:
    sound = np.concatenate(
        (silence(1.0), softened(steady(B_FLAT_3_HZ, 5.9)), silence(1.0),
         softened(steady(B_FLAT_3_HZ, 2.0)), silence(0.8))
    )  # fmt: skip
    first, second = play(sound)
    judged = first.frames.first + len(first.frames)
    # Taken up at 6 s, in the middle of the first note.
    again = Stand(TONE, NORMAL, RATE, 600, None, judged)
    heard = again.feed(sound[6 * RATE :]).repetitions + again.finish().repetitions
    assert [one.frames.first for one in heard] == [second.frames.first]
    assert heard[0].measures == second.measures
    assert heard[0].events == second.events


def results(repetition: Repetition) -> dict[Rule, tuple[bool, bool]]:
    """Of each rule, whether it holds and whether it could be told."""
    return {one.rule: (one.passed, not one.untold) for one in repetition.verdict.results}


def test_a_note_is_held_against_the_last_that_passed() -> None:
    soft = 0.3 * NOTE
    first, second, third = play(
        silence(1.0), NOTE, silence(0.9), soft, silence(0.9), NOTE, silence(0.9)
    )
    assert results(first)[Rule.LEVEL] == (True, False)
    # 0.3 is 10.5 dB less; it did not pass, so the third is held against the first.
    assert results(second)[Rule.LEVEL] == (False, True)
    off = next(one for one in second.verdict.results if one.rule is Rule.LEVEL)
    assert off.measured == pytest.approx(-10.46, abs=0.1)
    assert results(third)[Rule.LEVEL] == (True, True)
    assert results(third)[Rule.TONE] == (True, False)


def test_the_tone_is_told_once_five_have_passed() -> None:
    stand = Stand(TONE, NORMAL, RATE)
    (one,) = play(silence(1.0), NOTE, silence(0.9))
    own = Tone(58, one.measures.level_db, one.note.harmonicity_db, one.note.brightness, 0.0, 1.0)
    stand.learn([own] * 5)
    airy = NOTE + noise(len(NOTE) / RATE, 0.05)
    heard = stand.feed(np.concatenate((silence(1.0), airy, silence(0.9), NOTE, silence(0.9))))
    breathy, clear = heard.repetitions
    assert results(breathy)[Rule.TONE] == (False, True)
    assert results(clear)[Rule.TONE] == (True, True)


def test_a_note_that_cracked_does_not_pass() -> None:
    f0_hz = np.full(round(2.4 * RATE), B_FLAT_3_HZ)
    f0_hz[: round(0.07 * RATE)] = 174.614
    (repetition,) = play(silence(1.0), softened(harmonic(f0_hz)), silence(0.9))
    assert results(repetition)[Rule.SPEAKS] == (False, True)
