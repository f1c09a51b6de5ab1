"""Today's limits: the highest note that any exercise of the day may ask for, and why.

It goes by the note and not by the kind of exercise. Where several things speak for less, the
lowest holds.
"""

from collections.abc import Iterator
from dataclasses import dataclass

from orexis.core.coach.about import Lips
from orexis.core.coach.known import Known
from orexis.core.coach.returning import return_stage
from orexis.core.exercises.practised import Follow, Practised

_BEYOND_TOP = 2
_AN_EASY_DAY = 5
_BEFORE_CONCERT = {0: 5, 1: 5, 2: 3, 3: 2}
"""Half steps under the top by days before a concert."""


@dataclass(frozen=True, slots=True)
class Limits:
    """The highest note (MIDI) of what climbs step by step, and of all else; `why` there is less
    than usual, "" on a usual day."""

    climbing: int
    usual: int
    why: str = ""

    def highest_of(self, practised: Practised) -> int:
        """The highest note that an exercise may ask for, by how it is practised."""
        climbs = practised.climbs or practised.follow is Follow.GROW
        return self.climbing if climbs else self.usual


def limits_for(known: Known, lips: Lips) -> Limits:
    """How high a day may go."""
    top = known.top
    lowered = min(_lowered(known, lips), default=None)
    if lowered is None:
        return Limits(top + _BEYOND_TOP, top)
    highest, why = lowered
    highest = max(highest, min(known.writer.reach.easy, top))
    return Limits(highest, highest, why)


def _lowered(known: Known, lips: Lips) -> Iterator[tuple[int, str]]:
    """What speaks for less, each with the highest note it leaves."""
    top, easy, name = known.top, known.writer.reach.easy, known.writer.name
    if known.is_first_day:
        middle = easy + max(top - easy, 0) // 2
        yield middle, f"First day: nothing above {name(middle)} until we know how high you play."
    easy_day = top - _AN_EASY_DAY
    if lips in (Lips.TIRED, Lips.SORE):
        yield easy_day, _said(known, easy_day, f"your lips are {lips.value}")
    if known.at_ceiling_on is not None:
        yield easy_day, _said(known, easy_day, "your last day of practice ended at its top")
    last, following = known.last_concert, known.next_concert
    if last is not None and (known.today - last.day).days == 1:
        yield easy_day, _said(known, easy_day, "yesterday was a concert")
    days = None if following is None else (following.day - known.today).days
    if days in _BEFORE_CONCERT:
        highest = top - _BEFORE_CONCERT[days]
        yield highest, _said(known, highest, "a concert is near")
    pause = known.pause
    if pause is not None and pause.is_short and not pause.days_back(known.today):
        yield easy_day, _said(known, easy_day, f"you did not play for {pause.days_off} days")
    returning = return_stage(known)
    if returning is not None and returning[1].below:
        week, stage = returning
        highest = top - stage.below
        yield highest, _said(known, highest, f"this is week {week + 1} of coming back")


def _said(known: Known, highest: int, why: str) -> str:
    return f"Nothing above {known.writer.name(highest)} today: {why}."
