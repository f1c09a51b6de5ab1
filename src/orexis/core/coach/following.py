"""Following a programme: where somebody is in it, read off what was played since it began, never
stored."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date, timedelta

from orexis.core.coach.history import History, PastAttempt
from orexis.core.coach.programmes import PROGRAMMES, Programme, Stage

_GAP_BACK = timedelta(days=14)
"""So long without any practice sets a programme back by a stage."""
_GOOD_SHARE = 0.5


@dataclass(frozen=True, slots=True)
class Following:
    """A programme somebody follows: since when, from which note (sounding), and since when it is
    paused. Begun again it follows from that day."""

    key: str
    since: date
    base_midi: int
    paused: date | None = None

    def pausing(self, today: date) -> "Following":
        """The same programme, paused from a day on."""
        return replace(self, paused=self.paused or today)

    def taken_up_again(self, today: date) -> "Following":
        """The same programme, taken up again. Paused days do not count in a programme that goes by
        the calendar; others count what is played."""
        by_calendar = not PROGRAMMES[self.key].earn_days
        rested = today - self.paused if self.paused is not None and by_calendar else timedelta()
        return replace(self, since=self.since + rested, paused=None)


@dataclass(frozen=True, slots=True)
class Place:
    """Where somebody is: the stage and since when, whether it is due today and done, and all of
    that in words."""

    programme: Programme
    stages: tuple[Stage, ...]
    stage: int
    since: date
    due: bool
    done: bool
    words: str

    @property
    def now(self) -> Stage:
        """The present stage."""
        return self.stages[self.stage]


def place_of(following: Following, history: History, today: date) -> Place:
    """Where a programme is on a day, read off what was played since it began."""
    programme = PROGRAMMES[following.key]
    stages = programme.stages(following.base_midi)
    walk = _Walk(programme, stages, following.since)
    by_day: dict[date, list[PastAttempt]] = {}
    for attempt in history.attempts:
        if following.since <= attempt.day < today:
            by_day.setdefault(attempt.day, []).append(attempt)
    hurts = {hurt.day for hurt in history.hurts}
    for day in sorted({*by_day, *(day for day in hurts if following.since <= day < today)}):
        walk.practised(day, by_day.get(day, []), day in hurts)
    walk.until(today)
    due = following.paused is None and walk.due(today)
    return Place(
        programme,
        stages,
        walk.stage,
        walk.stage_since,
        due,
        walk.stage == len(stages) - 1 and walk.earned(today),
        walk.words(today, following.paused),
    )


class _Walk:
    """Days of practice, one after the other, through the stages."""

    def __init__(self, programme: Programme, stages: tuple[Stage, ...], since: date) -> None:
        self._programme, self._stages = programme, stages
        self.stage, self.stage_since, self.good_days = 0, since, 0
        self._last: date | None = None
        self._last_of_it: date | None = None
        self._back = ""

    def practised(self, day: date, attempts: list[PastAttempt], hurt: bool) -> None:
        """A day on which something was played, or hurt."""
        self.until(day)
        if self._last is not None and day - self._last > _GAP_BACK:
            self._set_back(day, "two weeks without playing")
        self._last = day
        if hurt:
            self._set_back(day, "something hurt")
            return
        of_it = [attempt for attempt in attempts if self._stages[self.stage].counts(attempt)]
        if of_it:
            self._last_of_it = day
            good = sum(attempt.count for attempt in of_it if attempt.passed)
            self.good_days += good >= _GOOD_SHARE * sum(attempt.count for attempt in of_it)

    def until(self, day: date) -> None:
        """Goes on to the stages that are earned by a day."""
        while self.stage < len(self._stages) - 1 and self.earned(day):
            # It was earned when its time was over, or by the last day of practice.
            on_time = self.stage_since + timedelta(days=self._least_days())
            by_days = self._last if self._programme.earn_days else None
            self.stage_since = max(on_time, by_days or on_time)
            self.stage, self.good_days, self._back = self.stage + 1, 0, ""

    def earned(self, day: date) -> bool:
        """Whether the present stage is earned by a day."""
        long_enough = (day - self.stage_since).days >= self._least_days()
        return long_enough and self.good_days >= self._programme.earn_days

    def due(self, today: date) -> bool:
        """Whether it comes today."""
        if self._last_of_it is None:
            return True
        return (today - self._last_of_it).days > self._programme.rest_days

    def words(self, today: date, paused: date | None) -> str:
        """Where one is."""
        stage = self._stages[self.stage]
        said = f"Stage {self.stage + 1} of {len(self._stages)}: {stage.name}."
        if paused is not None:
            return f"{said} Paused since {paused:%d.%m.}"
        if self._back:
            return f"{said} One back, since {self._back}."
        wanted = self._programme.earn_days
        if self.stage == len(self._stages) - 1 and self.earned(today):
            return f"{said} The whole of it is done."
        if wanted:
            return f"{said} {min(self.good_days, wanted)} of {wanted} good days."
        left = self._least_days() - (today - self.stage_since).days
        return f"{said} {max(left, 0)} days left of it."

    def _least_days(self) -> int:
        first = self._programme.first_days
        return first if first is not None and not self.stage else self._programme.least_days

    def _set_back(self, day: date, why: str) -> None:
        self.stage, self.stage_since, self.good_days = max(self.stage - 1, 0), day, 0
        self._back = why


def exercises_of(followings: Iterable[Following]) -> frozenset[str]:
    """The keys of the exercises that some programmes ask for."""
    return frozenset(
        stage.setting.family
        for following in followings
        for stage in PROGRAMMES[following.key].stages(following.base_midi)
        if stage.setting is not None
    )
