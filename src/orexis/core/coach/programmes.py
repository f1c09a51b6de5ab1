"""Programmes: work that grows over weeks, as a row of stages and what earns the next one."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from itertools import pairwise
from types import MappingProxyType

from orexis.core.coach.about import About, Experience
from orexis.core.coach.history import PastAttempt
from orexis.core.counting import counted
from orexis.core.horn.intervals import INTERVALS
from orexis.core.session.building import Setting


@dataclass(frozen=True, slots=True)
class Stage:
    """A stage: its name, what is done, the exercise it asks for (none where it only sets the
    measure of the day) and another that takes turns with it, which attempts count for it, and the
    share of the usual time. `no_high` leaves high and pedal work out, and `below` is how many half
    steps under the usual top it stays."""

    name: str
    words: str
    setting: Setting | None = None
    counts: Callable[[PastAttempt], bool] = field(default=lambda _: False, repr=False)
    share: float = 1.0
    no_high: bool = False
    below: int = 0
    or_else: Setting | None = None


@dataclass(frozen=True, slots=True)
class Programme:
    """Stages from first to last. A stage is earned by `earn_days` days on which at least half of
    its attempts passed, and no sooner than `least_days` after it began (`first_days`: the first
    one). `rest_days` is how many days lie between two of it."""

    key: str
    title: str
    why: str
    stages: Callable[[int], tuple[Stage, ...]]
    earn_days: int = 2
    least_days: int = 0
    first_days: int | None = None
    rest_days: int = 0
    caution: str = ""

    def earns(self) -> str:
        """What earns the next stage, in words."""
        days = f"{self.earn_days} good days" if self.earn_days > 1 else "a good day"
        if not self.earn_days:
            return f"{self.least_days} days earn the next stage."
        if self.least_days:
            return f"{days.capitalize()}, and {self.least_days} days in all, earn the next stage."
        return f"{days.capitalize()} earn the next stage."

    def rests(self) -> str:
        """How often it comes, in words."""
        if not self.rest_days:
            return "It can come every day."
        between = "a day" if self.rest_days == 1 else f"{self.rest_days} days"
        return f"At least {between} of rest between two of it."


def _of(*families: str) -> Callable[[PastAttempt], bool]:
    return lambda attempt: attempt.family in families


def _pedal_sets(base: int) -> tuple[Stage, ...]:
    return tuple(
        Stage(
            f"{sets} sets of 20",
            f"{sets} sets of 20 air attacks on the highest pedal that speaks without a shift.",
            Setting("pedal-sets", {}, {"sets": float(sets)}),
            _of("pedal-sets"),
        )
        for sets in (2, 3, 4, 5)
    )


def _chain(interval: int, notes: int) -> Callable[[PastAttempt], bool]:
    def counts(attempt: PastAttempt) -> bool:
        asked = [note.asked_midi for note in attempt.notes]
        steps = {above - below for above, below in pairwise(asked)}
        return attempt.family == "chained-intervals" and len(asked) >= notes and steps == {interval}

    return counts


def _low_intervals(base: int) -> tuple[Stage, ...]:
    # First longer, then wider; wide ones stay short, or they would leave the horn.
    steps = [(1, 5), (1, 6), (1, 7), (1, 8), (2, 5), (2, 6), (2, 7), (3, 5), (3, 6), (4, 5), (5, 5)]
    return tuple(
        Stage(
            f"{notes} notes, {INTERVALS[interval]}s",
            f"{notes} notes in {INTERVALS[interval]}s down, one breath, one set.",
            Setting("chained-intervals", {"semitones": float(interval), "notes": float(notes)}, {}),
            _chain(interval, notes),
        )
        for interval, notes in steps
    )


def _up_from(base: int) -> tuple[Stage, ...]:
    def counts(at: int) -> Callable[[PastAttempt], bool]:
        def is_it(attempt: PastAttempt) -> bool:
            if attempt.family == "two-octave-scale":
                return (attempt.top or 0) >= at
            return attempt.family == "rising-triads" and (attempt.top or 0) >= at

        return is_it

    return tuple(
        Stage(
            "where it is comfortable" if not step else f"{counted(step, 'half step')} above it",
            "A scale over two octaves and rising triads, to that note.",
            Setting("two-octave-scale", {"from_midi": float(base - 24 + step)}, {}),
            counts(base + step),
            or_else=Setting("rising-triads", {"from_midi": float(base + step - 7)}, {}),
        )
        for step in range(13)
    )


def _pyramid(base: int) -> tuple[Stage, ...]:
    def counts(slots: int) -> Callable[[PastAttempt], bool]:
        return lambda attempt: (
            attempt.family in ("pyramid", "light-hold-pyramid")
            and len({note.asked_midi for note in attempt.notes}) >= slots
        )

    return tuple(
        Stage(
            f"{slots} partials",
            f"From the lowest partial up {slots} and back, without resetting the embouchure.",
            Setting("pyramid", {"slots": float(slots)}, {}),
            counts(slots),
        )
        for slots in range(3, 9)
    )


def _first_buzz(base: int) -> tuple[Stage, ...]:
    first = _of("first-buzz")
    return (
        Stage(
            "with rests",
            "High for four counts, rest, low for four, rest.",
            Setting("first-buzz", {"step": "1"}, {}),
            first,
        ),
        Stage(
            "without rests",
            "High and low in turn.",
            Setting("first-buzz", {"step": "2"}, {}),
            first,
        ),
        Stage("two counts each", "Quicker turns.", Setting("first-buzz", {"step": "3"}, {}), first),
        Stage("sirens", "Up and down without a break.", Setting("siren", {}, {}), _of("siren")),
    )


_SHARES = ((0.3, 12), (0.5, 9), (0.7, 7), (0.85, 4), (1.0, 0))
"""Of the usual time, and half steps under the usual top, by weeks."""


def _graded(base: int) -> tuple[Stage, ...]:
    return tuple(
        Stage(
            f"{100 * share:.0f} %",
            f"{100 * share:.0f} % of your usual time"
            + (", and nothing high." if share < 0.7 else "."),
            share=share,
            no_high=share < 0.7,
            below=below,
        )
        for share, below in _SHARES
    )


def _braces(base: int) -> tuple[Stage, ...]:
    return (
        Stage("the middle, softly", "Short and soft in the middle.", share=0.5, no_high=True),
        Stage("slurs again", "Slurs and low work; still nothing high.", share=0.7, no_high=True),
        Stage("slowly up", "High work again, with a light hold.", share=0.85),
        Stage("as usual", "As usual, pressing as little as you can.", share=1.0),
    )


_ALL = (
    Programme(
        "pedal-sets",
        "Pedal sets",
        "Strength with your normal embouchure: full breath, air attack, held as long as it is "
        "good, louder through the second half.",
        _pedal_sets,
        earn_days=3,
        least_days=10,
        first_days=28,
        rest_days=1,
        caution="Rest three to five minutes between sets. Never a note that needs a shift.",
    ),
    Programme(
        "low-intervals",
        "Low intervals",
        "The same sound and embouchure, a little wider every week.",
        _low_intervals,
        earn_days=2,
    ),
    Programme(
        "two-octaves",
        "Two octaves and triads",
        "A firm bottom note, and a half step more at the top after two good days.",
        _up_from,
        earn_days=2,
        rest_days=1,
        caution="Stop for today when a note will not lock.",
    ),
    Programme(
        "slur-pyramid",
        "Slur pyramid",
        "One more partial, from the bottom and back, without a reset.",
        _pyramid,
        earn_days=2,
    ),
    Programme(
        "first-buzz",
        "First buzz",
        "Five minutes a day on the mouthpiece, until high and low speak equally well.",
        _first_buzz,
        earn_days=3,
    ),
    Programme(
        "graded-return",
        "Graded return",
        "After a break or a change of teeth: 30, 50, 70, 85, then 100 % of your usual, by weeks.",
        _graded,
        earn_days=0,
        least_days=7,
        caution="Orexis is no doctor or dentist; what they say comes first.",
    ),
    Programme(
        "braces",
        "Braces",
        "Your lips need weeks to get used to something new. Do not press.",
        _braces,
        earn_days=0,
        least_days=14,
        caution="Pressing can hurt the lips and move teeth. Ask your dentist what is allowed.",
    ),
)
RETURN = _graded(0)
"""The weeks of a return, whatever it is from."""
PROGRAMMES: Mapping[str, Programme] = MappingProxyType(
    {programme.key: programme for programme in _ALL}
)


class ProgrammeUnknownError(ValueError):
    """A programme there is not; the message names those there are."""


def find_programme(key: str) -> Programme:
    """The programme of a key. Raises `ProgrammeUnknownError`."""
    if key not in PROGRAMMES:
        known = ", ".join(PROGRAMMES)
        raise ProgrammeUnknownError(f"There is no programme {key}; there are {known}.")
    return PROGRAMMES[key]


_RETURN_WEEKS = 3


def wanted_by(about: About) -> frozenset[str]:
    """The programmes that follow from what a player says of themselves: a return after some weeks
    off, braces, the first weeks."""
    wanted = {
        "graded-return": about.weeks_off >= _RETURN_WEEKS,
        "braces": about.braces,
        "first-buzz": about.experience is Experience.FIRST_WEEKS,
    }
    return frozenset(key for key, follows in wanted.items() if follows)
