"""Exercises said in words."""

from collections.abc import Callable, Sequence

from orexis.core.counting import counted, in_unit
from orexis.core.exercises.family import ParameterValues
from orexis.core.horn.notation import Notation
from orexis.core.parameter import Parameter
from orexis.core.score.steps import Score

_MOST_NAMED = 24


def pace_words(score: Score) -> str:
    """How fast it goes, and how often: "free, 3 times"."""
    pace = "free" if score.tempo_bpm is None else f"{score.tempo_bpm:g} a minute"
    return f"{pace}, {score.times} times" if score.times > 1 else pace


def described(score: Score, notation: Notation) -> str:
    """A score for those who do not see it: its notes by name, and its pace."""
    pitches = score.pitches
    if not pitches:
        return f"By breathing alone, {pace_words(score)}."
    names = " ".join(notation.name(midi) for midi in pitches[:_MOST_NAMED])
    more = len(pitches) - _MOST_NAMED
    rest = f" and {counted(more, 'more note')}" if more > 0 else ""
    return f"{names}{rest}, {pace_words(score)}."


def setting_words(parameters: Sequence[Parameter], given: ParameterValues) -> str:
    """What is set beside the notes and how often: "hold 4 s". What is nothing is not said."""
    said = [
        _set(parameter, given.values[parameter.key])
        for parameter in parameters
        if not parameter.is_note
        and not parameter.is_line
        and parameter.key != "times"
        and given.values[parameter.key]
        and not _goes_without_saying(parameter, given.values[parameter.key])
    ]
    return ", ".join(said)


def _goes_without_saying(parameter: Parameter, value: float | str) -> bool:
    return any(choice.unsaid and choice.value == value for choice in parameter.choices)


def value_words(parameter: Parameter, value: float | str, name: Callable[[int], str]) -> str:
    """One value that is set, notes by `name`: "hold 4 s", "note B♭3"."""
    if parameter.is_note:
        return f"{parameter.label} {name(round(float(value)))}"
    return _set(parameter, value)


def _set(parameter: Parameter, value: float | str) -> str:
    label = {choice.value: choice.label for choice in parameter.choices}.get(str(value))
    if label is not None:
        return label
    if isinstance(value, str):
        return f"{parameter.label} {value}"
    if parameter.above and value:
        way = parameter.above if value > 0 else parameter.below
        return f"{parameter.label} {in_unit(abs(value), parameter.unit)} {way}"
    return f"{parameter.label} {in_unit(value, parameter.unit)}"
