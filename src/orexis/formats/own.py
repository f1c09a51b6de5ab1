"""A player's own exercises as JSON, `orexis.own/1`: each a name, a family and what is set of it."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from orexis.core.exercises.book import current_key
from orexis.core.exercises.own import MOST_OWN
from orexis.core.exercises.practised import MOST_VALUES
from orexis.formats.strict_json import JsonUnreadableError, read_json

SCHEMA = "orexis.own/1"


class OwnUnreadableError(ValueError):
    """A file that holds no exercises; the message says what to do."""


@dataclass(frozen=True, slots=True)
class NamedExercise:
    """An exercise under a name."""

    name: str
    family: str
    values: Mapping[str, str]


def own_document(player: str, exercises: Iterable[NamedExercise]) -> dict[str, Any]:
    """The document of some exercises."""
    return {
        "schema": SCHEMA,
        "player": player,
        "exercises": [
            {"name": exercise.name, "family": exercise.family, "parameters": dict(exercise.values)}
            for exercise in exercises
        ],
    }


def read_own(content: bytes) -> list[NamedExercise]:
    """The exercises of a document. Raises `OwnUnreadableError`."""
    try:
        document = read_json(content)
    except JsonUnreadableError as error:
        raise OwnUnreadableError("This is no JSON. Choose the file that Orexis wrote.") from error
    if not isinstance(document, dict) or document.get("schema") != SCHEMA:
        raise OwnUnreadableError(f"This is not of the kind {SCHEMA}. Choose the file Orexis wrote.")
    found = document.get("exercises")
    if not isinstance(found, list) or len(found) > MOST_OWN:
        raise OwnUnreadableError(f"It has to hold a list of up to {MOST_OWN} exercises.")
    return [_exercise(number, one) for number, one in enumerate(found, start=1)]


def _exercise(number: int, found: object) -> NamedExercise:
    values = found.get("parameters") if isinstance(found, dict) else None
    if (
        not isinstance(found, dict)
        or not isinstance(found.get("name"), str)
        or not isinstance(found.get("family"), str)
        or not isinstance(values, dict)
        or len(values) > MOST_VALUES
        or not all(isinstance(value, str) for value in values.values())
    ):
        raise OwnUnreadableError(
            f"Exercise {number} in it does not say its name, family and parameters as text."
        )
    return NamedExercise(found["name"], current_key(found["family"]), values)
