"""The coach: the plan of the day, what a player says of themselves, schools, programmes, dates."""

from collections.abc import Callable
from typing import Annotated

from fastapi import APIRouter, Path
from sqlalchemy.orm import Session

from orexis.core.coach.about import AboutRefusedError
from orexis.core.coach.changing import (
    ChangeRefusedError,
    dropped,
    lengthened,
    moved,
    swapped,
)
from orexis.core.coach.day import Asked, DayPlan
from orexis.core.coach.known import Known
from orexis.core.coach.programmes import PROGRAMMES, ProgrammeUnknownError
from orexis.core.coach.schools import SchoolRefusedError
from orexis.practice.coaching import (
    DateRefusedError,
    MeasureRefusedError,
    change_plan,
    choose_school,
    follow,
    forget_date,
    keep_date,
    known_of,
    leave,
    measure_both,
    pause,
    say_about,
    school_outcomes,
    stop_measuring,
    todays_plan,
)
from orexis.server.problems import ProblemError, not_found
from orexis.server.routes.access import Data, PlayerId, local_now, local_today, player_or_404
from orexis.server.schemas.coach import (
    AboutIn,
    AboutOut,
    DateIn,
    DateOut,
    OptionIn,
    ProgrammeIn,
    ProgrammeOut,
    ProgrammeStep,
    SchoolOut,
)
from orexis.server.schemas.today import AskedIn, ChangeIn, ChangeKind, TodayOut
from orexis.store.coaching import about_of, events_of
from orexis.store.models import Player

router = APIRouter(prefix="/api/players/{player_id}")

Key = Annotated[str, Path(max_length=40)]
DateId = Annotated[int, Path(ge=1, le=2**63 - 1)]


@router.get("/today")
def today(data: Data, player_id: PlayerId) -> TodayOut:
    """The plan of the day, as it is kept or as it is made now."""
    with data.session() as session:
        return _told(session, player_or_404(session, player_id), None)


@router.put("/today")
def ask(data: Data, player_id: PlayerId, asked: AskedIn) -> TodayOut:
    """Makes the plan of the day anew: for some minutes, by how the lips feel, quiet or not."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        return _told(session, player, Asked(asked.minutes, asked.lips, asked.quiet))


@router.post("/today/change")
def change(data: Data, player_id: PlayerId, asked: ChangeIn) -> TodayOut:
    """Changes the plan of the day. What that breaks is said, and nothing is forbidden."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        known = known_of(session, player, local_today())
        try:
            plan = change_plan(session, player, known, _changes(asked))
        except ChangeRefusedError as error:
            raise ProblemError(422, "That cannot be changed", str(error)) from error
        return TodayOut.of(plan, known, about_of(session, player.id) is not None)


def _changes(asked: ChangeIn) -> Callable[[DayPlan, Known], DayPlan]:
    match asked.change:
        case ChangeKind.MOVE:
            return lambda plan, known: moved(plan, asked.block, asked.to, known)
        case ChangeKind.SWAP:
            return lambda plan, known: swapped(plan, asked.block, known)
        case ChangeKind.DROP:
            return lambda plan, known: dropped(plan, asked.block, known)
        case ChangeKind.LENGTHEN:
            return lambda plan, known: lengthened(plan, asked.block, asked.by_min, known)


def _told(session: Session, player: Player, asked: Asked | None) -> TodayOut:
    known = known_of(session, player, local_today())
    plan = todays_plan(session, player, known, asked)
    return TodayOut.of(plan, known, about_of(session, player.id) is not None)


@router.get("/about")
def about(data: Data, player_id: PlayerId) -> AboutOut:
    """What a player has said of themselves."""
    with data.session() as session:
        return _about(session, player_or_404(session, player_id))


@router.put("/about")
def say(data: Data, player_id: PlayerId, said: AboutIn) -> AboutOut:
    """Keeps what a player says of themselves."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        try:
            say_about(session, player, said.about(), local_now(), hurts=said.hurts)
        except AboutRefusedError as error:
            raise ProblemError(422, "That cannot be", str(error)) from error
        return _about(session, player)


def _about(session: Session, player: Player) -> AboutOut:
    known = known_of(session, player, local_today())
    return AboutOut.of(known, about_of(session, player.id) is not None)


@router.get("/schools")
def schools(data: Data, player_id: PlayerId) -> list[SchoolOut]:
    """Every question on which players disagree, and what this one has chosen."""
    with data.session() as session:
        return _schools(session, player_or_404(session, player_id))


@router.put("/schools/{key}")
def choose(data: Data, player_id: PlayerId, key: Key, asked: OptionIn) -> list[SchoolOut]:
    """Chooses an answer."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        try:
            choose_school(session, player, key, asked.option, local_today())
        except SchoolRefusedError as error:
            raise ProblemError(422, "That cannot be chosen", str(error)) from error
        return _schools(session, player)


@router.post("/schools/{key}/measure")
def measure(data: Data, player_id: PlayerId, key: Key, asked: OptionIn) -> list[SchoolOut]:
    """Measures the chosen answer against another one for two weeks, in alternation."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        try:
            measure_both(session, player, key, asked.option, local_today())
        except (SchoolRefusedError, MeasureRefusedError) as error:
            raise ProblemError(422, "That cannot be measured", str(error)) from error
        return _schools(session, player)


@router.delete("/schools/{key}/measure")
def measure_no_more(data: Data, player_id: PlayerId, key: Key) -> list[SchoolOut]:
    """Ends what is measured of a question."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        stop_measuring(session, player, key, local_today())
        return _schools(session, player)


def _schools(session: Session, player: Player) -> list[SchoolOut]:
    found = school_outcomes(session, player, local_today())
    return [SchoolOut.of(*one, local_today()) for one in found]


@router.get("/programmes")
def programmes(data: Data, player_id: PlayerId) -> list[ProgrammeOut]:
    """Every programme, and where the player is in those they follow."""
    with data.session() as session:
        return _programmes(session, player_or_404(session, player_id))


@router.put("/programmes/{key}")
def step(data: Data, player_id: PlayerId, key: Key, asked: ProgrammeIn) -> list[ProgrammeOut]:
    """Begins a programme (again, where it is followed), pauses it or goes on with it."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        try:
            if asked.step is ProgrammeStep.BEGIN:
                follow(session, player, key, known_of(session, player, local_today()))
            else:
                paused = asked.step is ProgrammeStep.PAUSE
                pause(session, player, key, local_today(), paused=paused)
        except ProgrammeUnknownError as error:
            raise not_found("programme") from error
        return _programmes(session, player)


@router.delete("/programmes/{key}")
def leave_it(data: Data, player_id: PlayerId, key: Key) -> list[ProgrammeOut]:
    """Leaves a programme."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        leave(session, player, key, local_today())
        return _programmes(session, player)


def _programmes(session: Session, player: Player) -> list[ProgrammeOut]:
    known = known_of(session, player, local_today())
    followings = {following.key: following for following in known.followings}
    places = {place.programme.key: place for place in known.places}
    found = [
        ProgrammeOut.of(programme, followings.get(key), places.get(key), known.range.comfortable)
        for key, programme in PROGRAMMES.items()
    ]
    return sorted(found, key=lambda programme: programme.stage is None)


@router.get("/dates")
def dates(data: Data, player_id: PlayerId) -> list[DateOut]:
    """The dates a player looks ahead to, and those of the last months."""
    with data.session() as session:
        player_or_404(session, player_id)
        return [DateOut.of(coming) for coming in events_of(session, player_id, local_today())]


@router.post("/dates", status_code=201)
def add_date(data: Data, player_id: PlayerId, asked: DateIn) -> DateOut:
    """Keeps a date."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        try:
            return DateOut.of(keep_date(session, player, asked.event(), local_today()))
        except DateRefusedError as error:
            raise ProblemError(422, "That date cannot be kept", str(error)) from error


@router.delete("/dates/{date_id}", status_code=204)
def remove_date(data: Data, player_id: PlayerId, date_id: DateId) -> None:
    """Forgets a date."""
    with data.session() as session:
        if not forget_date(session, player_or_404(session, player_id), date_id, local_today()):
            raise not_found("date")
