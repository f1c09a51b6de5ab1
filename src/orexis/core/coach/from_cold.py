"""Notes from cold: first thing, from silence, to become secure."""

from collections.abc import Iterator
from itertools import takewhile

from orexis.core.coach.about import Lips
from orexis.core.coach.chosen import ChosenExercise
from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.limits import limits_for
from orexis.core.coach.standing import Standing, hard_days, is_dependable
from orexis.core.counting import listed
from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.practised import Value
from orexis.core.session.building import Setting

_AGAIN_DAYS = 2
"""Picks are asked for again no sooner than after so many days."""
_MOST_PICKS, _MOST_APART = 3, 7


def due_from_cold(known: PlayerFacts, lips: Lips) -> set[int]:
    """The notes that only lack a pick from silence to be secure, from the easy note up to the
    highest of the day; none for some days after picks."""
    since = known.history.days_since(_FAMILY.key, known.today)
    if since is not None and since < _AGAIN_DAYS:
        return set()
    highest = limits_for(known, lips).usual
    return {
        midi
        for midi, standing in known.range.standings.items()
        if known.writer.reach.easy <= midi <= highest
        and standing is Standing.HELD
        and is_dependable(known.history.heard[midi], known.today)
        and midi not in known.history.cold
    }


def picks_from_cold(known: PlayerFacts, lips: Lips) -> Iterator[ChosenExercise]:
    """Notes that are due, up to three at even distances from the highest down, one attempt each."""
    due = due_from_cold(known, lips)
    if not due:
        return
    top = max(due)
    picks, apart = max(
        (len(list(takewhile(due.__contains__, _down(top, apart)))), apart)
        for apart in range(1, _MOST_APART + 1)
    )
    notes = _down(top, apart)[:picks]
    names = listed([known.writer.name(midi) for midi in notes])
    days = min(len(hard_days(known.history.heard[midi], known.today)) for midi in notes)
    values: dict[str, Value] = {"from_midi": float(top), "picks": float(picks)}
    if picks > 1:
        values["apart"] = float(apart)
    were = "was" if picks == 1 else "were"
    yield ChosenExercise(
        Setting(_FAMILY.key, values, {"fails": 1.0}),
        f"{names} {were} good on {days} days; now first thing, from silence.",
        (f"{names} {were} good on {days} of the last 14 days, and never from silence.",),
    )


def _down(top: int, apart: int) -> range:
    return range(top, top - _MOST_PICKS * apart, -apart)


_FAMILY = next(family for family in FAMILIES.values() if family.practised.from_silence)
