"""What must hold of any pattern, whatever was played: property tests on events made by hand."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from orexis.core.horn.notation import note_name
from orexis.core.judging.marks import marks
from orexis.core.listening.notes.events import Change, Events, Glide, Note, Transition
from orexis.core.listening.notes.measures import NoteMeasures
from orexis.core.listening.notes.patterns import WantedNote, match_pattern
from orexis.core.listening.notes.tone import Baseline, Tone

CLEAN = NoteMeasures(0, 2, 0, 0, 0.02, 0, 0.4, None, -20, 0)
TONGUED = Transition(Change.TONGUED, 0.0, 0.05, 0.05, (), 12.0, 0.0, 0.0, 0.0)
LENGTH = 50


def played(pitches: list[int], cents: float = 0.0) -> Events:
    """Tongued notes of half a second."""
    notes = tuple(
        Note(
            first=LENGTH * i,
            last=LENGTH * i + LENGTH - 5,
            f0_hz=440 * 2 ** ((midi - 69) / 12),
            midi=midi,
            measures=replace(CLEAN, centre_cents=cents),
            harmonicity_db=28,
            brightness=3,
        )
        for i, midi in enumerate(pitches)
    )
    changes = tuple(replace(TONGUED, start_s=note.end_s) for note in notes[:-1])
    return Events(notes, changes)


PITCHES = st.lists(st.integers(40, 80), min_size=1, max_size=12)


@given(PITCHES, st.floats(-35, 35))
def test_what_is_played_as_wanted_has_every_note_in_its_place(
    pitches: list[int], cents: float
) -> None:
    match = match_pattern([WantedNote(midi) for midi in pitches], played(pitches, cents))
    assert [answer and answer.note for answer in match.spoken] == list(range(len(pitches)))
    assert match.left_over == ()
    assert match.clear_share == 1
    assert match.breaths == 1
    assert match.evenness_cv == pytest.approx(0, abs=1e-9)


@given(PITCHES, st.data())
def test_no_more_is_missed_than_was_left_out(pitches: list[int], data: st.DataObject) -> None:
    kept = data.draw(st.lists(st.booleans(), min_size=len(pitches), max_size=len(pitches)))
    sounding = [midi for midi, stays in zip(pitches, kept, strict=True) if stays]
    match = match_pattern([WantedNote(midi) for midi in pitches], played(sounding))
    assert len(match.missed) == len(pitches) - len(sounding)
    assert match.left_over == ()


@given(PITCHES, PITCHES)
def test_every_heard_note_answers_one_wanted_or_is_left_over(
    wanted: list[int], sounding: list[int]
) -> None:
    match = match_pattern([WantedNote(midi) for midi in wanted], played(sounding))
    answering = [answer.note for answer in match.spoken if answer is not None]
    left = [number for number, _ in match.left_over]
    assert sorted(answering + left) == list(range(len(sounding)))
    assert answering == sorted(answering)
    assert all(
        abs(100 * (sounding[answer.note] - midi)) <= 60
        for answer, midi in zip(match.spoken, wanted, strict=True)
        if answer is not None
    )


@given(PITCHES, st.floats(-0.2, 0.2), st.floats(0, 0.3))
def test_lateness_and_latency_are_told_apart(
    pitches: list[int], late_s: float, latency_s: float
) -> None:
    events = played(pitches)
    wanted = [WantedNote(note.midi, note.start_s - late_s - latency_s) for note in events.notes]
    timing = match_pattern(wanted, events, latency_s).timing
    assert timing is not None
    assert timing.mean_ms == pytest.approx(1000 * late_s, abs=1e-6)
    assert timing.spread_ms == pytest.approx(0, abs=1e-6)


@given(PITCHES, st.lists(st.floats(-60, 60), min_size=4, max_size=4))
def test_marks_are_in_order_and_say_something(pitches: list[int], faults: list[float]) -> None:
    scoop, sag, centre, change = faults
    events = played(pitches, centre / 2)
    measures = replace(CLEAN, scoop_cents=scoop, sag_cents=sag, level_change_db=change / 4)
    events = replace(events, notes=tuple(replace(note, measures=measures) for note in events.notes))
    found = marks(events, note_name)
    assert [mark.at_s for mark in found] == sorted(mark.at_s for mark in found)
    assert all(mark.words and np.isfinite(mark.pitch_cents) for mark in found)
    assert all(0 <= mark.at_s <= events.notes[-1].end_s for mark in found)


def test_events_know_their_middle_note_and_how_far_they_reach() -> None:
    events = played([58, 70, 62])
    assert (events.middle_midi, events.range_midi(440)) == (62, (58, 70))
    # A siren up to A5, 880 Hz.
    siren = Glide(2.0, 4.0, 220.0, 880.0, 24.0, 1, 0, 5.0)
    assert replace(events, glides=(siren,)).range_midi(440) == pytest.approx((57, 81))
    assert (Events().middle_midi, Events().range_midi(440)) == (None, None)


TONES = st.lists(
    st.builds(
        Tone,
        midi=st.floats(40, 80),
        level_db=st.floats(-40, -10),
        harmonicity_db=st.floats(5, 40),
        brightness=st.floats(1.1, 8),
        centre_cents=st.floats(-20, 20),
        spread_cents=st.floats(0, 20),
    ),
    min_size=6,
    max_size=20,
)


@given(TONES)
def test_a_baseline_does_not_mind_the_order_it_was_learnt_in(tones: list[Tone]) -> None:
    baseline, other = Baseline(tones), Baseline(tones[::-1])
    assert baseline.expects(tones[0]).harmonicity_db == pytest.approx(
        other.expects(tones[0]).harmonicity_db, abs=1e-6
    )


@given(TONES)
def test_more_notes_of_the_same_kind_never_make_it_less_sure(tones: list[Tone]) -> None:
    tone = tones[0]
    spreads = [Baseline([tone] * count).expects(tone).harmonicity_sd_db for count in (1, 3, 10, 30)]
    assert spreads == sorted(spreads, reverse=True)


@given(TONES)
def test_a_match_lies_between_nothing_and_all_and_is_whole_with_itself(tones: list[Tone]) -> None:
    baseline = Baseline(tones)
    match = baseline.match(tones[0], tones[1])
    assert match is None or 0 <= match <= 100
    own = baseline.match(tones[0], tones[0])
    assert own is None or own == pytest.approx(100)
