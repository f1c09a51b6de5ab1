"""The coach for a player: what is known of them, and the plan of a day, made or changed."""

from collections.abc import Callable
from dataclasses import replace
from datetime import date, datetime, timedelta

from sqlalchemy.orm import Session

from orexis.core.coach.about import About, Lips
from orexis.core.coach.approaches import BY_KEY, QUESTIONS, Question, checked, choice
from orexis.core.coach.day import DayPlan, PlanRequest
from orexis.core.coach.following import Following, exercises_of
from orexis.core.coach.known import Event, Own, PlayerFacts
from orexis.core.coach.load import LOOKS_BACK
from orexis.core.coach.planning import plan_day
from orexis.core.coach.programmes import ProgrammeUnknownError, find_programme, wanted_by
from orexis.core.coach.trial import WEEKS, Outcome, Trial, approaches_on, outcome_of
from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.times import EARLIEST, LATEST
from orexis.formats.day_plan import whole_document, whole_plan
from orexis.practice.care import say_hurt
from orexis.store.coaching import (
    about_of,
    add_event,
    approaches_of,
    delete_event,
    end_following,
    end_trial,
    event_of,
    events_of,
    followings_of,
    forget_plan,
    keep_about,
    keep_approaches,
    keep_following,
    keep_plan,
    keep_trial,
    kept_plan,
    moves_of,
    trials_of,
)
from orexis.store.history import found_range, history_of
from orexis.store.horns import horn_of
from orexis.store.models import ComingDate, Player
from orexis.store.own_exercises import own_exercises
from orexis.store.players import notation_of
from orexis.store.typed import typed_rows

_MOST_DATES = 200


class MeasureRefusedError(ValueError):
    """A question that no measure can decide; the message says so."""


class DateRefusedError(ValueError):
    """A date that cannot be kept; the message says why."""


def known_of(session: Session, player: Player, today: date) -> PlayerFacts:
    """What the coach knows of a player on a day."""
    about = (about_of(session, player.id) or About()).of_horn(player.instrument_key)
    if about.high_midi is None:
        low, high = found_range(session, player)
        about = replace(about, low_midi=about.low_midi or low, high_midi=high)
    followings = tuple(followings_of(session, player.id))
    horn = horn_of(session, player)
    approaches, trials = approaches_of(session, player.id), trials_of(session, player.id)
    return PlayerFacts(
        today,
        about,
        approaches_on(approaches, trials, today),
        history_of(session, player, today, exercises_of(followings)),
        Writer(horn, Reach.usual(horn.instrument), notation_of(player)),
        tuple(event_of(coming) for coming in events_of(session, player.id, today)),
        followings,
        moves_of(session, player),
        tuple(
            Own(exercise.name, exercise.family_key, exercise.parameters)
            for exercise in own_exercises(session, player.id)
            if exercise.family_key in FAMILIES
        ),
        tuple(
            (entry.day, entry.minutes)
            for entry in typed_rows(session, player, today - LOOKS_BACK, today)
        ),
    )


def usual_asked(known: PlayerFacts, now: datetime) -> PlanRequest:
    """What a plan is asked for where nothing else is said."""
    return PlanRequest(known.about.minutes, Lips.NORMAL, known.about.is_quiet(now.time()))


def todays_plan(
    session: Session, player: Player, known: PlayerFacts, asked: PlanRequest | None
) -> DayPlan:
    """The plan of the day: the kept one where nothing else is asked for, else a new one, which is
    kept."""
    row = kept_plan(session, player.id, known.today)
    if row is not None:
        try:
            plan = whole_plan(row.plan)
        except (LookupError, TypeError, ValueError):
            # A plan of an older kind is made anew.
            pass
        else:
            if asked is None and row.changed:
                return plan
            # What was asked for stays asked for; the hour of the day does not.
            asked = asked or (plan.asked if row.plan.get(_WISHED) else None)
    plan = plan_day(known, asked or usual_asked(known, datetime.now().astimezone()))
    kept = {**whole_document(plan), _WISHED: asked is not None}
    keep_plan(session, player.id, known.today, kept, changed=False)
    return plan


_WISHED = "wished"


def change_plan(
    session: Session,
    player: Player,
    known: PlayerFacts,
    change: Callable[[DayPlan, PlayerFacts], DayPlan],
) -> DayPlan:
    """The plan of the day with a change of the player's. Raises `ChangeRefusedError`."""
    plan = change(todays_plan(session, player, known, None), known)
    keep_plan(session, player.id, known.today, whole_document(plan), changed=True)
    return plan


def say_about(
    session: Session, player: Player, about: About, now: datetime, *, hurts: bool = False
) -> None:
    """Keeps what a player says of themselves, and that something hurts; what they say may bring
    programmes with it. Today is planned anew. Raises `AboutRefusedError`; nothing is kept then."""
    about.check()
    about = replace(about, range_on=player.instrument_key)
    keep_about(session, player.id, about)
    followed = {following.key for following in followings_of(session, player.id)}
    known = known_of(session, player, now.date())
    for key in sorted(wanted_by(about) - followed):
        follow(session, player, key, known)
    if hurts:
        say_hurt(session, player.id, now)
    forget_plan(session, player.id, now.date())


def follow(session: Session, player: Player, key: str, known: PlayerFacts) -> None:
    """Begins a programme, or begins it again, from today. Raises `ProgrammeUnknownError`."""
    programme = find_programme(key)
    keep_following(session, player.id, Following(programme.key, known.today, known.base_midi))
    forget_plan(session, player.id, known.today)


def pause(session: Session, player: Player, key: str, today: date, *, paused: bool) -> None:
    """Pauses a programme or goes on with it. Raises `ProgrammeUnknownError` where it is not
    followed."""
    found = next(
        (following for following in followings_of(session, player.id) if following.key == key), None
    )
    if found is None:
        raise ProgrammeUnknownError(f"{key} is not followed.")
    keep_following(
        session, player.id, found.pausing(today) if paused else found.taken_up_again(today)
    )
    forget_plan(session, player.id, today)


def leave(session: Session, player: Player, key: str, today: date) -> None:
    """Leaves a programme."""
    end_following(session, player.id, key)
    forget_plan(session, player.id, today)


def keep_date(session: Session, player: Player, event: Event, today: date) -> ComingDate:
    """Keeps a date to look ahead to. Raises `DateRefusedError`."""
    if not EARLIEST.date() <= event.day < LATEST.date():
        raise DateRefusedError("Give a day of this century.")
    if len(events_of(session, player.id, today)) >= _MOST_DATES:
        raise DateRefusedError("Forget an older one first.")
    row = add_event(session, player.id, event)
    forget_plan(session, player.id, today)
    return row


def forget_date(session: Session, player: Player, date_id: int, today: date) -> bool:
    """Forgets a date; false where there is none."""
    forget_plan(session, player.id, today)
    return delete_event(session, player.id, date_id)


def choose_approach(session: Session, player: Player, key: str, option: str, today: date) -> None:
    """Chooses a approach; what was measured of the question ends. Raises `ApproachRefusedError`."""
    key, option = checked(key, option)
    keep_approaches(session, player.id, {**approaches_of(session, player.id), key: option})
    end_trial(session, player.id, key)
    forget_plan(session, player.id, today)


def stop_measuring(session: Session, player: Player, key: str, today: date) -> None:
    """Ends what is measured of a question."""
    end_trial(session, player.id, key)
    forget_plan(session, player.id, today)


def measure_both(session: Session, player: Player, key: str, other: str, today: date) -> None:
    """Measures the chosen answer to a question against another for two weeks. Raises
    `ApproachRefusedError` and `MeasureRefusedError`."""
    key, other = checked(key, other)
    question, mine = BY_KEY[key], choice(approaches_of(session, player.id), key)
    if not question.measured_by:
        raise MeasureRefusedError("No measure can decide this one; choose what you hold with.")
    if other == mine:
        raise MeasureRefusedError("Choose another answer to measure yours against.")
    trial = Trial(key, mine, other, today, today + timedelta(weeks=WEEKS))
    keep_trial(session, player.id, trial)
    forget_plan(session, player.id, today)


def approach_outcomes(
    session: Session, player: Player, today: date
) -> list[tuple[Question, str, Trial | None, Outcome | None]]:
    """Every question with the chosen answer, and what is measured of it, and how that stands."""
    approaches, trials = approaches_of(session, player.id), trials_of(session, player.id)
    by_question = {trial.question: trial for trial in trials}
    families = {trial.question for trial in trials}
    history = history_of(session, player, today, ()) if families else None
    found: list[tuple[Question, str, Trial | None, Outcome | None]] = []
    for question in QUESTIONS:
        trial = by_question.get(question.key)
        outcome = None
        if trial is not None and history is not None:
            outcome = outcome_of(trial, history, today)
        found.append((question, choice(approaches, question.key), trial, outcome))
    return found
