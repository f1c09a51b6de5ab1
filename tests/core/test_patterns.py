"""Played against asked: on spliced tones of known pitch and time."""

import numpy as np
import pytest

from orexis.core.listening.analysis import analyse
from orexis.core.listening.notes.events import Events
from orexis.core.listening.notes.patterns import LeftOver, PatternMatch, WantedNote, match_pattern
from tests.sounds import RATE, Samples, silence, softened, steady

ARPEGGIO = (58, 62, 65, 70)


def tone(midi: float, seconds: float = 0.4, level: float = 0.3) -> Samples:
    return level / 0.3 * softened(steady(440 * 2 ** ((midi - 69) / 12), seconds))


def heard(*parts: Samples) -> Events:
    return analyse([np.concatenate((silence(0.5), *parts, silence(0.5)))], RATE).events


def tongued(*pitches: float) -> Events:
    return heard(*(part for midi in pitches for part in (tone(midi), silence(0.1))))


def against(wanted: tuple[float, ...], events: Events) -> PatternMatch:
    return match_pattern([WantedNote(midi) for midi in wanted], events)


def test_a_pattern_played_as_asked_has_every_note_and_one_breath() -> None:
    match = against(ARPEGGIO, tongued(*ARPEGGIO))
    assert [answer and answer.note for answer in match.spoken] == [0, 1, 2, 3]
    assert (match.missed, match.left_over, match.breaths) == ((), (), 1)
    assert match.clear_share == 1
    assert match.same_sound
    assert match.evenness_cv < 0.03


def test_a_note_that_did_not_speak_is_missed_and_a_wrong_one_is_extra() -> None:
    match = against(ARPEGGIO, tongued(58, 62, 68, 70))
    assert match.missed == (2,)
    assert match.left_over == ((2, LeftOver.EXTRA),)


def test_a_note_broken_in_two_is_split() -> None:
    events = heard(tone(58), silence(0.1), tone(62, 0.3), silence(0.12), tone(62, 0.3), tone(65))
    match = against((58, 62, 65), events)
    assert match.missed == ()
    assert [kind for _, kind in match.left_over] == [LeftOver.SPLIT]


def test_starting_again_is_repeated_and_costs_a_breath() -> None:
    first = [part for midi in (58, 62) for part in (tone(midi), silence(0.1))]
    whole = [part for midi in ARPEGGIO for part in (tone(midi), silence(0.1))]
    match = against(ARPEGGIO, heard(*first, silence(0.8), *whole))
    assert match.missed == ()
    assert [kind for _, kind in match.left_over] == [LeftOver.REPEATED] * 2
    assert match.breaths <= 2


def test_a_breath_in_the_middle_is_counted() -> None:
    events = heard(tone(58), silence(0.1), tone(62), silence(0.9), tone(65), silence(0.1), tone(70))
    assert against(ARPEGGIO, events).breaths == 2


def test_what_is_played_on_after_the_pattern_takes_no_note_away_from_it() -> None:
    match = against((58, 62, 58), tongued(58, 62, 58, 62, 60, 62, 62))
    assert match.missed == ()
    assert len(match.left_over) == 4


def test_each_note_is_measured_against_what_was_wanted() -> None:
    # 20 cents high on the first, a target 13.7 low on the second.
    match = against((58, 61.863), tongued(58.2, 62))
    assert [round(answer.cents) for answer in match.spoken if answer] == [20, 14]
    off = against((58, 62), tongued(58.45, 62))
    assert off.missed == ()
    assert off.clear_share == 0.5


def test_a_last_note_gone_soft_is_another_sound() -> None:
    parts = [tone(58), silence(0.1), tone(62), silence(0.1), tone(65, level=0.1)]
    match = against((58, 62, 65), heard(*parts))
    # A third of the amplitude: 20·log10(1/3) = −9.5 dB.
    assert match.level_change_db == pytest.approx(-9.5, abs=0.5)
    assert not match.same_sound


def test_onsets_are_held_against_beats_after_latency() -> None:
    # Onsets at 0.5, 1.0 and 1.6 s; beats every half second from 0.45 s on.
    events = heard(tone(58), silence(0.1), tone(62), silence(0.2), tone(65))
    wanted = [WantedNote(midi, 0.45 + 0.5 * i) for i, midi in enumerate((58, 62, 65))]
    timing = match_pattern(wanted, events, latency_s=0.02).timing
    assert timing is not None
    assert timing.offsets_ms == pytest.approx((30, 30, 130), abs=20)
    assert timing.mean_ms == pytest.approx(63, abs=15)
    assert timing.spread_ms == pytest.approx(47, abs=12)
    # The steps took 1 and 1.2 of their beats: 0.1/1.1.
    assert match_pattern(wanted, events).evenness_cv == pytest.approx(0.09, abs=0.03)


def test_silence_misses_everything_and_nothing_wanted_is_refused() -> None:
    match = against(ARPEGGIO, Events())
    assert match.missed == (0, 1, 2, 3)
    assert match.breaths == 0
    assert match.timing is None
    with pytest.raises(ValueError, match="at least one note"):
        match_pattern([], Events())
