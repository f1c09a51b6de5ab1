"""The book: how long it takes to write an exercise, to engrave it, and to answer with its page.

Wanted: 20 ms to write one, 100 ms to engrave a page, 300 ms from asking for a page to having it.
"""

import tempfile
import time
from pathlib import Path

import numpy as np
from fastapi.testclient import TestClient

from bench.goals import at_most
from orexis.core.exercises.book import FAMILIES, task_of
from orexis.core.exercises.family import ExerciseRefusedError
from orexis.core.exercises.task import Task
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import Clef, NoteView
from orexis.core.horn.setup import Horn
from orexis.formats.engraving import engraved
from orexis.formats.musicxml import musicxml_of
from orexis.server.app import Settings, create_app

_ENGRAVED = ("cornet-bb", "trombone-bass", "tuba-eb")
_PLAYER = {"name": "A", "instrument_key": "cornet-bb", "view": "written", "clef": "treble"}


def main() -> None:
    """Prints the times, in ms."""
    written: list[float] = []
    tasks: list[tuple[Writer, Task]] = []
    for kind in INSTRUMENTS.values():
        writer = Writer(Horn(kind), Reach.usual(kind))
        for family in FAMILIES.values():
            started = time.perf_counter()
            try:
                task = task_of(family, writer, {})
            except ExerciseRefusedError:
                continue
            finally:
                written.append(time.perf_counter() - started)
            tasks.append((writer, task))
    _say("to write an exercise", written, 20.0)
    scores, pictures = [], []
    for writer, task in tasks:
        if writer.instrument.key not in _ENGRAVED:
            continue
        reading = writer.instrument.readings[0]
        notation = writer.instrument.notation(NoteView.WRITTEN, Clef(reading.clef))
        started = time.perf_counter()
        text = musicxml_of(task.score, writer.horn, notation, task.title)
        between = time.perf_counter()
        engraved(text)
        scores.append(between - started)
        pictures.append(time.perf_counter() - between)
    _say("to make its MusicXML", scores, None)
    _say("to engrave it", pictures, 100.0)
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Settings(Path(folder) / "orexis.db"))
        with TestClient(app, base_url="http://127.0.0.1:8420") as client:
            client.post("/api/players", json=_PLAYER).raise_for_status()
            pages = []
            for key in FAMILIES:
                started = time.perf_counter()
                client.get(f"/api/players/1/book/{key}")
                pages.append(time.perf_counter() - started)
            _say("to answer with a page", pages, 300.0)


def _say(what: str, seconds: list[float], most_ms: float | None) -> None:
    middle, late, worst = 1000 * np.percentile(seconds, (50, 95, 100))
    print(f"{what:<24}{middle:>8.1f}{late:>8.1f}{worst:>8.1f}   ms: median, 95 %, worst")
    if most_ms is not None:
        at_most(f"{what}, 95 %, ms", float(late), most_ms)
