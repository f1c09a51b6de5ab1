"""Quiet hours: the same session on the mouthpiece, as far as it can be buzzed."""

from dataclasses import replace

from orexis.core.exercises.book import find_family, on_the_mouthpiece, task_of
from orexis.core.exercises.family import WORKS, ExerciseRefusedError, Group
from orexis.core.exercises.practised import Buzzes, Values
from orexis.core.exercises.writer import Writer
from orexis.core.score.steps import PlayedOn
from orexis.core.session.building import Setting

_AS_IT_IS = frozenset({Group.BREATH, Group.BUZZ})
_HELD = "The same note, buzzed: quiet hours."
_SLURRED = "The shape of the slur, as a glide: quiet hours."
_PLACED = "The interval, heard and buzzed: quiet hours."


def quietly(setting: Setting, writer: Writer) -> Setting | None:
    """An exercise on the mouthpiece alone; `None` where it needs the horn. Raises
    `ExerciseRefusedError` for one that cannot be."""
    family = find_family(setting.family)
    if family.group in WORKS:
        return None
    if family.group in _AS_IT_IS:
        alone = PlayedOn.MOUTHPIECE.value
        if setting.values.get("on", alone) == alone:
            return setting
        return replace(setting, values={**setting.values, "on": alone})
    pitches = task_of(family, writer, setting.values).score.pitches
    low, high = float(min(pitches)), float(max(pitches))
    if family.group is Group.SLURS and low < high:
        return _buzzed(Buzzes.SLUR, {"low_midi": low, "high_midi": high}, _SLURRED, writer)
    if low < high and family.group in (Group.INTERVALS, Group.LOW, Group.MUSIC):
        return _buzzed(Buzzes.INTERVAL, {"low_midi": low, "high_midi": high}, _PLACED, writer)
    return _buzzed(Buzzes.NOTE, {"note_midi": low}, _HELD, writer)


def _buzzed(stands_for: Buzzes, values: Values, why: str, writer: Writer) -> Setting:
    """An exercise on the mouthpiece; with its usual notes where the lips alone do not reach."""
    family = on_the_mouthpiece(stands_for)
    try:
        task_of(family, writer, values)
    except ExerciseRefusedError:
        values = {}
    return Setting(family.key, values, {}, why)
