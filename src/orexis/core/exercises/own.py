"""A player's own line of notes: tapped on the slots, typed, or brought in from a file.

A line is text, a word a step: a sounding note with its beats (`Bb3:2`, or its MIDI number), `~`
before it when it is slurred to, `=` tenuto, `*` begun by breath alone, `@0.3` after the note for a
slot (length, partial); `-:1` a rest, `'` a breath, and `p` or `ff` how loud it is from there on.
"""

import re
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from orexis.core.exercises.family import (
    Aim,
    ExerciseRefusedError,
    Family,
    FamilyWords,
    Group,
    ParameterValues,
)
from orexis.core.exercises.writer import Writer
from orexis.core.horn.naming import USUAL_NAMING, Naming
from orexis.core.horn.notation import NoteUnreadableError, note_name, parse_note, spell
from orexis.core.parameter import Choice, Parameter
from orexis.core.score.steps import Articulation, Breath, Dynamic, Play, Rest, Score, Step

LINE = "own-line"
LONGEST_LINE = 6000
MOST_OWN = 500
"""So many exercises a player may keep under names."""
FASTEST_BPM = 240
_MOST_NOTES = 500
_HIGHEST_MIDI = 127
_LONGEST_BEATS = 64
_BEGUN = {
    "": Articulation.TONGUED,
    "~": Articulation.SLURRED,
    "=": Articulation.TENUTO,
    "*": Articulation.BREATH,
}
_WORD = re.compile(
    r"(?P<begun>[~=*]?)(?P<note>-|[^@:~=*]+)(?:@(?P<length>[^.:]+)\.(?P<partial>\d+))?"
    r":(?P<beats>\d+(?:\.\d+|/\d+)?)"
)
_BREATH = "'"

PEN = (
    Parameter(
        "beats",
        "beats",
        choices=tuple(
            Choice(beats, beats) for beats in ("1/4", "1/2", "1", "3/2", "2", "3", "4", "6", "8")
        ),
        usual="1",
    ),
    Parameter(
        "loud",
        "loud",
        choices=tuple(Choice(dynamic, dynamic) for dynamic in Dynamic),
        usual=Dynamic.MF.value,
    ),
)
"""What is chosen for the next note of a line that is tapped."""


def read_line(text: str) -> tuple[Step, ...]:
    """The steps of a line. Raises `ExerciseRefusedError` with what to write instead."""
    steps: list[Step] = []
    dynamic = Dynamic.MF
    for word in text.split():
        if word == _BREATH:
            steps.append(Breath())
        elif word in set(Dynamic):
            dynamic = Dynamic(word)
        else:
            steps.append(_read(word, dynamic))
    if sum(isinstance(step, Play) for step in steps) > _MOST_NOTES:
        raise ExerciseRefusedError(f"That is over {_MOST_NOTES} notes. Take a part of it.")
    return tuple(steps)


def _read(word: str, dynamic: Dynamic) -> Step:
    read = _WORD.fullmatch(word)
    beats = _beats(read["beats"]) if read else Fraction(0)
    if read is None or not 0 < beats <= _LONGEST_BEATS:
        raise _unreadable(word)
    if read["note"] == "-":
        return Rest(beats)
    midi = _midi(read["note"])
    if midi is None:
        raise _unreadable(word)
    partial = read["partial"]
    return Play(
        midi,
        beats,
        articulation=_BEGUN[read["begun"]],
        length_name=read["length"],
        partial=None if partial is None else int(partial),
        dynamic=dynamic,
    )


def _beats(text: str) -> Fraction:
    try:
        return Fraction(text)
    except ZeroDivisionError:
        return Fraction(0)


def _midi(text: str) -> int | None:
    if text.isascii() and text.isdigit():
        return int(text) if int(text) <= _HIGHEST_MIDI else None
    try:
        return parse_note(text).midi
    except NoteUnreadableError:
        return None


def _unreadable(word: str, naming: Naming = USUAL_NAMING) -> ExerciseRefusedError:
    first, second = (parse_note(note).named(naming) for note in ("Bb3", "Eb4"))
    return ExerciseRefusedError(
        f"“{word[:20]}” cannot be read. Write sounding notes with their beats, such as "
        f"{first}:2 ~{second}:1 -:1 ' and p or f for how loud."
    )


def line_as_typed(line: str, naming: Naming) -> str:
    """A line with its notes named as a player types them. Raises `ExerciseRefusedError`."""
    return _plain(_renamed_line(line, USUAL_NAMING, naming))


def line_of_typed(text: str, naming: Naming) -> str:
    """The line that a player typed with their own names of notes. Raises `ExerciseRefusedError`
    with what to type instead."""
    if naming == USUAL_NAMING:
        return text
    return _plain(_renamed_line(text, naming, USUAL_NAMING))


def _plain(name: str) -> str:
    return name.replace("♭", "b").replace("♯", "#")


def _renamed_line(text: str, read: Naming, write: Naming) -> str:
    return " ".join(_renamed(word, read, write) for word in text.split())


def _renamed(word: str, read: Naming, write: Naming) -> str:
    found = _WORD.fullmatch(word)
    if found is None:
        if word == _BREATH or word in set(Dynamic):
            return word
        raise _unreadable(word, read)
    note = found["note"]
    if note == "-":
        return word
    try:
        is_number = note.isascii() and note.isdigit() and int(note) <= _HIGHEST_MIDI
        spelling = spell(int(note)) if is_number else parse_note(note, naming=read)
    except NoteUnreadableError as error:
        raise _unreadable(word, read) from error
    return f"{found['begun']}{spelling.named(write)}{word[found.end('note') :]}"


def line_text(steps: Sequence[Step]) -> str:
    """A line of notes, rests and breaths as text."""
    words: list[str] = []
    dynamic = Dynamic.MF
    begun = {articulation: mark for mark, articulation in _BEGUN.items()}
    for step in steps:
        if isinstance(step, Breath):
            words.append(_BREATH)
        elif isinstance(step, Rest):
            words.append(f"-:{step.beats}")
        elif isinstance(step, Play):
            if step.dynamic is not dynamic:
                dynamic = step.dynamic
                words.append(dynamic.value)
            slot = "" if step.length_name is None else f"@{step.length_name}.{step.partial}"
            note = _plain(note_name(step.midi))
            words.append(f"{begun[step.articulation]}{note}{slot}:{step.beats}")
    return " ".join(words)


def _parameters(writer: Writer) -> tuple[Parameter, ...]:
    easy = writer.play(writer.reach.easy, 2)
    up = writer.slurred(writer.reach.easy + 2, 2)
    usual = line_text((easy, up, writer.slurred(writer.reach.easy, 4), Breath()))
    moved = Parameter("semitones", "moved by", "half steps", -36, 36, 1, above="up", below="down")
    return (
        Parameter("line", "notes", longest=LONGEST_LINE, usual=usual, is_line=True),
        replace(moved, usual=0.0),
        Parameter("tempo", "beats a minute, 0 is free", "", 0, FASTEST_BPM, 1, usual=0.0),
        Parameter("bar", "beats in a bar", "", 1, 12, 1, usual=4.0),
        writer.times(1),
        writer.tuned(),
    )


def _write(writer: Writer, given: ParameterValues) -> Score:
    moved, tempo = given.whole("semitones"), given.number("tempo")
    steps = tuple(
        _placed(writer, step, moved) if isinstance(step, Play) else step
        for step in _begun(read_line(given.word("line")))
    )
    if not any(isinstance(step, Play) for step in steps):
        raise ExerciseRefusedError("There is no note yet. Tap some, or write Bb3:2 or the like.")
    return Score(
        steps,
        beats_in_bar=given.whole("bar"),
        tempo_bpm=tempo or None,
        times=given.whole("times"),
    )


def _begun(steps: Sequence[Step]) -> list[Step]:
    """A slur goes on from a note: what comes first, or after a breath or a rest, is tongued."""
    found: list[Step] = []
    for step in steps:
        goes_on = bool(found) and isinstance(found[-1], Play)
        if isinstance(step, Play) and step.articulation is Articulation.SLURRED and not goes_on:
            step = replace(step, articulation=Articulation.TONGUED)
        found.append(step)
    return found


def _placed(writer: Writer, note: Play, moved: int) -> Play:
    """A note in the slot it names where the horn has that, else in its usual one."""
    midi = note.midi + moved
    named = writer.horn.slots.get(note.length_name or "", ())
    if not moved and note.partial is not None and 1 <= note.partial <= len(named):
        return note
    how = {"articulation": note.articulation, "dynamic": note.dynamic}
    return writer.play(midi, note.beats, **how)


FAMILIES = (
    Family(
        LINE,
        "Your own line",
        Group.MUSIC,
        _parameters,
        _write,
        (Aim.SPOKE, Aim.CENTRE, Aim.GAP, Aim.TOUCHED, Aim.FLIPPED, Aim.ONE_BREATH),
        FamilyWords(
            why="Write down what you need to practise next, or bring it in from a file.",
            listen="Listen for the one thing you wrote it for.",
            wrong="It is too long, or too fast too soon.",
            remedy="Take half of it, slower, until it is right three times.",
        ),
        falls_back_to=("melody",),
    ),
)
