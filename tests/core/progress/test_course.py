"""How notes came to where they stand."""

from datetime import date, timedelta
from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as st

from orexis.core.coach.standing import NoteOutcome, Standing, standing_of
from orexis.core.judging.standard import Standard
from orexis.core.progress.course import StandingReached, course_of, standing_on

START = date(2026, 3, 2)


def day(number: int) -> date:
    return START + timedelta(days=number)


def heard(
    number: int,
    sounded_s: float = 3.0,
    held_s: float = 2.5,
    passed: bool = True,
    level: Standard = Standard.NORMAL,
    cold: bool = False,
) -> NoteOutcome:
    return NoteOutcome(day(number), sounded_s, held_s, passed, level, cold)


def told(course: tuple[StandingReached, ...]) -> list[tuple[Standing, int]]:
    return [(reached.standing, (reached.on - START).days) for reached in course]


def test_a_note_goes_from_attempted_to_secure_and_falls_back_when_nothing_is_played() -> None:
    times = [
        heard(0, 0.1, 0.0, passed=False),
        heard(2, 0.5, 0.0, passed=False),
        heard(5),
        heard(9),
        heard(12, cold=True),
    ]
    # Three days of the fourteen from 5 on: it is secure until 5 is fourteen days ago, held until
    # thirty days have gone by since it spoke on 12.
    assert told(course_of(times, day(60))) == [
        (Standing.ATTEMPTED, 0),
        (Standing.TOUCHED, 2),
        (Standing.HELD, 5),
        (Standing.SECURE, 12),
        (Standing.HELD, 19),
        (Standing.FADED, 43),
    ]
    assert told(course_of(times, day(42)))[-1] == (Standing.HELD, 19)


def test_a_note_that_faded_is_held_again_at_once_and_was_never_forgotten() -> None:
    course = course_of([heard(0), heard(50, 0.4, 0.0, passed=False)], day(50))
    # What was once held is held again when it speaks.
    assert told(course) == [(Standing.HELD, 0), (Standing.FADED, 31), (Standing.HELD, 50)]
    assert standing_on(course, day(-1)) is Standing.NEW
    assert standing_on(course, day(30)) is Standing.HELD
    assert standing_on(course, day(31)) is Standing.FADED


def test_nothing_asked_for_has_no_course() -> None:
    assert course_of([], day(0)) == ()


TIMES = st.lists(
    st.builds(
        heard,
        st.integers(0, 90),
        st.sampled_from([0.0, 0.2, 0.3, 2.5]),
        st.sampled_from([0.0, 1.9, 2.0]),
        st.booleans(),
        st.sampled_from(list(Standard)),
        st.booleans(),
    ),
    max_size=25,
).map(lambda times: sorted(times, key=lambda note: note.day))


def by_definition(times: list[NoteOutcome], today: date) -> Standing:
    """How a note stands, from all its times at once."""
    spoke = [note for note in times if note.sounded_s >= 0.3]
    hard = [note for note in spoke if note.passed and note.level is not Standard.KIND]
    if not spoke:
        return Standing.ATTEMPTED if times else Standing.NEW
    if (today - spoke[-1].day).days > 30:
        return Standing.FADED
    if len({note.day for note in hard if (today - note.day).days < 14}) >= 3 and any(
        note.cold for note in hard
    ):
        return Standing.SECURE
    held = any(note.passed and note.held_s >= 2 for note in spoke)
    return Standing.HELD if held else Standing.TOUCHED


@given(TIMES)
def test_a_course_says_of_every_day_how_the_note_stood_on_it(times: list[NoteOutcome]) -> None:
    course = course_of(times, day(130))
    for number in range(131):
        by_then = [note for note in times if note.day <= day(number)]
        stood = by_definition(by_then, day(number))
        assert standing_on(course, day(number)) is stood
        # In whatever order they are told.
        assert standing_of(by_then[::-1], day(number)) is stood
    for before, after in pairwise(course):
        assert before.on < after.on
        assert before.standing is not after.standing
