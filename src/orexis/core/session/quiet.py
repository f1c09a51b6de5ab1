"""Quiet hours: the same session on the mouthpiece, as far as it can be buzzed."""

from orexis.core.exercises.book import find_family, task_of
from orexis.core.exercises.family import ExerciseRefusedError, Group, Values
from orexis.core.exercises.writer import Writer
from orexis.core.session.building import Setting

_AS_IT_IS = frozenset({Group.BREATH, Group.BUZZ})
_NOT_BUZZED = frozenset({Group.PEDALS, Group.HIGH})
_HELD = "The same note, buzzed: quiet hours."
_SLURRED = "The shape of the slur, as a glide: quiet hours."
_PLACED = "The interval, heard and buzzed: quiet hours."


def quietly(setting: Setting, writer: Writer) -> Setting | None:
    """An exercise on the mouthpiece alone; `None` where it needs the horn. Raises
    `ExerciseRefusedError` for one that cannot be."""
    family = find_family(setting.family)
    if family.group in _NOT_BUZZED:
        return None
    if family.group in _AS_IT_IS:
        return setting
    pitches = task_of(family, writer, setting.values).score.pitches
    low, high = float(min(pitches)), float(max(pitches))
    if family.group is Group.SLURS and low < high:
        return _buzzed("slur-shape", {"low_midi": low, "high_midi": high}, _SLURRED, writer)
    if low < high and family.group in (Group.INTERVALS, Group.LOW, Group.MUSIC):
        return _buzzed("interval-buzz", {"low_midi": low, "high_midi": high}, _PLACED, writer)
    return _buzzed("sustained-buzz", {"note_midi": low}, _HELD, writer)


def _buzzed(family_key: str, values: Values, why: str, writer: Writer) -> Setting:
    """An exercise on the mouthpiece; with its usual notes where the lips alone do not reach."""
    try:
        task_of(find_family(family_key), writer, values)
    except ExerciseRefusedError:
        values = {}
    return Setting(family_key, values, {}, why)
