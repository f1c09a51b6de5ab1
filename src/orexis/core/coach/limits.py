"""Today's limits: the highest and lowest note that any exercise of the day may ask for, and why.

It goes by the note, whatever the exercise. Where several things speak for less, the narrowest
holds.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace

from orexis.core.coach.about import Lips
from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.returning import return_stage
from orexis.core.exercises.family import Family, Group
from orexis.core.exercises.practised import AttemptOrder, PracticeRules

_BEYOND_TOP, _BELOW_BOTTOM = 2, 2
_A_FIFTH = 7
_AN_EASY_DAY = 5
_BEFORE_CONCERT = {0: 5, 1: 5, 2: 3, 3: 2}
"""Half steps under the top by days before a concert."""


@dataclass(frozen=True, slots=True)
class Limits:
    """The highest note (MIDI) of what climbs step by step, and of all else; the lowest note of
    pedals, of low work, and of all else. `why` tells what keeps the day below its usual top and
    `why_low` what keeps it above its usual bottom, "" on a usual day."""

    climbing: int
    usual: int
    pedals: int
    low_work: int
    lowest: int
    why: str = ""
    why_low: str = ""

    def highest_of(self, practised: PracticeRules) -> int:
        """The highest note that an exercise may ask for, by how it is practised."""
        climbs = practised.climbs or practised.follow is AttemptOrder.GROW
        return self.climbing if climbs else self.usual

    def lowest_of(self, family: Family) -> int:
        """The lowest note that an exercise may ask for; what is played to recover, loose and short,
        goes as low as it likes."""
        if family.practised.recovers:
            return 0
        if family.practised.descends:
            return self.low_work
        return {Group.PEDALS: self.pedals, Group.LOW: self.low_work}.get(family.group, self.lowest)


def limits_for(known: PlayerFacts, lips: Lips) -> Limits:
    """How high and how low a day may go."""
    top, bottom = known.range.top, known.range.bottom
    highest_pedal = known.instrument.fundamental_midi
    pedal = (
        highest_pedal
        if known.range.lowest_pedal is None
        else known.range.lowest_pedal - _BELOW_BOTTOM
    )
    usual = Limits(
        top + _BEYOND_TOP,
        top,
        max(pedal, known.instrument.lowest_midi),
        max(bottom - _BELOW_BOTTOM, known.instrument.lowest_midi),
        bottom,
    )
    if lowered := min(_lowered(known, lips), default=None):
        highest = max(lowered[0], min(known.writer.reach.easy, top))
        why = f"Nothing above {known.writer.name(highest)} today: {lowered[1]}."
        usual = replace(usual, climbing=highest, usual=highest, why=why)
    if raised := max(_raised(known, lips), default=None):
        lowest = max(raised[0], bottom)
        why = f"Nothing below {known.writer.name(lowest)} today: {raised[1]}."
        usual = replace(usual, low_work=lowest, lowest=lowest, why_low=why)
    return usual


def _raised(known: PlayerFacts, lips: Lips) -> Iterator[tuple[int, str]]:
    """What speaks for not going as low as usual, each with the lowest note it leaves."""
    bottom, easy = known.range.bottom, known.writer.reach.easy
    below = max(easy - bottom, 0)
    middle = easy - max(below // 2, min(_A_FIFTH, below))
    if known.is_first_day:
        yield middle, "we do not know yet how low you play"
    if lips in (Lips.TIRED, Lips.SORE):
        yield bottom, f"your lips are {lips.value}"
    if known.at_ceiling_on is not None:
        yield bottom, "your last day of practice ended at its top"
    last = known.last_concert
    if last is not None and (known.today - last.day).days == 1:
        yield bottom, "yesterday was a concert"
    returning = return_stage(known)
    if returning is not None and returning[1].below:
        lowest = (
            middle if known.range.lowest_secure is None else min(known.range.lowest_secure, easy)
        )
        yield lowest, f"this is week {returning[0] + 1} of coming back"


def _lowered(known: PlayerFacts, lips: Lips) -> Iterator[tuple[int, str]]:
    """What speaks for less, each with the highest note it leaves."""
    top, easy = known.range.top, known.writer.reach.easy
    if known.is_first_day:
        middle = easy + max(top - easy, 0) // 2
        yield middle, "we do not know yet how high you play"
    easy_day = top - _AN_EASY_DAY
    if lips in (Lips.TIRED, Lips.SORE):
        yield easy_day, f"your lips are {lips.value}"
    if known.at_ceiling_on is not None:
        yield easy_day, "your last day of practice ended at its top"
    last, following = known.last_concert, known.next_concert
    if last is not None and (known.today - last.day).days == 1:
        yield easy_day, "yesterday was a concert"
    days = None if following is None else (following.day - known.today).days
    if days in _BEFORE_CONCERT:
        highest = top - _BEFORE_CONCERT[days]
        yield highest, "a concert is near"
    pause = known.pause
    if pause is not None and pause.is_short and not pause.days_back(known.today):
        yield easy_day, f"you did not play for {pause.days_off} days"
    returning = return_stage(known)
    if returning is not None and returning[1].below:
        week, stage = returning
        highest = top - stage.below
        yield highest, f"this is week {week + 1} of coming back"
