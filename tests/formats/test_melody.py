"""Melodies coming in: MusicXML plain and compressed, MIDI, and what is no music."""

import io
import zipfile
from fractions import Fraction
from typing import Any

import mido
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from orexis.core.exercises.own import line_text
from orexis.core.score.steps import Play
from orexis.formats.melody import MelodyPart, MelodyUnreadableError, melody_parts

# A B♭ part in three: written G4 A4 slurred, a tied B4, a rest and a chord with D5 on top.
PART = """<?xml version="1.0"?>
<score-partwise version="4.0">
 <part-list><score-part id="P1"><part-name>Second voice</part-name></score-part></part-list>
 <part id="P1"><measure number="1">
  <attributes><divisions>2</divisions><time><beats>3</beats><beat-type>4</beat-type></time>
   <transpose><diatonic>-1</diatonic><chromatic>-2</chromatic></transpose></attributes>
  <direction><sound tempo="96"/><direction-type><metronome><beat-unit>quarter</beat-unit>
   <per-minute>96</per-minute></metronome></direction-type></direction>
  <note><pitch><step>G</step><octave>4</octave></pitch><duration>2</duration><type>quarter</type>
   <notations><slur type="start" number="1"/></notations></note>
  <note><pitch><step>A</step><octave>4</octave></pitch><duration>2</duration><type>quarter</type>
  </note>
  <note><pitch><step>B</step><octave>4</octave></pitch><duration>2</duration><type>quarter</type>
   <tie type="start"/><notations><slur type="stop" number="1"/><tied type="start"/></notations>
  </note></measure>
  <measure number="2">
  <note><pitch><step>B</step><octave>4</octave></pitch><duration>1</duration><type>eighth</type>
   <tie type="stop"/><notations><tied type="stop"/></notations></note>
  <note><rest/><duration>3</duration></note>
  <note><pitch><step>G</step><octave>4</octave></pitch><duration>2</duration><type>quarter</type>
   <notations><articulations><breath-mark/></articulations></notations></note>
  <note><chord/><pitch><step>D</step><octave>5</octave></pitch><duration>2</duration>
   <type>quarter</type></note>
  </measure></part>
</score-partwise>"""
# A tone lower: F4 G4 A4 (a beat and a half), a rest of a beat and a half, C5.
SOUNDING = "F4:1 ~G4:1 ~A4:3/2 -:3/2 C5:1"


def one(content: bytes | str, name: str = "a") -> MelodyPart:
    (part,) = melody_parts(content.encode() if isinstance(content, str) else content, name)
    return part


def packed(**files: str) -> bytes:
    kept = io.BytesIO()
    with zipfile.ZipFile(kept, "w") as archive:
        for path, text in files.items():
            archive.writestr(path.replace("__", "/").replace("_", "."), text)
    return kept.getvalue()


def test_a_part_is_read_as_it_sounds_one_note_at_a_time() -> None:
    part = one(PART)
    assert (part.name, part.tempo_bpm, part.beats_in_bar) == ("Second voice", 96, 3)
    assert line_text(part.steps).removesuffix(" '") == SOUNDING
    assert part.midis == [65, 67, 69, 72]


def test_compressed_musicxml_is_unpacked() -> None:
    container = '<container><rootfiles><rootfile full-path="song.xml"/></rootfiles></container>'
    kept = packed(**{"META-INF__container_xml": container, "song_xml": PART})
    assert line_text(one(kept).steps) == line_text(one(PART).steps)


def midi(*tracks: list[tuple[str, int, int, int]], ticks: int = 480) -> bytes:
    """A MIDI file: a track is (on or off, note, ticks to wait, channel)."""
    file = mido.MidiFile(type=1, ticks_per_beat=ticks)
    for place, messages in enumerate(tracks):
        track = file.add_track(f"voice {place + 1}")
        if not place:
            track.append(mido.MetaMessage("set_tempo", tempo=mido.bpm2tempo(120)))
            track.append(mido.MetaMessage("time_signature", numerator=6, denominator=8))
        for kind, note, wait, channel in messages:
            track.append(mido.Message(f"note_{kind}", note=note, time=wait, channel=channel))
    kept = io.BytesIO()
    file.save(file=kept)
    return kept.getvalue()


def row(*notes: tuple[int, int, int], channel: int = 0) -> list[Any]:
    """Notes one after the other: silence before, pitch, length, in ticks."""
    found: list[Any] = []
    for silence, note, length in notes:
        found += [("on", note, silence, channel), ("off", note, length, channel)]
    return found


def test_midi_played_by_hand_is_put_on_a_grid() -> None:
    # A quarter a little late and short, a triplet, a real rest of a beat, a half note.
    played = row((4, 60, 440), (40, 62, 155), (8, 64, 150), (7, 65, 160), (476, 67, 950))
    part = one(midi(played))
    assert (part.name, part.tempo_bpm, part.beats_in_bar) == ("voice 1", 120, 3)
    assert line_text(part.steps) == "C4:1 D4:1/3 E4:1/3 F4:1/3 -:1 G4:2"


def test_each_track_and_channel_is_a_part_and_a_chord_gives_its_highest() -> None:
    chord = [("on", 60, 0, 0), ("on", 67, 0, 0), ("off", 60, 480, 0), ("off", 67, 0, 0)]
    two = row((0, 48, 480), channel=1)
    parts = melody_parts(midi([*chord, *two], row((0, 36, 960))), "a.mid")
    assert [(part.name, line_text(part.steps)) for part in parts] == [
        ("voice 1 1", "G4:1"),
        ("voice 1 2", "C3:1"),
        ("voice 2", "C2:2"),
    ]


@pytest.mark.parametrize(
    "content",
    [
        b"",
        b"<html/>",
        b"not music",
        b"<score-partwise/>",
        b"\xff\xfe\x00",
        b"MThd and no more",
        b"PK\x03\x04 and no more",
        packed(nothing_txt="x"),
        b'<!DOCTYPE x [<!ENTITY a "aaaa">]><score-partwise>&a;</score-partwise>',
        midi([]),
    ],
)
def test_what_is_no_music_is_refused_in_words(content: bytes) -> None:
    with pytest.raises(MelodyUnreadableError, match=r"^tune\.xml (is no|has no)"):
        melody_parts(content, "tune.xml")


def test_what_is_too_large_is_refused_packed_or_not() -> None:
    with pytest.raises(MelodyUnreadableError, match="over 2 MiB"):
        melody_parts(bytes((2 << 20) + 1), "a")
    container = '<container><rootfiles><rootfile full-path="song.xml"/></rootfiles></container>'
    kept = io.BytesIO()
    with zipfile.ZipFile(kept, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("META-INF/container.xml", container)
        archive.writestr("song.xml", bytes(17 << 20))
    with pytest.raises(MelodyUnreadableError, match="too large to open"):
        melody_parts(kept.getvalue(), "a")


def test_lengths_are_whole_twelfths_of_a_beat() -> None:
    for step in one(PART).steps:
        if isinstance(step, Play):
            assert (step.beats * 12).denominator == 1
            assert step.beats >= Fraction(1, 12)


PLAYED = midi([("on", 58, 0, 0), ("off", 58, 480, 0), ("on", 60, 0, 0), ("off", 60, 240, 0)])


@settings(max_examples=60)
@given(
    st.sampled_from((PART.encode(), packed(song_xml=PART), PLAYED)),
    st.lists(st.tuples(st.integers(0, 4000), st.binary(max_size=3)), min_size=1, max_size=5),
)
def test_a_melody_that_was_damaged_on_the_way_is_read_or_refused(
    content: bytes, cuts: list[tuple[int, bytes]]
) -> None:
    for at, put in cuts:
        at %= len(content) + 1
        content = content[:at] + put + content[at + len(put) + 1 :]
    try:
        parts = melody_parts(content, "tune")
    except MelodyUnreadableError as error:
        assert str(error).startswith("tune ")  # noqa: PT017 - it may be read as well
    else:
        assert all(part.steps for part in parts)
