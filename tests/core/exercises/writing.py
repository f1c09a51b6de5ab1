"""What exercises are written with in tests."""

from fractions import Fraction

from orexis.core.exercises.book import FAMILIES, task_of
from orexis.core.exercises.practised import Value
from orexis.core.exercises.task import Task
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import parse_note
from orexis.core.horn.setup import Horn
from orexis.core.score.steps import Bend, Glide, Play, Step


def writer(instrument: str) -> Writer:
    """A writer for a horn as made, and a player one knows nothing of."""
    kind = INSTRUMENTS[instrument]
    return Writer(Horn(kind), Reach.usual(kind))


def task(family: str, instrument: str, **values: Value) -> Task:
    """An exercise on a horn; notes are typed by name."""
    typed = {
        key: float(parse_note(str(value)).midi) if key.endswith("_midi") else value
        for key, value in values.items()
    }
    return task_of(FAMILIES[family], writer(instrument), typed)


def row(written: Task) -> list[str]:
    """A score as short as it can be read: notes with their beats, `~` slurred, `>` glided,
    `'` a breath, `-` a rest, `^` a bend in cents."""
    return [_short(step) for step in written.score.steps]


def _short(step: Step) -> str:
    match step:
        case Play():
            slurred = "~" if step.articulation == "slurred" else ""
            return f"{slurred}{_name(step.midi)}/{_beats(step.beats)}"
        case Glide():
            return f">{_name(step.to_midi)}/{_beats(step.beats)}"
        case Bend():
            return f"^{step.cents:g}/{_beats(step.beats)}"
        case _:
            return f"-{_beats(step.beats)}" if hasattr(step, "beats") else "'"


def _beats(beats: Fraction) -> str:
    return str(beats)


def _name(midi: int) -> str:
    names = ("C", "C#", "D", "Eb", "E", "F", "F#", "G", "Ab", "A", "Bb", "B")
    return f"{names[midi % 12]}{midi // 12 - 1}"
