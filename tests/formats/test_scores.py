"""Exercises as MusicXML, MIDI and pictures, on every kind of horn."""

import re
from concurrent.futures import ThreadPoolExecutor
from fractions import Fraction
from pathlib import Path
from xml.etree import ElementTree

import music21
import pytest
import xmlschema

from orexis.core.exercises.book import FAMILIES, task_of
from orexis.core.exercises.family import ExerciseRefusedError
from orexis.core.exercises.task import Task
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import Notation, NoteView
from orexis.core.score.notated import notated
from orexis.core.score.steps import Play
from orexis.formats.engraving import engraved
from orexis.formats.melody import melody_parts
from orexis.formats.midi import midi_of
from orexis.formats.musicxml import musicxml_of
from tests.core.exercises.writing import task, writer

KINDS = ("cornet-bb", "horn-f", "trombone-bass", "tuba-eb")


def usual(family: str, instrument: str) -> Task | None:
    try:
        return task_of(FAMILIES[family], writer(instrument), {})
    except ExerciseRefusedError:
        return None


def xml(
    written: Task,
    instrument: str,
    view: NoteView = NoteView.WRITTEN,
    *,
    to_engrave: bool = False,
) -> str:
    kind = INSTRUMENTS[instrument]
    notation = Notation(kind.readings[0], view)
    horn = writer(instrument).horn
    return musicxml_of(written.score, horn, notation, written.title, to_engrave=to_engrave)


def pitches_of(text: str) -> list[tuple[int, float]]:
    """The notes (sounding) and beats of the one part of a MusicXML text."""
    (part,) = melody_parts(text.encode(), "a.musicxml")
    return [(step.midi, float(step.beats)) for step in part.steps if isinstance(step, Play)]


def notes_of(content: bytes) -> list[tuple[int, float]]:
    """Notes (MIDI) and beats of a MIDI file with one part, as they are in it."""
    import io

    import mido

    file = mido.MidiFile(file=io.BytesIO(content))
    found: list[tuple[int, float]] = []
    begun: dict[int, int] = {}
    now = 0
    for message in mido.merge_tracks(file.tracks):
        now += message.time
        if message.type == "note_on" and message.velocity:
            begun[message.note] = now
        elif message.type in ("note_off", "note_on") and message.note in begun:
            start = begun.pop(message.note)
            found.append((message.note, (now - start) / file.ticks_per_beat))
    return found


def sounding(written: Task) -> list[tuple[int, float]]:
    return [
        (note.midi, float(note.beats)) for note in notated(written.score) if note.midi is not None
    ]


@pytest.mark.one_in(5)
@pytest.mark.parametrize("instrument", KINDS)
@pytest.mark.parametrize("family", FAMILIES)
def test_what_goes_out_as_musicxml_comes_back(family: str, instrument: str) -> None:
    written = usual(family, instrument)
    if written is not None and written.score.pitches:
        back = pitches_of(xml(written, instrument))
        assert [midi for midi, _ in back] == [midi for midi, _ in sounding(written)]
        assert [beats for _, beats in back] == pytest.approx([b for _, b in sounding(written)])


@pytest.fixture(scope="module")
def schema() -> xmlschema.XMLSchema:
    """The schema of MusicXML, as music21 ships it, without its address on the web."""
    others = Path(xmlschema.__file__).parent / "schemas"
    return xmlschema.XMLSchema(
        str(Path(music21.__file__).parent / "musicxml" / "musicxml.xsd"),
        allow="local",
        locations={
            "http://www.w3.org/XML/1998/namespace": str(others / "XML" / "xml.xsd"),
            "http://www.w3.org/1999/xlink": str(others / "XLINK" / "xlink.xsd"),
        },
    )


_LATER = re.compile(r' id="step-\d+"| measure="yes"')
"""What MusicXML has had since 3.0 and 3.1; the schema is that of 2.0."""


@pytest.mark.one_in(4)
@pytest.mark.parametrize("family", FAMILIES)
def test_what_goes_out_is_as_the_schema_of_musicxml_wants_it(
    family: str, schema: xmlschema.XMLSchema
) -> None:
    for instrument in ("trombone-bass", "cornet-bb"):
        written = usual(family, instrument)
        if written is not None:
            text = _LATER.sub("", xml(written, instrument))
            assert [error.reason for error in schema.iter_errors(text)] == []


@pytest.mark.one_in(4)
@pytest.mark.parametrize("instrument", INSTRUMENTS)
def test_every_horn_reads_the_same_pyramid_at_its_own_pitch(instrument: str) -> None:
    written = task("pyramid", instrument)
    for view in NoteView:
        back = pitches_of(xml(written, instrument, view))
        assert [midi for midi, _ in back] == list(written.score.pitches)


@pytest.mark.parametrize("family", FAMILIES)
def test_bars_add_up(family: str) -> None:
    written = task(family, "trombone-bass")
    part = ElementTree.fromstring(xml(written, "trombone-bass")).find("part")
    assert part is not None
    now = 0.0
    for bar in part.findall("measure"):
        divisions = bar.findtext("attributes/divisions")
        now = float(divisions) if divisions else now
        beats = bar.findtext("attributes/time/beats")
        kind = bar.findtext("attributes/time/beat-type")
        if beats and kind:
            length = 4 * int(beats) / int(kind)
        filled = (
            sum(float(element.findtext("duration") or 0) for element in bar.findall("note")) / now
        )
        assert filled == pytest.approx(length, abs=1e-3)


def test_a_part_is_written_for_its_reader() -> None:
    text = xml(task("long-tone", "cornet-bb", from_midi="Bb3"), "cornet-bb")
    pitch = ElementTree.fromstring(text).find(".//pitch")
    # B♭3 is read as C4 on a cornet, in treble clef, and sounds a whole step lower.
    assert pitch is not None
    assert [pitch.findtext("step"), pitch.findtext("octave")] == ["C", "4"]
    assert "<chromatic>-2</chromatic>" in text
    assert "<sign>G</sign>" in text
    tuba = xml(task("long-tone", "tuba-f"), "tuba-f")
    assert "<sign>F</sign>" in tuba
    assert "<transpose>" not in tuba


def test_fingers_stand_under_a_note_where_they_change() -> None:
    pattern = task("partial-pattern", "cornet-bb", length="13", pattern="3 4 3")
    drawn = xml(pattern, "cornet-bb", to_engrave=True)
    assert re.findall(r"<text>(.*?)</text>", drawn) == ["1", "3"]
    pedals = task("pedal-sets", "trombone-bass", pedal_midi="F1")
    slide = xml(pedals, "trombone-bass", to_engrave=True)
    assert re.findall(r"<text>(.*?)</text>", slide) == ["1", "F"]
    # Other programs read them as what they are.
    assert re.findall(r"<fingering[^>]*>(.*?)</fingering>", xml(pattern, "cornet-bb")) == ["13"]
    assert re.findall(r"<fingering[^>]*>(.*?)</fingering>", xml(pedals, "trombone-bass")) == ["1"]
    assert re.findall(r"<text>(.*?)</text>", xml(pedals, "trombone-bass")) == ["F"]


@pytest.mark.parametrize(
    "written",
    [
        *(usual(key, "trombone-bass") for key in FAMILIES if key != "breath"),
        # Its last note is tied into a bar of its own.
        task("scales-and-arpeggios", "trombone-bass", rows=1),
    ],
    ids=lambda written: written.family_key,
)
def test_every_bar_adds_up(written: Task) -> None:
    beats, divisions = Fraction(0), 0
    for part in re.findall(r"<measure [^>]*>(.*?)</measure>", xml(written, "trombone-bass"), re.S):
        time = re.search(r"<beats>(\d+)</beats>\s*<beat-type>(\d+)</beat-type>", part)
        if time:
            beats = Fraction(4 * int(time[1]), int(time[2]))
        parted = re.search(r"<divisions>(\d+)</divisions>", part)
        divisions = int(parted[1]) if parted else divisions
        lasts = sum(int(length) for length in re.findall(r"<duration>(\d+)</duration>", part))
        assert lasts == beats * divisions, part


def test_what_is_buzzed_in_the_leadpipe_says_so_once() -> None:
    assert (
        xml(task("siren", "trombone-bass", on="leadpipe"), "trombone-bass").count("leadpipe") == 1
    )
    assert "leadpipe" not in xml(task("siren", "trombone-bass"), "trombone-bass")


def test_a_title_stands_once() -> None:
    assert xml(task("lip-slur", "cornet-bb"), "cornet-bb").count("title>") == 2


def test_what_is_on_the_page_is_told_in_musicxml() -> None:
    siren = xml(task("siren", "cornet-bb"), "cornet-bb")
    assert siren.count("<notehead") == 3
    assert "<glissando" in siren
    assert "<breath-mark" in siren
    pedals = xml(task("pedal-sets", "trombone-bass"), "trombone-bass")
    assert "air attack" in pedals
    assert "<fermata" in pedals
    slur = xml(task("lip-slur", "cornet-bb"), "cornet-bb")
    assert slur.count("<slur ") == 2
    assert "repeat" in slur
    grown = xml(task("dynamics", "cornet-bb", shape="crescendo"), "cornet-bb")
    assert "growing to ff" in grown
    assert "<pp />" in grown


def test_what_grows_step_by_step_has_a_hairpin_between_its_ends() -> None:
    triad = xml(task("rising-triads", "cornet-bb", rungs=1), "cornet-bb")
    assert re.findall(r'<wedge [^>]*type="(\w+)"', triad) == ["crescendo", "stop"]
    # From mp to f; the low note after it is mf, and nothing stands in between.
    assert re.findall(r"<(mp|mf|f) />", triad) == ["mp", "f", "mf"]
    slur = xml(task("shaped-slur", "trombone-tenor", slots=3), "trombone-tenor")
    kinds = re.findall(r'<wedge [^>]*type="(\w+)"', slur)
    assert kinds == ["diminuendo", "stop", "crescendo", "stop"]
    assert re.findall(r"<(pp?|m[pf]|ff?) />", slur) == ["f", "p", "f"]


def test_a_melody_has_its_key() -> None:
    # On sounding C a cornet reads D major: two sharps.
    text = xml(task("melody", "cornet-bb", from_midi="C4"), "cornet-bb")
    assert "<fifths>2</fifths>" in text


@pytest.mark.parametrize("family", FAMILIES)
def test_what_goes_out_as_midi_comes_back(family: str) -> None:
    written = usual(family, "trombone-bass")
    assert written is not None
    back = notes_of(midi_of(written.score, written.title))
    once = sounding(written)
    assert [midi for midi, _ in back] == [midi for midi, _ in once] * written.score.times
    # A tongued note is a little shorter than its beats, at most a twentieth of one.
    for (_, heard), (_, beats) in zip(back, once * written.score.times, strict=True):
        assert beats - 0.06 <= heard <= beats + 0.01


def test_midi_keeps_the_tempo_and_glides_by_bending() -> None:
    import io

    import mido

    ladder = task("glide-ladder", "trombone-tenor", rungs=1)
    file = mido.MidiFile(file=io.BytesIO(midi_of(ladder.score, "x")))
    bends = [track.pitch for track in mido.merge_tracks(file.tracks) if track.type == "pitchwheel"]
    # A half step of a range of two octaves, and back to none.
    assert max(bends) == round(8191 / 24)
    assert bends[-1] == 0
    melody = task("melody", "cornet-bb", tempo=100)
    file = mido.MidiFile(file=io.BytesIO(midi_of(melody.score, "x")))
    # The longest tune lasts as its beats say.
    assert file.length == pytest.approx(float(melody.score.beats) * 60 / 100, abs=0.1)


@pytest.mark.one_in(4)
@pytest.mark.parametrize("family", FAMILIES)
def test_a_picture_has_no_style_and_no_script_of_its_own(family: str) -> None:
    svg = engraved(xml(task(family, "trombone-bass"), "trombone-bass"))
    root = ElementTree.fromstring(svg)
    assert root.tag.endswith("svg")
    assert root.get("viewBox")
    assert not re.search(r"<style|<script|style=|href=\"http", svg)
    assert svg.count('class="note"') >= len(task(family, "trombone-bass").score.notes)


def test_pictures_are_the_same_whichever_thread_asks() -> None:
    text = xml(task("pyramid", "cornet-bb"), "cornet-bb")
    here = engraved(text)
    assert here.count('class="note"') == 21
    with ThreadPoolExecutor(4) as pool:
        there = list(pool.map(engraved, [text] * 8))
    assert [svg.count('class="note"') for svg in there] == [21] * 8


def test_notes_of_a_picture_say_which_step_they_are() -> None:
    svg = engraved(xml(task("couplets", "cornet-bb", widest=2), "cornet-bb"))
    assert re.findall(r'id="(step-\d+)"', svg) == ["step-0", "step-1", "step-3", "step-4"]
