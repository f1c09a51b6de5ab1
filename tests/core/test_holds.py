"""How long the notes of a set were held: what is typical, its halves, its line, one's own usual."""

from dataclasses import replace

import pytest

from orexis.core.exercises.book import find_family, task_of
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import note_name
from orexis.core.horn.setup import Horn
from orexis.core.judging.holds import (
    Hold,
    SetOfHolds,
    held_in,
    held_steps,
    set_words,
    usual_hold_s,
)
from orexis.core.judging.matching import lay_beside
from orexis.core.listening.notes.events import Change, Events
from tests.core.test_line_rules import SLUR, note

_PEDAL = 34


def of(*seconds: float, usual_s: float | None = None) -> SetOfHolds:
    return SetOfHolds(tuple(Hold(_PEDAL, held) for held in seconds), usual_s)


FADING = of(*(8.0 - 0.2 * number for number in range(20)))


def test_a_set_that_fades_is_told_by_its_halves_and_its_line() -> None:
    # 8.0 down to 4.2 s in steps of 0.2: medians of ten are the middle of 8.0 to 6.2 and 6.0 to 4.2.
    assert FADING.halves_s == pytest.approx((7.1, 5.1))
    assert FADING.line_s == pytest.approx((8.0, 4.2))
    assert FADING.second_of_first_percent == pytest.approx(100 * 5.1 / 7.1)
    assert FADING.typical_s == pytest.approx(6.1)
    assert FADING.longest_s == 8.0


def test_one_lucky_note_bends_no_line() -> None:
    lucky = of(5.0, 5.0, 5.0, 5.0, 5.0, 5.0, 5.0, 12.0)
    assert lucky.line_s == pytest.approx((5.0, 5.0))
    assert lucky.typical_s == 5.0
    assert lucky.longest_s == 12.0


def test_what_did_not_speak_shortens_nothing_and_is_said() -> None:
    found = of(6.0, 0.0, 6.0, 5.0, 5.0, 0.0, 5.0, 5.0)
    assert found.typical_s == 5.0
    assert found.halves_s == (6.0, 5.0)
    words = set_words(found, note_name)
    assert words[0] == "8 notes of B♭1, 6 spoke: mostly 5.0 s, the longest 6.0 s."
    assert words[1] == "First half 6.0 s, second half 5.0 s: 17 % shorter."
    assert set_words(of(0.0, 0.0), note_name) == ("2 notes of B♭1, none spoke.",)


@pytest.mark.parametrize(
    ("seconds", "said"),
    [
        ((4.0, 4.0, 4.0, 5.0, 5.0, 5.0), "First half 4.0 s, second half 5.0 s: 25 % longer."),
        ((4.0, 4.0, 4.0, 4.1, 4.1, 4.1), "The second half was as long as the first: 4.1 s."),
    ],
)
def test_the_second_half_is_said_against_the_first(seconds: tuple[float, ...], said: str) -> None:
    assert said in set_words(of(*seconds), note_name)


def test_few_notes_and_notes_of_several_pitches_have_no_halves() -> None:
    few = of(6.0, 5.0, 4.0, 3.0, 2.0)
    assert few.halves_s is None
    assert few.line_s is None
    outward = SetOfHolds(tuple(Hold(50 + number, 5.0 - number / 2) for number in range(8)))
    assert outward.halves_s is None
    assert outward.second_of_first_percent is None
    assert set_words(outward, note_name) == ("8 notes: mostly 3.2 s, the longest 5.0 s.",)


def test_what_is_usual_is_the_median_of_the_medians_of_sets() -> None:
    assert usual_hold_s([[6.0, 0.0, 8.0], [5.0], [0.0, 0.0]]) == 6.0
    assert usual_hold_s([[6.0], [0.0]]) is None
    assert usual_hold_s([]) is None


def test_a_set_much_shorter_than_usual_asks_for_rest() -> None:
    # Seven tenths of 6 s are 4.2 s.
    assert not of(4.2, 4.2, usual_s=6.0).much_shorter
    tired = of(4.1, 4.1, usual_s=6.0)
    assert tired.much_shorter
    # It comes second, where the Stand still has room for it.
    assert set_words(tired, note_name)[1] == (
        "That is much shorter than your usual 6.0 s. Rest longer before the next set, or stop for "
        "today."
    )
    assert set_words(of(5.0, 5.0, usual_s=6.0), note_name)[-1] == "Your usual here is 6.0 s."
    assert not of(4.1, 4.1).much_shorter
    assert not of(0.0, 0.0, usual_s=6.0).much_shorter


def test_what_is_held_as_long_as_it_is_good_is_read_off_the_task() -> None:
    instrument = INSTRUMENTS["tuba-eb"]
    writer = Writer(Horn(instrument), Reach.usual(instrument))
    sets = task_of(find_family("pedal-sets"), writer, {"starts": 4.0})
    assert sorted(held_steps(sets)) == [0, 2, 4, 6]
    arpeggio = task_of(find_family("pedal-arpeggio"), writer, {})
    assert sorted(held_steps(arpeggio)) == [5]
    assert not held_steps(task_of(find_family("long-tone"), writer, {}))


def test_the_holds_of_an_attempt_are_as_they_were_heard_and_none_where_it_was_silent() -> None:
    horn = Horn(INSTRUMENTS["trombone-tenor"])
    writer = Writer(horn, Reach.usual(horn.instrument))
    sets = task_of(find_family("pedal-sets"), writer, {"starts": 4.0})
    wanted = next(iter(sets.score.pitches))
    # The second does not speak; the others last as long as they are good.
    notes = tuple(
        note(wanted, start_s, seconds) for start_s, seconds in ((0, 3.0), (16, 5.0), (24, 4.0))
    )
    breath = replace(SLUR, kind=Change.BREATH, gap_s=4.0)
    seen = lay_beside(sets, Events(notes, (breath, breath)), horn)
    found = held_in(sets, seen.answers)
    assert found is not None
    assert sorted(hold.seconds for hold in found.holds) == pytest.approx([0.0, 3.0, 4.0, 5.0])
    assert {hold.midi for hold in found.holds} == {wanted}
    # Of one note there is no set.
    assert held_in(sets, seen.answers[:1]) is None
