"""The coach: the plan of the day, what a player says of themselves, approaches, programmes,
dates."""

from collections.abc import Callable
from typing import Annotated

from fastapi import APIRouter, Path
from sqlalchemy.orm import Session

from orexis.core.coach.about import AboutRefusedError
from orexis.core.coach.approaches import ApproachRefusedError
from orexis.core.coach.changing import (
    ChangeRefusedError,
    dropped,
    lengthened,
    moved,
    swapped,
)
from orexis.core.coach.day import DayPlan, PlanRequest
from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.programmes import PROGRAMMES, ProgrammeUnknownError
from orexis.practice.coaching import (
    DateRefusedError,
    MeasureRefusedError,
    approach_outcomes,
    change_plan,
    choose_approach,
    follow,
    forget_date,
    keep_date,
    known_of,
    leave,
    measure_both,
    pause,
    say_about,
    stop_measuring,
    todays_plan,
)
from orexis.server.problems import ProblemError, not_found
from orexis.server.routes.access import Data, PlayerId, local_now, local_today, player_or_404
from orexis.server.schemas.coach import (
    AboutIn,
    AboutOut,
    ApproachOut,
    DateIn,
    DateOut,
    OptionIn,
    ProgrammeIn,
    ProgrammeOut,
    ProgrammeStep,
)
from orexis.server.schemas.today import ChangeIn, ChangeKind, PlanRequestIn, TodayOut
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
def ask(data: Data, player_id: PlayerId, asked: PlanRequestIn) -> TodayOut:
    """Makes the plan of the day anew: for some minutes, by how the lips feel, quiet or not."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        return _told(session, player, PlanRequest(asked.minutes, asked.lips, asked.quiet))


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


def _changes(asked: ChangeIn) -> Callable[[DayPlan, PlayerFacts], DayPlan]:
    match asked.change:
        case ChangeKind.MOVE:
            return lambda plan, known: moved(plan, asked.block, asked.to, known)
        case ChangeKind.SWAP:
            return lambda plan, known: swapped(plan, asked.block, known)
        case ChangeKind.DROP:
            return lambda plan, known: dropped(plan, asked.block, known)
        case ChangeKind.LENGTHEN:
            return lambda plan, known: lengthened(plan, asked.block, asked.by_min, known)


def _told(session: Session, player: Player, asked: PlanRequest | None) -> TodayOut:
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


@router.get("/approaches")
def approaches(data: Data, player_id: PlayerId) -> list[ApproachOut]:
    """Every question on which players disagree, and what this one has chosen."""
    with data.session() as session:
        return _approaches(session, player_or_404(session, player_id))


@router.put("/approaches/{key}")
def choose(data: Data, player_id: PlayerId, key: Key, asked: OptionIn) -> list[ApproachOut]:
    """Chooses an answer."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        try:
            choose_approach(session, player, key, asked.option, local_today())
        except ApproachRefusedError as error:
            raise ProblemError(422, "That cannot be chosen", str(error)) from error
        return _approaches(session, player)


@router.post("/approaches/{key}/measure")
def measure(data: Data, player_id: PlayerId, key: Key, asked: OptionIn) -> list[ApproachOut]:
    """Measures the chosen answer against another one for two weeks, in alternation."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        try:
            measure_both(session, player, key, asked.option, local_today())
        except (ApproachRefusedError, MeasureRefusedError) as error:
            raise ProblemError(422, "That cannot be measured", str(error)) from error
        return _approaches(session, player)


@router.delete("/approaches/{key}/measure")
def measure_no_more(data: Data, player_id: PlayerId, key: Key) -> list[ApproachOut]:
    """Ends what is measured of a question."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        stop_measuring(session, player, key, local_today())
        return _approaches(session, player)


def _approaches(session: Session, player: Player) -> list[ApproachOut]:
    found = approach_outcomes(session, player, local_today())
    return [ApproachOut.of(*one, local_today()) for one in found]


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
