"""What a player keeps under names, as the coach plans it."""

from collections.abc import Iterator
from math import inf

from orexis.core.coach.chosen import ChosenExercise, played_words
from orexis.core.coach.fitting import FILLED
from orexis.core.coach.known import Own, PlayerFacts
from orexis.core.exercises.book import find_family
from orexis.core.exercises.family import Group
from orexis.core.session.building import Setting

_AGAIN_DAYS = 7
"""What is no music comes again after so many days."""


def kept_by_the_player(kind: Group, known: PlayerFacts) -> Iterator[ChosenExercise]:
    """Exercises of a kind that the player keeps, what was left longest first: music always, all
    else once a week."""
    there = [exercise for exercise in known.own if find_family(exercise.family).group is kind]
    days = {exercise.name: _days_since(exercise, known) for exercise in there}

    def left_for(exercise: Own) -> float:
        since = days[exercise.name]
        return inf if since is None else since

    for exercise in sorted(there, key=left_for, reverse=True):
        since = days[exercise.name]
        if kind is not Group.MUSIC and since is not None and since < _AGAIN_DAYS:
            continue
        yield ChosenExercise(
            Setting(exercise.family, exercise.values, {}),
            f"{exercise.name}, from your own book.",
            (played_words(exercise.name, since),),
            title=exercise.name,
        )


def _days_since(own: Own, known: PlayerFacts) -> int | None:
    """How many days ago it was last played, whatever filled its minutes and however far it was
    brought down; `None` where it never was."""
    notes = {
        parameter.key
        for parameter in find_family(own.family).parameters(known.bare)
        if parameter.is_note
    }
    told = {key: value for key, value in own.values.items() if key not in FILLED | notes}
    days = [
        row.day
        for row in known.history.worked_at.get(own.family, ())
        if all(row.values.get(key) == value for key, value in told.items())
    ]
    return (known.today - max(days)).days if days else None
