"""MusicXML: a score as the player reads it, written with music21.

Notes are written for the player's clef and transposition, and the part says how far from that it
sounds. Fingerings or positions stand where they change; notes on the mouthpiece have crossed heads.
"""

import re
from dataclasses import replace
from fractions import Fraction
from functools import lru_cache
from itertools import pairwise

from music21 import (
    articulations,
    bar,
    clef,
    duration,
    dynamics,
    expressions,
    instrument,
    interval,
    key,
    metadata,
    meter,
    note,
    pitch,
    spanner,
    stream,
    tempo,
)
from music21.musicxml.m21ToXml import GeneralObjectExporter

from orexis.core.exercises.words import pace_words
from orexis.core.horn.notation import Clef, Notation, clef_for
from orexis.core.horn.setup import Horn
from orexis.core.horn.tube import Length
from orexis.core.score.notated import Notated, notated
from orexis.core.score.steps import Articulation, BreathKind, PlayedOn, Role, Score

_CLEFS = {
    Clef.TREBLE: clef.TrebleClef,
    Clef.ALTO: clef.AltoClef,
    Clef.TENOR: clef.TenorClef,
    Clef.BASS: clef.BassClef,
}
_BREATHS = {BreathKind.NOSE: "nose breath", BreathKind.TWO_STAGE: "in two stages"}

_SECOND_TITLE = re.compile(r"\s*<movement-title>[^<]*</movement-title>")


@lru_cache(maxsize=128)
def musicxml_of(
    score: Score, horn: Horn, notation: Notation, title: str, *, to_engrave: bool = False
) -> str:
    """A score as MusicXML text, for a horn and as the player reads it. Fingerings and positions
    stand in it as such, with triggers and thumb under the notes; `to_engrave` puts
    all of them there, a line each, as they are drawn here."""
    whole = stream.Score()
    whole.metadata = metadata.Metadata()
    whole.metadata.title = title
    whole.metadata.composer = "Orexis"
    whole.insert(0, _part(score, horn, notation, to_engrave))
    exporter = GeneralObjectExporter(whole)
    text: str = exporter.parse().decode("utf-8")
    # Other programs print both titles.
    text = _SECOND_TITLE.sub("", text)
    return text.replace("<part-name>", '<part-name print-object="no">')


def _part(score: Score, horn: Horn, notation: Notation, to_engrave: bool) -> stream.Part:
    part = stream.Part(id="P1")
    played_on = instrument.Instrument()
    played_on.partName = horn.instrument.name
    if notation.shift_semitones:
        played_on.transposition = interval.Interval(-notation.shift_semitones)
    part.insert(0, played_on)
    part.insert(0, _clef(score, notation))
    part.insert(0, key.KeySignature(_fifths(score, notation)))
    if score.tempo_bpm is not None:
        part.insert(0, meter.TimeSignature(f"{score.beats_in_bar}/4"))
    part.insert(0, _above(pace_words(score)))
    if score.tempo_bpm is not None:
        part.insert(0, tempo.MetronomeMark(number=score.tempo_bpm, numberImplicit=True))
    written = notated(score)
    if score.tempo_bpm is not None:
        written = _within_bars(written, score.beats_in_bar)
    made = [_made(note, horn, notation, score) for note in written]
    _mark_lengths(written, made, horn, to_engrave)
    _put(written, part, made)
    _join(written, part, made)
    bars = _breaths(written, part, made) if score.tempo_bpm is None else part.makeMeasures()
    bars.makeTies(inPlace=True)
    if score.tempo_bpm is not None:
        # What a note that is tied over leaves of the last bar is known only now.
        _fill(bars, score.beats_in_bar)
    if score.times > 1:
        last = bars.getElementsByClass(stream.Measure).last()
        last.rightBarline = bar.Repeat(direction="end", times=score.times)
    return bars


def _within_bars(written: list[Notated], beats_in_bar: int) -> list[Notated]:
    """The same, rests parted where a bar ends; notes are tied over it by themselves."""
    found: list[Notated] = []
    now = Fraction(0)
    for sign in written:
        left = sign.beats
        while sign.midi is None and left > beats_in_bar - now % beats_in_bar:
            part = beats_in_bar - now % beats_in_bar
            found.append(replace(sign, beats=part))
            left, now = left - part, now + part
        found.append(replace(sign, beats=left))
        now += left
    return found


def _clef(score: Score, notation: Notation) -> clef.Clef:
    if notation.shift_semitones or not score.pitches:
        return _CLEFS[notation.reading.clef]()
    if notation.reading.shift_semitones:
        # Seen as it sounds, a transposed part needs another clef than the one it is read in.
        middle = sorted(score.pitches)[len(score.pitches) // 2]
        return _CLEFS[clef_for(middle)]()
    return _CLEFS[notation.reading.clef]()


def _fifths(score: Score, notation: Notation) -> int:
    if score.tonic is None:
        return 0
    fifths = 7 * (score.tonic + notation.shift_semitones) % 12
    return fifths - 12 if fifths > 6 else fifths


def _made(one: Notated, horn: Horn, notation: Notation, score: Score) -> note.GeneralNote:
    if one.midi is None:
        return note.Rest(quarterLength=one.beats)
    in_key = replace(notation, key_fifths=_fifths(score, notation))
    spelled = (in_key if score.tonic is not None else notation).spelling(one.midi)
    height = pitch.Pitch(step=spelled.letter, octave=spelled.octave)
    if spelled.alter:
        height.accidental = pitch.Accidental(spelled.alter)
    made = note.Note(height, quarterLength=one.beats)
    if one.on is not PlayedOn.HORN:
        made.notehead = "x"
    if one.role is not Role.ASKED:
        made.noteheadParenthesis = True
    if one.articulation is Articulation.TENUTO:
        made.articulations.append(articulations.Tenuto())
    if one.as_long_as_good:
        made.expressions.append(expressions.Fermata())
    if one.breath_after is not None:
        made.articulations.append(articulations.BreathMark())
    made.id = f"step-{one.step}"
    return made


def _mark_lengths(
    written: list[Notated], made: list[note.GeneralNote], horn: Horn, to_engrave: bool
) -> None:
    """Fingerings or positions, where the hand does something else than before."""
    before = None
    for one, drawn in zip(written, made, strict=True):
        if one.length_name is None or not isinstance(drawn, note.Note):
            continue
        if one.length_name != before:
            lines = _hand(horn.length(one.length_name))
            if not to_engrave:
                # Other programs take only a number for a fingering.
                numbers = "".join(line for line in lines if line.isdigit())
                drawn.articulations.append(articulations.Fingering(numbers))
                lines = tuple(line for line in lines if not line.isdigit())
            for line in lines:
                drawn.addLyric(line)
        before = one.length_name


def _hand(length: Length) -> tuple[str, ...]:
    """A length as it stands under a note, one thing a line, so that the next note's is not run
    into: valves or position, and triggers or thumb below."""
    if length.position is not None:
        return (str(length.position), *length.triggers)
    valves = tuple(str(valve) for valve in length.valves) or ("0",)
    return (*valves, "T") if length.thumb else valves


def _put(written: list[Notated], part: stream.Part, made: list[note.GeneralNote]) -> None:
    """Puts the notes in the part, with words and with how loud they are where that changes."""
    now = None
    said: set[str] = set()
    pins = _hairpins(written)
    within = {place for start, end in pins for place in range(start + 1, end)}
    for place, (one, drawn) in enumerate(zip(written, made, strict=True)):
        at = part.highestTime
        words = list(one.words)
        if one.articulation is Articulation.BREATH:
            words.append("air attack")
        if one.midi is not None and one.on is PlayedOn.LEADPIPE:
            words.append("in the leadpipe")
        if one.midi is not None and one.dynamic is not now and place not in within:
            part.insert(at, dynamics.Dynamic(one.dynamic.value))
            now = one.dynamic
        if one.midi is not None and one.grows_to is not None:
            grows = one.grows_to.rank > one.dynamic.rank
            words.append(f"{'growing' if grows else 'fading'} to {one.grows_to.value}")
            now = one.grows_to
        if one.breath_after in _BREATHS:
            words.append(_BREATHS[one.breath_after])
        # Said once, since it holds from then on.
        fresh = [text for text in words if text not in said]
        said.update(fresh)
        if fresh:
            part.insert(at, _above(", ".join(fresh)))
        part.insert(at, drawn)
    for start, end in pins:
        grows = written[end].dynamic.rank > written[start].dynamic.rank
        wedge = dynamics.Crescendo if grows else dynamics.Diminuendo
        # To where the last one begins, which has its own mark.
        part.insert(0, wedge(made[start], made[end - 1]))


def _hairpins(written: list[Notated]) -> list[tuple[int, int]]:
    """Where, on one breath, notes grow or fade by more than one step: first and last of them."""
    found: list[tuple[int, int]] = []
    start, way = 0, 0
    for place in range(1, len(written) + 1):
        joined = place < len(written) and _goes_on(written[place - 1], written[place])
        step = _step(written[place - 1], written[place]) if joined else 0
        if joined and step * way >= 0:
            way = way or step
            continue
        found += _pin(written, start, place - 1)
        start, way = (place - 1, step) if joined else (place, 0)
    return found


def _goes_on(before: Notated, note: Notated) -> bool:
    return before.breath_after is None and before.midi is not None and note.midi is not None


def _step(before: Notated, note: Notated) -> int:
    """Which way loudness goes from one note to the next: 1, −1 or 0."""
    apart = note.dynamic.rank - before.dynamic.rank
    return (apart > 0) - (apart < 0)


def _pin(written: list[Notated], start: int, end: int) -> list[tuple[int, int]]:
    """A run up to where it has changed, where it changes more than once."""
    changes = [at for at in range(start, end) if _step(written[at], written[at + 1])]
    return [(start, changes[-1] + 1)] if len(changes) > 1 else []


def _above(words: str) -> expressions.TextExpression:
    said = expressions.TextExpression(words)
    said.placement = "above"
    return said


def _join(written: list[Notated], part: stream.Part, made: list[note.GeneralNote]) -> None:
    """Slurs over what is on one breath, and lines along glides."""
    group: list[note.GeneralNote] = []
    for one, drawn in zip(written, made, strict=True):
        if one.midi is not None and one.slurred and group:
            group.append(drawn)
            continue
        _slur(part, group)
        group = [drawn] if one.midi is not None else []
    _slur(part, group)
    for (one, drawn), (_, following) in pairwise(zip(written, made, strict=True)):
        if one.glides_on and isinstance(following, note.Note):
            part.insert(0, spanner.Glissando(drawn, following))


def _breaths(
    written: list[Notated], part: stream.Part, made: list[note.GeneralNote]
) -> stream.Part:
    """The part in bars of one breath each: what is free has no metre, and none is shown."""
    bars = stream.Part(id=part.id)
    for mark in part.getElementsByClass(spanner.Spanner):
        bars.insert(0, mark)
    now = stream.Measure(number=1)
    starts = {drawn: part.elementOffset(drawn) for drawn in made}
    begun = 0.0
    others = [one for one in part if one not in starts and not isinstance(one, spanner.Spanner)]
    for place, (one, drawn) in enumerate(zip(written, made, strict=True)):
        now.insert(starts[drawn] - begun, drawn)
        if one.breath_after is None and one.midi is not None and place < len(made) - 1:
            continue
        ended = starts[drawn] + drawn.quarterLength
        for mark in others:
            at = part.elementOffset(mark)
            if begun <= at < ended:
                now.insert(at - begun, mark)
        now.insert(0, _unseen_metre(Fraction(ended - begun).limit_denominator(16)))
        bars.append(now)
        now, begun = stream.Measure(number=now.number + 1), ended
    return bars


def _unseen_metre(beats: Fraction) -> meter.TimeSignature:
    """A metre of so many beats that is not shown, its notes beamed by the beat."""
    metre = meter.TimeSignature(f"{beats.numerator}/{4 * beats.denominator}")
    groups = ["1/4"] * int(beats)
    if beats % 1:
        groups.append(f"{(beats % 1).numerator}/{4 * (beats % 1).denominator}")
    metre.beamSequence.load("+".join(groups))
    metre.style.hideObjectOnPrint = True
    return metre


def _slur(part: stream.Part, group: list[note.GeneralNote]) -> None:
    if len(group) > 1:
        part.insert(0, spanner.Slur(group[0], group[-1]))


def _fill(bars: stream.Part, beats_in_bar: int) -> None:
    """Fills the last bar with rests, so that all bars add up."""
    last = bars.getElementsByClass(stream.Measure).last()
    missing = beats_in_bar - last.highestTime
    if missing > 0:
        last.append(note.Rest(duration=duration.Duration(missing)))
