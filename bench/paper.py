"""What another program makes of the music that is written: LilyPond, where it is installed
(`apt-get install lilypond`).

Every exercise is written as MusicXML for several horns, converted and engraved; LilyPond's own MIDI
of it is held against the exercise: each note's pitch as it sounds, and the beat it begins on.
Wanted: every note at its pitch and in its place, and no complaint of a bar that does not add up, of
a tie or slur without an end, or of a failure.
"""

import os
import shutil
import subprocess
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from fractions import Fraction
from itertools import product
from pathlib import Path
from tempfile import TemporaryDirectory

import mido

from bench.attempts import once, writer_of
from bench.goals import at_least
from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.task import Task
from orexis.core.horn.notation import NoteView
from orexis.core.score.notated import notated
from orexis.practice.exercises import musicxml_of_task

_HORNS = ("cornet-bb", "horn-f", "euphonium-bb-4v", "trombone-bass", "tuba-eb")
_LONGEST_S = 120
_NEAR_BEATS = Fraction(1, 24)
_COMPLAINTS = ("barcheck", "unterminated", "fatal", ": error:")
_UNATTACHED = "Unattached"
_Notes = list[tuple[int, Fraction]]


@dataclass(frozen=True, slots=True)
class _Read:
    """What came of a piece of music: notes heard as they are written, of how many, the first
    complaint, and whether words or dynamics were lost."""

    right: int
    notes: int
    complaint: str
    lost: bool


def main() -> None:
    """Prints what LilyPond did not read as it is meant."""
    print("Music as LilyPond reads it")
    if shutil.which("lilypond") is None or shutil.which("musicxml2ly") is None:
        print("  LilyPond is not installed: nothing was tried.")
        return
    cases = list(product(FAMILIES, _HORNS))
    with ThreadPoolExecutor(os.cpu_count()) as pool:
        tried = dict(zip(cases, pool.map(_read, *zip(*cases, strict=True)), strict=True))
    found = {case: read for case, read in tried.items() if read is not None}
    for (key, horn), read in found.items():
        if read.complaint or read.right < read.notes:
            print(f"  {key} on {horn}: {read.right} of {read.notes} notes. {read.complaint}")
    lost = sum(read.lost for read in found.values())
    print(
        f"  {lost} of {len(found)} lose words or a dynamic that its converter puts after a breath"
    )
    clean = sum(not read.complaint for read in found.values())
    notes = sum(read.notes for read in found.values())
    at_least("exercises read without a complaint, %", 100 * clean / len(found), 100)
    right = sum(read.right for read in found.values())
    at_least("notes at their pitch and beat, %", 100 * right / notes, 100)


def _read(key: str, horn: str) -> _Read | None:
    """What becomes of an exercise; `None` where the horn has none, or nothing sounds."""
    made = writer_of(horn)
    task = once(FAMILIES[key], made)
    if task is None:
        return None
    notation = made.instrument.notation(NoteView.WRITTEN, made.instrument.readings[0].clef)
    asked = _asked(task)
    with TemporaryDirectory() as name:
        folder = Path(name)
        xml = musicxml_of_task(task, made.horn, notation)
        (folder / "music.musicxml").write_text(xml, encoding="utf-8")
        said = _run(folder, "musicxml2ly", "-m", "-o", "music.ly", "music.musicxml")
        said += _run(folder, "lilypond", "music.ly")
        midi = folder / "music.midi"
        heard = _heard(midi) if midi.exists() else []
    complaint = next(
        (line for line in said.splitlines() if any(word in line for word in _COMPLAINTS)), ""
    )
    right = sum(
        note[0] == other[0] and abs(note[1] - other[1]) <= _NEAR_BEATS
        for note, other in zip(asked, heard, strict=False)
    )
    right = right if len(heard) == len(asked) else 0
    return _Read(right, len(asked), complaint, _UNATTACHED in said)


def _run(folder: Path, *command: str) -> str:
    done = subprocess.run(
        command, cwd=folder, capture_output=True, text=True, timeout=_LONGEST_S, check=False
    )
    return done.stderr


def _asked(task: Task) -> _Notes:
    """Each note that is on paper, with the beat it begins on."""
    found: _Notes = []
    now = Fraction(0)
    for sign in notated(task.once.score):
        if sign.midi is not None:
            found.append((sign.midi, now))
        now += sign.beats
    return found


def _heard(path: Path) -> _Notes:
    """The notes of a MIDI file, with the beat each begins on."""
    file = mido.MidiFile(path)
    found: _Notes = []
    for track in file.tracks:
        now = 0
        for message in track:
            now += message.time
            if message.type == "note_on" and message.velocity:
                found.append((message.note, Fraction(now, file.ticks_per_beat)))
    return sorted(found, key=lambda note: note[1])


if __name__ == "__main__":
    main()
