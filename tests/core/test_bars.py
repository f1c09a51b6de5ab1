"""A piece bar by bar, from notes that are laid beside it by hand."""

from dataclasses import replace
from fractions import Fraction

import pytest

from orexis.core.horn.notation import note_name
from orexis.core.judging.attempts import StepOutcome
from orexis.core.judging.bars import piece_of, written_in
from orexis.core.judging.following import ExtraNote, FollowedNote, FollowedPart
from orexis.core.score.steps import Breath, Play, Rest, Score

# Four bars of two halves; a breath after the second.
_HALF = Fraction(2)
_MIDIS = (60, 62, 64, 65, 67, 65, 64, 62)
SCORE = Score(
    (
        *(Play(midi, _HALF) for midi in _MIDIS[:4]),
        Breath(),
        *(Play(midi, _HALF) for midi in _MIDIS[4:]),
    ),
    tempo_bpm=80,
)


def played(**changed: FollowedNote) -> FollowedPart:
    """All of it in tune and in time at 80 a minute, but for some notes (`n0`, `n1` …)."""
    notes = [
        FollowedNote(note, start_s=1.5 * place, cents=3.0, late_ms=0.0)
        for place, note in enumerate(written_in(SCORE))
    ]
    for key, note in changed.items():
        notes[int(key[1:])] = replace(note, written=notes[int(key[1:])].written)
    return FollowedPart(tuple(notes), (), 80.0, None)


def missed() -> FollowedNote:
    return FollowedNote(written_in(SCORE)[0])


def test_notes_lie_in_their_bars_and_a_breath_takes_no_time() -> None:
    bars = [(note.bar, note.beat, note.midi) for note in written_in(SCORE)]
    assert bars[:4] == [(1, 1.0, 60), (1, 3.0, 62), (2, 1.0, 64), (2, 3.0, 65)]
    assert bars[4][:2] == (3, 1.0)


def test_a_piece_that_is_all_there_says_so_with_its_tempo() -> None:
    piece = piece_of(SCORE, [played()], note_name)
    assert piece.headline == "All 4 bars are there. You played it at 80 beats a minute."
    assert not any(bar.wrong for bar in piece.bars)
    assert piece.passages == ()
    assert set(piece.outcomes.values()) == {StepOutcome.MET}


def test_what_was_wrong_is_said_of_its_bar_and_the_bar_is_to_be_practised_slower() -> None:
    wrong = FollowedNote(written_in(SCORE)[0], start_s=4.5, heard_midi=66)
    piece = piece_of(SCORE, [played(n2=missed(), n3=wrong)], note_name)
    assert piece.headline == "Bar 2 needs work. You played it at 80 beats a minute."
    assert piece.bars[1].wrong == "E4 missed, F♯4 for F4"
    (passage,) = piece.passages
    assert (passage.first_bar, passage.last_bar, passage.bpm) == (2, 2, 60)
    # The breath at the end of the bar begins with the next one.
    assert passage.line == "E4:2 F4:2"
    # The steps of the score: the breath stands between the fourth and the fifth note.
    off = {
        step: outcome for step, outcome in piece.outcomes.items() if outcome is not StepOutcome.MET
    }
    assert off == {2: StepOutcome.SILENT, 3: StepOutcome.MISSED}
    assert list(piece.outcomes) == [0, 1, 2, 3, 5, 6, 7, 8]


def test_bars_next_to_each_other_are_practised_two_at_a_time() -> None:
    piece = piece_of(SCORE, [played(n0=missed(), n2=missed(), n4=missed())], note_name)
    assert [(passage.first_bar, passage.last_bar) for passage in piece.passages] == [(1, 2), (3, 3)]
    assert piece.headline == "1 of 4 bars good. You played it at 80 beats a minute."


@pytest.mark.parametrize(
    ("cents", "late_ms", "said"),
    [
        (-25.0, 0.0, "25 cents flat"),
        (8.0, 140.0, "140 ms late"),
        (30.0, -120.0, "30 cents sharp, 120 ms early"),
        (15.0, 60.0, ""),
    ],
)
def test_a_bar_is_out_of_tune_or_time_by_its_mean(cents: float, late_ms: float, said: str) -> None:
    note = FollowedNote(written_in(SCORE)[0], start_s=0.0, cents=cents, late_ms=late_ms)
    assert piece_of(SCORE, [played(n0=note, n1=note)], note_name).bars[0].wrong == said


def test_notes_too_much_and_where_it_stopped() -> None:
    whole = played(n6=missed(), n7=missed())
    stopped = replace(whole, extra=(ExtraNote(1, 64, 2.0),), stopped_bar=3)
    piece = piece_of(SCORE, [stopped], note_name)
    assert piece.bars[0].wrong == "E4 too much"
    assert piece.bars[3].wrong == "not played"
    assert piece.headline == (
        "Bar 1 needs work. You played it at 80 beats a minute. You stopped after bar 3."
    )
    # What was not played is nothing to practise by itself yet.
    assert [passage.first_bar for passage in piece.passages] == [1]


def test_a_piece_of_which_nothing_was_heard_may_be_another() -> None:
    silent = FollowedPart(tuple(FollowedNote(note) for note in written_in(SCORE)), (), None, 1)
    assert "another one?" in piece_of(SCORE, [silent], note_name).headline


def test_rests_count_in_bars() -> None:
    score = replace(SCORE, steps=(Rest(Fraction(4)), *SCORE.steps))
    assert written_in(score)[0].bar == 2


def cut(whole: FollowedPart, first: int, last: int) -> FollowedPart:
    """The same played from one note to another."""
    to_the_end = last == len(_MIDIS) - 1
    return replace(
        whole,
        notes=whole.notes[first : last + 1],
        stopped_bar=None if to_the_end else whole.notes[last].written.bar,
    )


def test_over_many_times_the_bars_that_go_wrong_most_are_told() -> None:
    wrong = FollowedNote(written_in(SCORE)[0], start_s=4.5, heard_midi=66)
    times = [played(n3=wrong), played(n3=wrong), played(n2=missed(), n6=missed()), played()]
    piece = piece_of(SCORE, times, note_name)
    assert piece.headline == "You played it 4 times to the end. Most often wrong: bar 2 in 3 of 4."
    assert piece.bars[1].times == ("F♯4 for F4", "F♯4 for F4", "E4 missed", "")
    assert (piece.bars[1].wrong, piece.bars[1].wrong_times) == ("E4 missed", 3)
    # Once in four is not to be practised by itself.
    assert [(passage.first_bar, passage.last_bar) for passage in piece.passages] == [(2, 2)]
    assert not piece.bars[3].needs_work
    # The fourth note was wrong in two of four: as it went the last time.
    assert piece.outcomes[3] is StepOutcome.MET


def test_a_bar_is_counted_where_half_of_it_was_played() -> None:
    # From the second half of bar 1 to the first half of bar 3, then the whole.
    piece = piece_of(SCORE, [cut(played(), 1, 4), played()], note_name)
    assert [len(bar.times) for bar in piece.bars] == [2, 2, 2, 1]
    # Half of bar 3 was left out: it was broken off there.
    assert piece.bars[2].times == ("broken off", "")
    assert piece.headline == (
        "You played it once to the end and parts of it once. Most often wrong: bar 3 in 1 of 2."
    )


def test_bars_lead_back_into_the_piece_with_those_beside() -> None:
    (passage,) = piece_of(SCORE, [played(n2=missed())], note_name).passages
    assert passage.words == "Bar 2"
    assert passage.line_with_beside == "C4:2 D4:2 E4:2 F4:2 ' G4:2 F4:2"
    assert passage.played_bpm == 80


def test_never_played_is_said() -> None:
    piece = piece_of(SCORE, [], note_name)
    assert piece.headline == "Nothing of this piece was heard. Is it another one?"
    assert {bar.wrong for bar in piece.bars} == {"not played"}
    assert piece.outcomes == {}
    assert piece.passages == ()


def test_who_begins_later_is_not_told_that_what_came_before_needs_work() -> None:
    wrong = played(n5=missed())
    piece = piece_of(SCORE, [cut(wrong, 4, 7)], note_name)
    assert piece.headline == (
        "Bar 3 needs work. You played it at 80 beats a minute. You began with bar 3."
    )
    assert [bar.is_played for bar in piece.bars] == [False, False, True, True]
    # The steps from the breath on are those of bars 3 and 4.
    assert list(piece.outcomes) == [5, 6, 7, 8]
    assert [bar.bar for bar in piece.bars if bar.needs_work] == [3]
    good = piece_of(SCORE, [cut(played(), 0, 3)], note_name)
    assert good.headline.startswith("2 bars of 4, and good.")
    assert good.headline.endswith("You stopped after bar 2.")


def test_what_was_broken_off_in_the_last_bar_was_not_played_to_the_end() -> None:
    piece = piece_of(SCORE, [cut(played(), 0, 6), played()], note_name)
    assert piece.headline.startswith("You played it once to the end and parts of it once.")
