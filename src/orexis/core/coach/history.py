"""What was played, as the coach reads it: a row an attempt, a row a note, a row a session; no
sound."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from functools import cached_property

from orexis.core.coach.standing import NoteOutcome
from orexis.core.exercises.book import FAMILIES, FROM_SILENCE, TO_RECOVER
from orexis.core.exercises.family import WORKS, Group
from orexis.core.exercises.practised import Values
from orexis.core.judging.standard import Standard
from orexis.core.session.state import AT_CEILING, BlockEnd

_A_DAYS_S = 60.0
"""From how much playing without a task a day is one of playing."""


@dataclass(frozen=True, slots=True)
class NoteRow:
    """A note that was asked for: which, on the horn or the mouthpiece alone, what sounded (`None`
    where nothing did) and for how long, how long it was held, what was measured of it, and how long
    it was asked to be, where that is known. `is_between` is set of what stands for all that sounded
    between notes, or beside them, and was not asked for (`with_between`)."""

    asked_midi: int
    on_horn: bool
    spoke: bool
    sounded_midi: int | None = None
    sounded_s: float = 0.0
    held_s: float = 0.0
    level_db: float | None = None
    spread_cents: float | None = None
    rise_s: float | None = None
    asked_s: float | None = None
    is_between: bool = False

    @property
    def midi(self) -> int:
        """What sounded, or was to sound."""
        return self.asked_midi if self.sounded_midi is None else self.sounded_midi


def with_between(notes: tuple[NoteRow, ...], sounded_s: float) -> tuple[NoteRow, ...]:
    """The notes of an attempt that sounded for so long in all, with what sounded between them or
    beside them: glides, and notes that were not asked for. It lies where the notes do."""
    between_s = sounded_s - sum(row.sounded_s for row in notes)
    if not notes or between_s <= 0:
        return notes
    middle = notes[len(notes) // 2]
    between = NoteRow(
        middle.asked_midi, middle.on_horn, False, sounded_s=between_s, is_between=True
    )
    return (*notes, between)


@dataclass(frozen=True, slots=True)
class PastAttempt:
    """One attempt: on which day, at which exercise, by which standard, and whether it passed; or as
    many attempts of a day as `count` says, taken together."""

    day: date
    family: str
    passed: bool
    level: Standard
    notes: tuple[NoteRow, ...]
    count: int = 1

    @property
    def group(self) -> Group | None:
        """The part of the day that the attempt trained; `None` where the book no longer has the
        exercise."""
        family = FAMILIES.get(self.family)
        return None if family is None else family.group

    @property
    def bottom(self) -> int | None:
        """The lowest note that was asked for on the horn."""
        return min((row.asked_midi for row in self.notes if row.on_horn), default=None)

    @property
    def top(self) -> int | None:
        """The highest note that was asked for on the horn."""
        return max((row.asked_midi for row in self.notes if row.on_horn), default=None)


@dataclass(frozen=True, slots=True)
class DayAttempts:
    """A day's attempts at an exercise as it was set: how many, and how many of them were good."""

    day: date
    family: str
    values: Values
    attempts: int
    good: int


@dataclass(frozen=True, slots=True)
class Sitting:
    """A session with a plan: its day, and how each of its exercises ended."""

    day: date
    closes: tuple[tuple[Group, BlockEnd], ...]

    @property
    def at_ceiling(self) -> bool:
        """Whether high work came to where it would not lock."""
        return any(group is Group.HIGH and close in AT_CEILING for group, close in self.closes)


@dataclass(frozen=True, slots=True)
class HurtPeriod:
    """Something hurt on a day, and on which day the player said that it did no more."""

    day: date
    cleared: date | None = None


@dataclass(frozen=True, slots=True)
class FreePlayed:
    """What was played on a day without a task, in seconds: up to the middle, and high."""

    day: date
    easy_s: float
    high_s: float


@dataclass(frozen=True)
class History:
    """What is known of a player's practice on one horn, oldest first.

    `last_before` is the last day of practice before the first attempt here. `worked` goes back to
    the first day of all. `cold` are the notes that were once picked from silence and passed at the
    normal standard or a stricter one, however long ago; the rest reaches as far back as decisions
    look."""

    attempts: tuple[PastAttempt, ...] = ()
    sittings: tuple[Sitting, ...] = ()
    hurts: tuple[HurtPeriod, ...] = ()
    cold: frozenset[int] = frozenset()
    last_before: date | None = None
    worked: tuple[DayAttempts, ...] = ()
    free: tuple[FreePlayed, ...] = ()

    @cached_property
    def days(self) -> tuple[date, ...]:
        """The days on which anything was played, in order; a few notes without a task make none."""
        free = {
            sitting.day for sitting in self.free if sitting.easy_s + sitting.high_s >= _A_DAYS_S
        }
        return tuple(sorted({*free, *(attempt.day for attempt in self.attempts)}))

    @cached_property
    def heard(self) -> dict[int, list[NoteOutcome]]:
        """Every attempt at which each note was asked of the horn, at its best in it."""
        found: dict[int, list[NoteOutcome]] = {}
        for attempt in self.attempts:
            best: dict[int, NoteRow] = {}
            for note in attempt.notes:
                if note.on_horn:
                    known = best.get(note.asked_midi)
                    if known is None or note.held_s > known.held_s:
                        best[note.asked_midi] = note
            is_pick = attempt.family in FROM_SILENCE
            for midi, note in best.items():
                sounded_s = note.sounded_s if note.spoke else 0.0
                is_cold = is_pick or midi in self.cold
                heard = NoteOutcome(
                    attempt.day,
                    sounded_s,
                    note.held_s,
                    attempt.passed,
                    attempt.level,
                    is_cold,
                    attempt.family in TO_RECOVER,
                )
                found.setdefault(midi, []).append(heard)
        return found

    @cached_property
    def hard_days(self) -> frozenset[date]:
        """The days with attempts at what is hard on the lips; a few picks from cold make none, nor
        does what is played to recover."""
        light = FROM_SILENCE | TO_RECOVER
        return frozenset(
            attempt.day
            for attempt in self.attempts
            if attempt.group in WORKS and attempt.family not in light
        )

    @cached_property
    def worked_at(self) -> dict[str, list[DayAttempts]]:
        """What was worked on at each exercise, oldest first."""
        found: dict[str, list[DayAttempts]] = {}
        for day in self.worked:
            found.setdefault(day.family, []).append(day)
        return found

    def days_since(self, family: str, today: date) -> int | None:
        """How many days ago an exercise was last played, `None` where it never was."""
        days = self._last.get(family)
        return None if days is None else (today - days).days

    @cached_property
    def _last(self) -> dict[str, date]:
        return {attempt.family: attempt.day for attempt in self.attempts}

    def hurting(self) -> HurtPeriod | None:
        """What hurts and is not cleared, the newest."""
        return next((hurt for hurt in reversed(self.hurts) if hurt.cleared is None), None)


def stretch_begins(days: Sequence[date], today: date, gap_days: int) -> date | None:
    """The first day of practice since the last time it stood still for `gap_days` and more, `None`
    where there is none within those days before today."""
    begins: date | None = None
    after = today
    for day in reversed(days):
        if (after - day).days > gap_days:
            break
        begins = after = day
    return begins
