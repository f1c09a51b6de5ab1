"""All that is known of a player on a day: what they said, what they played, and what follows."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from enum import StrEnum
from functools import cached_property
from itertools import pairwise

from orexis.core.coach.about import About, Experience
from orexis.core.coach.approaches import Approaches, answers_to
from orexis.core.coach.following import Following, Place, place_of
from orexis.core.coach.held_range import HeldRange
from orexis.core.coach.history import History
from orexis.core.coach.load import (
    ELSEWHERE,
    LOOKS_BACK,
    Load,
    Weights,
    days_loads,
    load_on,
    room_on,
    usual_level_db,
)
from orexis.core.coach.paths import OnPath, StepByHand, place_on
from orexis.core.coach.standing import Standing, is_held
from orexis.core.exercises.family import Family, Group, usual_values
from orexis.core.exercises.paths import path_of
from orexis.core.exercises.practised import Values
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.instruments import Instrument

_RECENT = timedelta(days=14)
_NEIGHBOURS, _NEIGHBOUR_DAYS = 5, 3
_RETURN_REACHES_DAYS = 35
_BASE_BELOW = 5
_ABOVE_EASY = {
    Experience.FIRST_WEEKS: 2,
    Experience.FIRST_YEAR: 7,
    Experience.SOME_YEARS: 12,
    Experience.MANY_YEARS: 14,
}
"""How many half steps above the horn's easy note is still comfortable, where nothing is known."""


class EventKind(StrEnum):
    """What is coming that a plan looks ahead to."""

    CONCERT = "concert"
    REHEARSAL = "rehearsal"


@dataclass(frozen=True, slots=True)
class Own:
    """An exercise that a player keeps under a name: a family and the values it has."""

    name: str
    family: str
    values: Values


@dataclass(frozen=True, slots=True)
class Event:
    """A date to look ahead to, in the player's words."""

    day: date
    kind: EventKind
    words: str = ""


_PLAYED_MIN = {EventKind.CONCERT: 40.0, EventKind.REHEARSAL: 30.0}
"""About how long one plays there, where nothing is said of it: two thirds of an hour's concert and
half of an hour's rehearsal."""


def usual_high(instrument: Instrument, about: About) -> int:
    """The highest comfortable note of a player who has not played here yet."""
    if about.high_midi is not None:
        return about.high_midi
    return min(instrument.start_midi + _ABOVE_EASY[about.experience], instrument.normal_high)


_SHORT_BREAK_DAYS, _LONG_BREAK_DAYS = 7, 14


@dataclass(frozen=True, slots=True)
class Pause:
    """A break from practice: how many days without playing, and the first day after it, which may
    be today."""

    days_off: int
    back_on: date

    @property
    def is_short(self) -> bool:
        """Whether it needs no return by weeks."""
        return self.days_off < _LONG_BREAK_DAYS

    def days_back(self, today: date) -> int:
        """How many days ago it ended."""
        return (today - self.back_on).days


@dataclass(frozen=True)
class PlayerFacts:
    """What a plan is made from. `bare` writes for the player's horn; `approaches` are those of the
    day, with what is being measured; `moved` is where the player moved to on the path of an
    exercise, by its key; `own` are the exercises they keep under names, and `typed` the minutes of
    days they practised elsewhere and wrote down."""

    today: date
    about: About
    approaches: Approaches
    history: History
    bare: Writer
    events: tuple[Event, ...] = ()
    followings: tuple[Following, ...] = ()
    moved: Mapping[str, StepByHand] = field(default_factory=dict)
    own: tuple[Own, ...] = ()
    typed: tuple[tuple[date, float], ...] = ()

    @property
    def instrument(self) -> Instrument:
        """The player's horn."""
        return self.bare.instrument

    @cached_property
    def range(self) -> HeldRange:
        """How far up and down the player holds notes on this horn."""
        easy, low = self.bare.reach.easy, self.bare.reach.low
        low = low if self.about.low_midi is None else self.about.low_midi
        return HeldRange(
            self.history,
            self.today,
            self.instrument,
            easy,
            max(min(low, easy), self.instrument.lowest_midi),
            usual_high(self.instrument, self.about),
        )

    @cached_property
    def experience(self) -> Experience:
        """How long the player has played, as they said, or as what they played since shows: who
        holds five notes next to each other on three days each has the first weeks behind them, and
        to whom two notes an octave apart are secure, the first year."""
        experience = self.about.experience
        if experience is Experience.FIRST_WEEKS and self._holds_neighbours():
            experience = Experience.FIRST_YEAR
        if experience is Experience.FIRST_YEAR and self._has_an_octave():
            experience = Experience.SOME_YEARS
        return experience

    def _holds_neighbours(self) -> bool:
        held = {
            midi
            for midi, heard in self.history.heard.items()
            if len({note.day for note in heard if is_held(note)}) >= _NEIGHBOUR_DAYS
        }
        return any(all(midi + by in held for by in range(_NEIGHBOURS)) for midi in held)

    def _has_an_octave(self) -> bool:
        secure = {
            midi for midi, standing in self.range.standings.items() if standing is Standing.SECURE
        }
        return any(midi + 12 in secure for midi in secure)

    @cached_property
    def is_first_day(self) -> bool:
        """Whether nothing was played on this horn before today."""
        return not any(day < self.today for day in self.played_days)

    @cached_property
    def played_days(self) -> tuple[date, ...]:
        """The days up to today on which the horn was played, in order, and the last one before what
        is remembered day by day."""
        days = {day for day in self.history.days if day <= self.today}
        if self.history.last_before is not None:
            days.add(self.history.last_before)
        return tuple(sorted(days))

    @cached_property
    def days_played(self) -> frozenset[date]:
        """The days before today on which anything was played, here or elsewhere."""
        elsewhere = (day for day, _ in self._elsewhere() if day < self.today)
        here = (day for day in self.played_days if day < self.today)
        return frozenset((*here, *elsewhere))

    @cached_property
    def hard_days(self) -> frozenset[date]:
        """The days before today with hard work: high notes, pedals, a concert."""
        concerts = (event.day for event in self._concerts if event.day < self.today)
        return frozenset((*self.history.hard_days, *concerts)) - {self.today}

    @cached_property
    def pause(self) -> Pause | None:
        """The last break of a week and more, as far back as a return reaches; `None` of none.
        Rehearsals and concerts are playing too."""
        days = sorted({*self.days_played, self.today})
        for before, after in reversed(list(pairwise(days))):
            off = (after - before).days - 1
            if off >= _SHORT_BREAK_DAYS:
                return Pause(off, after)
            if (self.today - before).days > _RETURN_REACHES_DAYS:
                break
        return None

    @property
    def base_midi(self) -> int:
        """The note that a programme going up begins from."""
        return max(self.range.comfortable, usual_high(self.instrument, self.about) - _BASE_BELOW)

    @property
    def names(self) -> list[tuple[int, str]]:
        """All notes of the horn by the player's names, highest first."""
        span = range(self.instrument.lowest_midi, self.instrument.highest_midi + 1)
        return [(midi, self.bare.name(midi)) for midi in reversed(span)]

    @property
    def ceiling(self) -> int:
        """The highest note that high work came to in the last two weeks, or, where that is higher,
        the highest comfortable note."""
        return max(self.highest_reached or 0, self.range.comfortable)

    @cached_property
    def highest_reached(self) -> int | None:
        """The highest note that high work came to in the last two weeks, `None` without any."""
        tops = [
            attempt.top
            for attempt in self.history.attempts
            if attempt.passed
            and attempt.group is Group.HIGH
            and attempt.top is not None
            and self.today - attempt.day <= _RECENT
        ]
        return max(tops, default=None)

    @cached_property
    def writer(self) -> Writer:
        """What exercises are written with: as high as is comfortable."""
        easy = self.bare.reach.easy
        high = max(self.range.comfortable, easy + 1)
        return replace(self.bare, reach=Reach(self.range.said_low, easy, high))

    @cached_property
    def weights(self) -> Weights:
        """What a second on a note costs this player."""
        return Weights(self.instrument, self.range.comfortable, usual_level_db(self.history))

    @property
    def rests(self) -> float:
        """How long is rested after what is not hard, as a share of what was played: a third, and as
        long as one played in the first weeks."""
        return 1.0 if self.experience is Experience.FIRST_WEEKS else 1 / 3

    @cached_property
    def loads(self) -> dict[date, float]:
        """The load of every day, what was played elsewhere too."""
        since = self.today - LOOKS_BACK
        found = days_loads(self.history, self.weights, since)
        for day, minutes in self._elsewhere():
            if since <= day <= self.today:
                found[day] = found.get(day, 0.0) + minutes * ELSEWHERE
        return found

    def _elsewhere(self) -> Iterator[tuple[date, float]]:
        """The days of practice that was written down, of rehearsals and concerts, and about how
        many minutes of each were played."""
        yield from self.typed
        for event in self.events:
            if event.day < self.today:
                yield event.day, _PLAYED_MIN[event.kind]

    @cached_property
    def load(self) -> Load:
        """The loads up to now."""
        return load_on(self.loads, self.today)

    @cached_property
    def room(self) -> float | None:
        """The load that is left for today, `None` where too little is known for a limit."""
        room = room_on(self.loads, self.today)
        return None if room is None else max(room - self.loads.get(self.today, 0.0), 0.0)

    @cached_property
    def at_ceiling_on(self) -> date | None:
        """The last day of practice before today, if it ended at the ceiling: high work came to
        where it would not lock."""
        earlier = [sitting for sitting in self.history.sittings if sitting.day < self.today]
        days = [day for day in self.history.days if day < self.today]
        if not earlier:
            return None
        last = max([*days[-1:], earlier[-1].day])
        ended = any(sitting.at_ceiling for sitting in earlier if sitting.day == last)
        return last if ended else None

    @cached_property
    def places(self) -> tuple[Place, ...]:
        """Where the programmes are."""
        return tuple(place_of(following, self.history, self.today) for following in self.followings)

    @property
    def due(self) -> tuple[Place, ...]:
        """The programmes that come today."""
        return tuple(place for place in self.places if place.due)

    def going(self, key: str) -> Place | None:
        """Where a programme is that is followed and not paused."""
        for following, place in zip(self.followings, self.places, strict=True):
            if following.key == key and following.paused is None:
                return place
        return None

    def on_path(self, family: Family) -> OnPath | None:
        """Where the player is on the path of an exercise, `None` where it has none here."""
        if family.key not in self._on_paths:
            self._on_paths[family.key] = self._place_on_path(family)
        return self._on_paths[family.key]

    @cached_property
    def _on_paths(self) -> dict[str, OnPath | None]:
        return {}

    def _place_on_path(self, family: Family) -> OnPath | None:
        fixed = {
            key: v
            for answer in answers_to(family, self.approaches)
            for key, v in answer.values.items()
        }
        steps = path_of(family.key, self.bare, tuple(sorted(fixed.items())))
        if not steps:
            return None
        return place_on(
            steps,
            family,
            usual_values(family, self.bare),
            self.experience,
            self.history.worked_at.get(family.key, ()),
            self.moved.get(family.key),
        )

    @cached_property
    def days_off(self) -> int:
        """How many days lie between the last day of playing, here or elsewhere, and today."""
        return (self.today - max(self.days_played)).days - 1 if self.days_played else 0

    @cached_property
    def next_concert(self) -> Event | None:
        """The next concert, today's too."""
        return min((e for e in self._concerts if e.day >= self.today), default=None, key=_day)

    @cached_property
    def last_concert(self) -> Event | None:
        """The last concert before today."""
        return max((e for e in self._concerts if e.day < self.today), default=None, key=_day)

    @property
    def _concerts(self) -> list[Event]:
        return [event for event in self.events if event.kind is EventKind.CONCERT]


def _day(event: Event) -> date:
    return event.day
