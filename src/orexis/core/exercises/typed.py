"""What is typed of an exercise, as the values of its family, and the other way round."""

from collections.abc import Sequence

from orexis.core.exercises.family import Family
from orexis.core.exercises.own import line_as_typed, line_of_typed
from orexis.core.exercises.practised import Value, Values
from orexis.core.exercises.writer import Writer
from orexis.core.horn.naming import Naming
from orexis.core.horn.notation import Notation
from orexis.core.parameter import Parameter

_FROM = "from_midi"


def values_of(
    family: Family, writer: Writer, typed: Notation, given: Sequence[str], start: str = ""
) -> dict[str, Value]:
    """Settings typed as key=value, and a note to start from: a number, a word, or a note's name
    (in the notation `typed`) where a note is meant; a line of notes has their names as well. Raises
    `ValueError` with what to type."""
    parameters = {parameter.key: parameter for parameter in family.parameters(writer)}
    values: dict[str, Value] = {}
    for one in given:
        key, equals, text = one.partition("=")
        if not equals:
            raise ValueError(f"Set a value as key=value: beats=2, not “{one}”.")
        key = key.strip()
        parameter = parameters.get(key) or parameters.get(f"{key}_midi")
        values[parameter.key if parameter else key] = _value(parameter, text.strip(), typed)
    if start:
        note = next((parameter for parameter in parameters.values() if parameter.is_note), None)
        if note is None:
            raise ValueError(f"{family.title} starts from no note.")
        values[_FROM if _FROM in parameters else note.key] = _value(note, start, typed)
    return values


def _value(parameter: Parameter | None, text: str, typed: Notation) -> Value:
    if parameter is not None and parameter.is_note and not text.isdigit():
        return float(typed.parse(text, round(float(parameter.usual or 60))))
    if parameter is not None and parameter.is_line:
        return line_of_typed(text, typed.naming)
    return text


def typed_line(parameters: Sequence[Parameter], values: Values, naming: Naming) -> str:
    """The line of notes among the values of an exercise, as a player who names notes in `naming`
    types it; "" where the exercise has none."""
    line = next((parameter.key for parameter in parameters if parameter.is_line), None)
    return "" if line is None else line_as_typed(str(values[line]), naming)


def as_typed(values: Values) -> dict[str, str]:
    """The values of an exercise as text, the way they are typed."""
    return {key: value if isinstance(value, str) else f"{value:g}" for key, value in values.items()}
