"""How far a player comes and what became of a note, read from takes made by hand."""

from datetime import timedelta

import pytest
from sqlalchemy import event
from sqlalchemy.orm import Session, object_session

from orexis.core.coach.standing import Standing
from orexis.core.horn.registers import Register
from orexis.core.progress.reach import Part
from orexis.practice.coaching import known_of
from orexis.practice.progress import changes_of, changes_over, note_page, range_of, range_over
from orexis.store.models import (
    ComingDate,
    Hurt,
    PracticeSession,
    SessionEntry,
    Take,
    TakeNote,
    TakeSound,
)
from orexis.store.progress import measured_days
from tests.store.test_history import TODAY, at, keep, maren, session

__all__ = ["session"]


def test_every_half_step_of_the_horn_stands_as_the_coach_has_it(session: Session) -> None:
    for days_ago in (9, 4, 1):
        keep(session, days_ago, 58, 63)
    keep(session, 2, 58, exercise_key="cold-picks")
    keep(session, 3, 70, judged_passed=False)
    found = range_of(session, maren(session), TODAY)
    stands = {note.midi: note.standing for note in found.notes}
    # All of a tenor horn in E♭, with pedals from its fundamental E♭2 (39) down.
    assert (found.notes[-1].midi, found.notes[-1].part) == (33, Part.PEDAL)
    assert [note.midi for note in found.notes if note.part is Part.RANGE][-1] == 40
    assert stands[58] is Standing.SECURE
    assert stands[63] is Standing.HELD
    assert stands[70] is Standing.TOUCHED
    assert stands[64] is Standing.NEW
    known = known_of(session, maren(session), TODAY)
    assert {midi: stands[midi] for midi in known.range.standings} == known.range.standings


def test_weeks_tell_how_far_it_went_and_the_stand_in_player_went_nowhere(
    session: Session,
) -> None:
    # The 29th of May 2026 is a Friday: the week began on the 25th.
    keep(session, 4, 58, 63)
    keep(session, 1, 70, judged_passed=False)
    keep(session, 1, 80, source="stand-in")
    keep(session, 14, 60, instrument_key="cornet-bb")
    (week,) = range_of(session, maren(session), TODAY).horn.rows
    assert week.monday == TODAY - timedelta(days=4)
    span = week.parts[Part.RANGE]
    assert (span.bottom.reached, span.bottom.held, span.top.reached, span.top.held) == (
        58,
        58,
        70,
        63,
    )


def test_what_is_buzzed_is_told_by_itself(session: Session) -> None:
    keep(session, 2, 58)
    for note in keep(session, 2, 50, 55).notes:
        note.on = "mouthpiece"
    session.flush()
    found = range_of(session, maren(session), TODAY)
    assert found.horn.rows[0].parts[Part.RANGE].top.held == 58
    assert found.buzz.rows[0].parts[Part.RANGE].top.held == 55
    assert found.buzz.answer.headline == "Held from B3 to E4."


def test_a_take_kept_overruled_or_deleted_changes_the_range_at_once(session: Session) -> None:
    def held() -> int | None:
        rows = range_of(session, maren(session), TODAY).horn.rows
        return rows[-1].parts[Part.RANGE].top.held if rows else None

    assert held() is None
    take = keep(session, 3, 63)
    assert held() == 63
    take.overruled_passed = False
    session.flush()
    assert held() is None
    take.overruled_passed = None
    keep(session, 0, 65)
    assert held() == 65
    take.deleted_at = take.started_at
    session.flush()
    assert range_of(session, maren(session), TODAY).horn.rows[0].parts[Part.RANGE].bottom.held == 65


def measured(take: Take, *centres: float, spread: float = 4.0, can_be_heard: bool = True) -> Take:
    for note, cents in zip(take.notes, centres, strict=True):
        note.centre_cents, note.spread_cents = cents, spread
    if can_be_heard:
        take_sound = TakeSound(take_id=take.id, flac=b"")
        object_session(take).add(take_sound)  # type: ignore[union-attr]
    return take


def test_a_note_has_its_days_with_means_of_what_spoke(session: Session) -> None:
    measured(keep(session, 8, 58, 58), -20.0, -10.0)
    wrong = measured(keep(session, 8, 58, judged_passed=False), 200.0)
    # Another note sounded in its place: that measures nothing of this one.
    wrong.notes[0].spoke, wrong.notes[0].hold_s = False, 9.0
    measured(keep(session, 0, 58), 4.0)
    session.flush()
    page = note_page(session, maren(session), 58, TODAY)
    assert [(day.on, day.asked, day.spoke, day.held_s) for day in page.days] == [
        (TODAY - timedelta(days=8), 3, 2, 3.5),
        (TODAY, 1, 1, 3.5),
    ]
    assert [day.centre_cents for day in page.days] == [-15.0, 4.0]
    assert page.note.standing is Standing.HELD


def test_the_first_the_best_and_the_last_that_can_be_heard(session: Session) -> None:
    measured(keep(session, 20, 58), 0.0, spread=1.0, can_be_heard=False)
    first = measured(keep(session, 9, 58, judged_passed=False), 0.0, spread=1.0)
    # 3/15 + 4.5/9 = 0.7 is worse than 6/15 + 1.8/9 = 0.6.
    measured(keep(session, 8, 58), 3.0, spread=4.5)
    best = measured(keep(session, 7, 58), -6.0, spread=1.8)
    last = measured(keep(session, 0, 58), 12.0, spread=8.0)
    silent = measured(keep(session, 0, 58), 0.0)
    silent.notes[0].spoke = False
    session.flush()
    hear = note_page(session, maren(session), 58, TODAY).hear
    found = [time.take_id for time in (hear.first, hear.best, hear.last) if time]
    assert found == [first.id, best.id, last.id]


def test_a_note_never_asked_for_has_nothing_to_tell(session: Session) -> None:
    page = note_page(session, maren(session), 77, TODAY)
    assert (page.note.standing, page.days, page.hear.last) == (Standing.NEW, (), None)
    assert session.query(TakeNote).count() == 0


def test_what_changed_is_answered_from_notes_exercises_and_minutes(session: Session) -> None:
    measured(keep(session, 3, 58, 63), -6.0, 10.0)
    measured(keep(session, 3, 58, judged_passed=False), 4.0)
    # Too short to be measured, and one that did not speak.
    short = measured(keep(session, 3, 58), 90.0)
    short.notes[0].end_s = 0.4
    silent = measured(keep(session, 3, 58), 90.0)
    silent.notes[0].spoke = False
    measured(keep(session, 0, 58, exercise_key="lip-slur"), 2.0)
    session.flush()
    changes = changes_of(session, maren(session), TODAY)
    found = {change.question.key: change for change in changes.answers.changed}
    # 58 lay 6 and 4 off on one day (weight 2/6) and 2 on the other (1/5), 63 lay 10 off (1/5): on
    # average (5/3 + 2/5 + 10/5) / (1/3 + 1/5 + 1/5). As 58 fell by 3 in three days, the line falls
    # by 1 a day about the middle of the times, (2/6 + 1/5) · 3 / (1/3 + 2/5) days back.
    centre = found["centre"]
    weights = 1 / 3 + 1 / 5 + 1 / 5
    mean, middle = (5 / 3 + 2 / 5 + 10 / 5) / weights, 3 * (1 / 3 + 1 / 5) / weights
    assert [value.value for value in centre.curve.values] == pytest.approx(
        [mean + 3 - middle, mean - middle]
    )
    assert [value.times for value in centre.curve.values] == [3, 1]
    # Three of four on the first day, and the slur.
    assert [value.times for value in found["right"].curve.values] == [4, 1]
    assert [(value.at, value.times) for value in found["slurs"].curve.values] == [(TODAY, 1)]
    # Two notes and three of one, four seconds each; then one.
    assert [value.value for value in found["minutes"].curve.values] == pytest.approx(
        [20 / 60, 4 / 60]
    )
    assert {change.answer for change in changes.answers.changed} == {"Too little to tell yet."}
    # All that sounded counts, whether it was right, long enough, or spoke: 24 s, of which the short
    # one is 3.6 s less; a tenor horn's middle begins above E♭3 (51).
    (week,) = [row for row in changes.registers.rows if sum(row.minutes.values())]
    assert week.minutes[Register.MIDDLE] == pytest.approx((6 * 4 - 3.6) / 60)


def test_the_first_notes_of_a_day_are_told_from_the_last(session: Session) -> None:
    # Four minutes of playing, then a minute that is told apart from them.
    for days_ago in range(14):
        for hour, spread in ((9, 4.0), (10, 4.0), (11, 9.0)):
            take = keep(session, days_ago, 58, started_at=at(days_ago, hour), sounded_s=125.0)
            measured(take, 0.0, spread=spread)
    session.flush()
    late = measured_days(session, maren(session), TODAY).late
    first = [(note.minutes, note.times, note.spread_cents) for note in late if note.on == TODAY]
    # After 0 and 125 s they are of the first four minutes; after 250 s of the next.
    assert first == [(2.0, 2, 4.0), (6.0, 1, 9.0)]
    (steady, _) = changes_of(session, maren(session), TODAY).answers.lasting
    # Nobody plays ten minutes on any day here.
    assert steady.answer == "Too little to tell yet."


def test_the_top_of_a_pyramid_and_the_fastest_clear_trill_are_read(session: Session) -> None:
    keep(session, 2, 58, 63, 67, exercise_key="pyramid")
    keep(session, 2, 58, 63, 70, exercise_key="pyramid", judged_passed=False)
    missed = keep(session, 1, 58, 72, exercise_key="pyramid")
    missed.notes[1].spoke = False
    # Nine notes a quarter of a second apart, then nine a tenth of which one is smeared.
    trill = keep(session, 1, *(9 * (58,)), *(9 * (63,)), exercise_key="accelerating-slur")
    for place, note in enumerate(trill.notes):
        note.start_s = 0.25 * place if place < 9 else 2.25 + 0.1 * (place - 9)
        note.centre_cents = 36.0 if place == 14 else -34.0
    session.flush()
    found = measured_days(session, maren(session), TODAY)
    assert [((TODAY - day.on).days, day.most) for day in found.tops] == [(2, 67), (1, 58)]
    # The fastest eight in a row before the smear are the 7th to the 14th: the last four moves of
    # them are 0.1 s, the three before 0.25 s.
    (fastest,) = found.trills
    assert fastest.most == pytest.approx(7 / (3 * 0.25 + 4 * 0.1), rel=0.01)


def test_how_long_one_had_played_when_the_notes_told_of_tiring_is_read(session: Session) -> None:
    # Two minutes each; it was told in the third take of one day, and of another in the second.
    for number, (days_ago, frame) in enumerate(((3, 4500), (1, 4500), (1, 100))):
        name = f"session {number}"
        session.add(
            PracticeSession(
                id=name,
                player_id=1,
                started_at=at(days_ago, 9 + number),
                title="",
                kind="plan",
                source="microphone",
                sample_rate=48_000,
                instrument_key="tenor-horn-eb",
                standard="normal",
                plan={},
                setup={},
                latency_s=None,
                drone_hz=None,
            )
        )
        session.flush()
        for place in range(3):
            keep(
                session,
                days_ago,
                58,
                session_id=name,
                first_frame=2000 * place,
                started_at=at(days_ago, 9 + number),
                sounded_s=120.0,
            )
        for entry, sample in enumerate((480 * frame, 480 * 5900)):
            session.add(
                SessionEntry(session_id=name, number=entry, sample=sample, kind="tired", content={})
            )
    session.flush()
    found = measured_days(session, maren(session), TODAY).lasted
    # The third take begins at frame 4000: three had begun, six minutes; and the least of a day.
    assert [((TODAY - day.on).days, day.most) for day in found] == [(3, 6.0), (1, 2.0)]
    told = {
        change.question.key: change
        for change in changes_of(session, maren(session), TODAY).answers.changed
    }
    assert told["endurance"].answer == "Too little to tell yet."


def test_what_the_ear_said_is_held_against_the_meter_by_day(session: Session) -> None:
    keep(session, 1, 58, rating=3)
    keep(session, 1, 58, rating=0)
    keep(session, 1, 58, rating=1, judged_passed=False)
    keep(session, 1, 58)
    (day,) = measured_days(session, maren(session), TODAY).ear
    assert (day.rated, day.agreed) == (3, 2)


def test_weeks_of_a_report_are_told_from_those_weeks_alone(session: Session) -> None:
    for days_ago in (40, 20, 3):
        measured(keep(session, days_ago, 58), 5.0)
    first, last = TODAY - timedelta(days=21), TODAY - timedelta(days=2)
    over = changes_over(session, maren(session), first, last, TODAY)
    centre = over.answers.changed[0]
    assert [(TODAY - value.at).days for value in centre.curve.values] == [20, 3]
    told = range_over(session, maren(session), first, TODAY - timedelta(days=10), TODAY)
    played = [row for row in told.horn.rows if row.played]
    assert [row.monday for row in played] == [TODAY - timedelta(days=20 + 5)]


def test_concerts_that_were_and_what_hurt_are_marked(session: Session) -> None:
    dates = ((12, "The harbour concert"), (-9, "The centenary"))
    for back, words in dates:
        day = TODAY - timedelta(days=back)
        session.add(ComingDate(player_id=1, day=day, kind="concert", words=words))
    session.add(Hurt(player_id=1, at=at(5)))
    session.flush()
    marks = changes_of(session, maren(session), TODAY).marks
    assert [((TODAY - mark.on).days, mark.words) for mark in marks] == [
        (12, "The harbour concert"),
        (5, "something hurt"),
    ]


def test_days_of_long_ago_of_late_and_of_today_are_all_there_and_read_once(
    session: Session,
) -> None:
    # Today is the 29th of May: long ago ends with March.
    for days_ago in (100, 59, 58, 1, 0):
        measured(keep(session, days_ago, 58), 5.0)
    session.flush()

    def days() -> list[int]:
        notes = measured_days(session, maren(session), TODAY).notes
        return [(TODAY - day.on).days for day in notes]

    assert days() == [100, 59, 58, 1, 0]
    read: list[str] = []

    @event.listens_for(session.get_bind(), "before_cursor_execute")
    def _read(_c: object, _u: object, statement: str, *_: object) -> None:
        if "take_notes" in statement:
            read.append(statement)

    assert days() == [100, 59, 58, 1, 0]
    anew = len(read)
    # What is long ago is read again only when something about it has changed.
    take = session.query(Take).order_by(Take.started_at).first()
    assert take is not None
    take.deleted_at = take.started_at
    session.flush()
    assert days() == [59, 58, 1, 0]
    assert len(read) - anew > anew
    event.remove(session.get_bind(), "before_cursor_execute", _read)
