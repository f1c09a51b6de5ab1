"""Melodies from elsewhere: MusicXML (plain or compressed) and MIDI, part by part, as steps.

One note sounds at a time: of a chord the highest is taken, of several voices in a bar the first.
Grace notes are left out. What is transposed in the file is read as it sounds.
"""

import io
from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from typing import Any
from xml.etree import ElementTree

import mido
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring, iterparse

from orexis.core.score.steps import Articulation, Breath, Play, Rest, Step
from orexis.formats.zips import ZipRefusedError, opened_zip, read_file

_NO_XML = (ElementTree.ParseError, DefusedXmlException, LookupError, ValueError)

LARGEST_BYTES = 2 << 20
_LARGEST_MIDI_BYTES = 256 << 10
_LARGEST_UNPACKED_BYTES = 8 << 20
_MOST_FILES, _LARGEST_LIST_BYTES = 100, 64 << 10
_MOST_ELEMENTS, _MOST_NOTES = 300_000, 5000
"""A part of a long piece has some hundred notes; its readers take a millisecond for each."""
_GRID = 12
"""Lengths are whole twelfths of a beat: sixteenths and triplets both are."""
_ROUGH_GRID = 4
_NO_BEATS = Fraction(0)


class MelodyUnreadableError(ValueError):
    """A file that no melody can be read from; the message says what to do."""


@dataclass(frozen=True, slots=True)
class MelodyPart:
    """One part: its name, what it plays (sounding), its tempo if the file says one, and the
    quarters in its bars."""

    name: str
    steps: tuple[Step, ...]
    tempo_bpm: float | None
    beats_in_bar: int

    @property
    def midis(self) -> list[int]:
        """Its notes (sounding), in order."""
        return [step.midi for step in self.steps if isinstance(step, Play)]


def melody_parts(content: bytes, name: str) -> list[MelodyPart]:
    """Every part of a file that has notes. Raises `MelodyUnreadableError`."""
    if len(content) > LARGEST_BYTES:
        raise MelodyUnreadableError(
            f"{name} is over {LARGEST_BYTES >> 20} MiB. Export the one part you want."
        )
    if content[:4] == b"MThd":
        if len(content) > _LARGEST_MIDI_BYTES:
            raise _too_much(name)
        parts = _midi_parts(content, name)
    elif content[:2] == b"PK":
        parts = _musicxml_parts(_unpacked(content, name), name)
    else:
        parts = _musicxml_parts(content, name)
    found = [part for part in parts if part.midis]
    if sum(len(part.steps) for part in found) > 2 * _MOST_NOTES:
        raise _too_much(name)
    if not found:
        raise MelodyUnreadableError(f"{name} has no notes in it. Choose another file.")
    return found


def _unreadable(name: str) -> MelodyUnreadableError:
    return MelodyUnreadableError(
        f"{name} is no MusicXML or MIDI that can be read. Export it again as one of these."
    )


def _too_much(name: str) -> MelodyUnreadableError:
    return MelodyUnreadableError(
        f"{name} holds more than {_MOST_NOTES} notes. Export the one part you want."
    )


def _unpacked(content: bytes, name: str) -> bytes:
    """The score in a compressed MusicXML file."""
    try:
        with opened_zip(content, _MOST_FILES, _LARGEST_LIST_BYTES) as archive:
            container = fromstring(read_file(archive, "META-INF/container.xml", 64 << 10))
            root = next(one for one in container.iter() if one.tag.endswith("rootfile"))
            return read_file(archive, root.attrib["full-path"], _LARGEST_UNPACKED_BYTES)
    except ZipRefusedError as error:
        raise MelodyUnreadableError(
            f"{name} is no MusicXML or MIDI that can be read: {error} Export it again."
        ) from error
    except (*_NO_XML, StopIteration) as error:
        raise _unreadable(name) from error


def _counted(content: bytes, name: str) -> str:
    """A MusicXML text as it was understood, once its notes have been counted."""
    elements = notes = 0
    try:
        parsing = iterparse(io.BytesIO(content), events=("start",))
        for _, element in parsing:
            elements += 1
            notes += element.tag == "note"
            if elements > _MOST_ELEMENTS or notes > _MOST_NOTES:
                break
    except _NO_XML as error:
        raise _unreadable(name) from error
    if elements > _MOST_ELEMENTS or notes > _MOST_NOTES:
        raise _too_much(name)
    return ElementTree.tostring(parsing.root, encoding="unicode")


def musicxml_text(content: bytes, name: str) -> str:
    """A MusicXML file, plain or compressed, as it was understood, once its notes have been counted.
    Raises `MelodyUnreadableError`."""
    if len(content) > LARGEST_BYTES:
        raise MelodyUnreadableError(
            f"{name} is over {LARGEST_BYTES >> 20} MiB. Export the one part you want."
        )
    return _counted(_unpacked(content, name) if content[:2] == b"PK" else content, name)


def _musicxml_parts(content: bytes, name: str) -> list[MelodyPart]:
    text = _counted(content, name)
    # Loaded when it is first wanted: it takes a second.
    from music21 import converter, stream

    try:
        read = converter.parseData(text, format="musicxml")
        if not isinstance(read, stream.Score):
            raise _unreadable(name)
        tempo = _tempo_of(read)
        return [_musicxml_part(part, tempo, place) for place, part in enumerate(read.parts, 1)]
    except MelodyUnreadableError:
        raise
    except Exception as error:
        # The reader fails in many ways on what is not music.
        raise _unreadable(name) from error


def _tempo_of(score: Any) -> float | None:
    for mark in score.recurse().getElementsByClass("MetronomeMark"):
        bpm = mark.getQuarterBPM()
        if bpm:
            return float(bpm)
    return None


def _musicxml_part(part: Any, tempo: float | None, place: int) -> MelodyPart:
    sounding = part.toSoundingPitch().stripTies()
    metre = next(iter(sounding.recurse().getElementsByClass("TimeSignature")), None)
    beats = 4 if metre is None else max(1, min(12, round(metre.barDuration.quarterLength)))
    slurs = _slurs(sounding)
    steps: list[Step] = []
    for one, length in _in_turn(sounding):
        if one.isRest:
            steps.append(Rest(length))
            continue
        pitch = max(one.pitches)
        slurred = any(first < one.offset <= last for first, last in slurs)
        begun = Articulation.SLURRED if slurred else Articulation.TONGUED
        if any("Tenuto" in mark.classes for mark in one.articulations):
            begun = Articulation.TENUTO
        steps.append(Play(int(pitch.midi), length, begun))
        if any("BreathMark" in mark.classes for mark in one.articulations):
            steps.append(Breath())
    name = (part.partName or f"Part {place}").strip()
    return MelodyPart(name, tuple(_joined(steps)), tempo, beats)


def _slurs(part: Any) -> list[tuple[float, float]]:
    """Where each slur begins and where its last note does, in beats."""
    return [
        (
            float(slur.getFirst().getOffsetInHierarchy(part)),
            float(slur.getLast().getOffsetInHierarchy(part)),
        )
        for slur in part.recurse().getElementsByClass("Slur")
    ]


def _in_turn(part: Any) -> Iterator[tuple[Any, Fraction]]:
    """Notes and rests one after the other; what another one still sounds over is left out."""
    now = _NO_BEATS
    for notesandrest in part.flatten().notesAndRests:
        length = _on_grid(Fraction(notesandrest.quarterLength), _GRID)
        if _on_grid(Fraction(notesandrest.offset), _GRID) < now or length <= 0:
            continue
        yield notesandrest, length
        now += length


def _midi_parts(content: bytes, name: str) -> list[MelodyPart]:
    try:
        file = mido.MidiFile(file=io.BytesIO(content))
        tempo = beats = None
        for message in mido.merge_tracks(file.tracks):
            if message.type == "set_tempo" and tempo is None:
                tempo = round(float(mido.tempo2bpm(message.tempo)), 1)
            elif message.type == "time_signature" and beats is None:
                beats = round(4 * message.numerator / message.denominator)
        ticks = file.ticks_per_beat
        return [
            MelodyPart(
                title or f"Track {place}",
                tuple(_line(notes, ticks)),
                tempo,
                max(1, min(12, beats or 4)),
            )
            for place, track in enumerate(file.tracks, 1)
            for title, notes in _voices(track)
        ]
    except Exception as error:
        # The reader fails in many ways on what is not music.
        raise _unreadable(name) from error


_Sounding = tuple[int, int, int]
"""A note: its first tick, its last, and its pitch."""


def _voices(track: mido.MidiTrack) -> list[tuple[str, list[_Sounding]]]:
    """The notes of a track, a voice a channel, each with the track's name."""
    found: dict[int, list[_Sounding]] = {}
    begun: dict[tuple[int, int], int] = {}
    now = 0
    for message in track:
        now += message.time
        if message.type not in ("note_on", "note_off"):
            continue
        key = message.channel, message.note
        if key in begun:
            found.setdefault(message.channel, []).append((begun.pop(key), now, message.note))
        if message.type == "note_on" and message.velocity:
            begun[key] = now
    many = len(found) > 1
    name = track.name.strip()
    return [
        (f"{name} {channel + 1}".strip() if many else name, sorted(notes))
        for channel, notes in sorted(found.items())
    ]


def _line(notes: list[_Sounding], ticks: int) -> list[Step]:
    """Notes one at a time, on a grid: a chord's highest, each until the next begins or it ends."""
    highest: dict[Fraction, _Sounding] = {}
    for note in notes:
        at = _on_grid(Fraction(note[0], ticks), _GRID)
        if at not in highest or note[2] > highest[at][2]:
            highest[at] = note
    starts = sorted(highest)
    steps: list[Step] = []
    for place, at in enumerate(starts):
        _, last, midi = highest[at]
        end = _on_grid(Fraction(last, ticks), _ROUGH_GRID)
        following = starts[place + 1] if place + 1 < len(starts) else None
        if end <= at:
            end = at + Fraction(1, _GRID)
        # What is played short is written until the next; a real rest is one.
        if following is not None and (
            following < end or following - end < Fraction(1, _ROUGH_GRID)
        ):
            end = following
        steps.append(Play(midi, end - at))
        if following is not None and following > end:
            steps.append(Rest(following - end))
    return _joined(steps)


def _on_grid(beats: Fraction, parts: int) -> Fraction:
    return Fraction(round(beats * parts), parts)


def _joined(steps: list[Step]) -> list[Step]:
    """Rests at the ends left out, and those in a row made one."""
    found: list[Step] = []
    for step in steps:
        last = found[-1] if found else None
        if isinstance(step, Rest) and isinstance(last, Rest):
            found[-1] = Rest(last.beats + step.beats)
        elif not (isinstance(step, Rest) and last is None):
            found.append(step)
    while found and isinstance(found[-1], Rest):
        found.pop()
    return found
