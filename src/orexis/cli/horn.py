"""`orexis horn`: what an instrument does, asked from a terminal."""

import json
from collections.abc import Callable, Sequence
from typing import Annotated, Any

import typer
from pydantic import BaseModel

from orexis.core.horn.glides import plan_glides
from orexis.core.horn.instruments import INSTRUMENTS, Instrument, find_instrument
from orexis.core.horn.notation import Clef, Notation, NoteView, note_name
from orexis.core.horn.pitch import A4_HIGHEST_HZ, A4_HZ, A4_LOWEST_HZ, hz_from_midi
from orexis.core.horn.setup import Horn, Setup
from orexis.core.horn.slurs import slur
from orexis.core.horn.tube import COLDEST_C, TEMPERATURE_C, WARMEST_C
from orexis.core.horn.ways import Way, chart, ways
from orexis.core.horn.words import correction_words, glide_words, slur_words
from orexis.server.schemas.horn import NoteWays, SlotOut
from orexis.server.schemas.slurs import GlidePlanOut, SlurOut

HELP = """Shows what an instrument can do.

\b
    orexis horn list
    orexis horn KEY note NOTE               every way to play it
    orexis horn KEY chart                   the fingering chart
    orexis horn KEY slots LENGTH            the slots of 0, 13, T12, 5, F+3 …
    orexis horn KEY glide NOTE SEMITONES…   one glide, or several in turn
    orexis horn KEY slur NOTE NOTE          how two notes go together

Notes are sounding (Bb3, C#4) unless --written is given."""
SETTINGS = {"help": HELP, "context_settings": {"ignore_unknown_options": True}}


class _Asked:
    """One question to one horn: the horn, how notes are named and read, and the words after."""

    def __init__(self, horn: Horn, written: Notation, typed: Notation, words: Sequence[str]):
        self.horn = horn
        self.written = written
        self.typed = typed
        self.words = words

    def note(self, place: int) -> int:
        """The sounding note typed at a place. Raises `NoteUnreadableError`."""
        return self.typed.parse(self.words[place], self.horn.instrument.start_midi)

    def both_names(self, midi: int) -> str:
        """The sounding name, and the written one where it is another."""
        sounding, written = note_name(midi), self.written.name(midi)
        return sounding if sounding == written else f"{sounding} (written {written})"


def horn(
    key: Annotated[str, typer.Argument(help="An instrument's key, or list.")],
    question: Annotated[str, typer.Argument(help="note, chart, slots, glide or slur.")] = "",
    words: Annotated[list[str] | None, typer.Argument(help="Notes, a length, half steps.")] = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print it as JSON.")] = False,
    written: Annotated[
        bool, typer.Option("--written", help="Notes are as the player reads them.")
    ] = False,
    clef: Annotated[
        Clef | None, typer.Option(help="The clef they are read in (treble where there is one).")
    ] = None,
    a4: Annotated[
        float, typer.Option(min=A4_LOWEST_HZ, max=A4_HIGHEST_HZ, help="A4 in Hz.")
    ] = A4_HZ,
    temperature: Annotated[
        float, typer.Option(min=COLDEST_C, max=WARMEST_C, help="Air in °C.")
    ] = TEMPERATURE_C,
) -> None:
    """Shows what an instrument can do."""
    try:
        if key == "list":
            _say(as_json, *_list(question))
            return
        instrument = find_instrument(key)
        reading = instrument.transposed_reading if clef is None else instrument.reading(clef)
        asked = _Asked(
            Horn(instrument, Setup(a4_hz=a4, temperature_c=temperature)),
            Notation(reading, NoteView.WRITTEN),
            Notation(reading, NoteView.WRITTEN if written else NoteView.SOUNDING),
            words or (),
        )
        _say(as_json, *_answer(asked, question))
    except ValueError as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(2) from error


_Told = tuple[Callable[[], Any], list[str]]
"""What makes the JSON, called where it is wanted, and the lines that are printed without."""


def _list(extra: str) -> _Told:
    if extra:
        raise ValueError("`orexis horn list` takes nothing more.")
    rows = [{"key": key, "name": instrument.name} for key, instrument in INSTRUMENTS.items()]
    return lambda: rows, [f"{row['key']:<22} {row['name']}" for row in rows]


def _answer(asked: _Asked, question: str) -> _Told:
    questions: dict[str, tuple[int, int, str, Callable[[_Asked], _Told]]] = {
        "note": (1, 1, "one note", _note),
        "chart": (0, 0, "nothing more", _chart),
        "slots": (1, 1, "one length", _slots),
        "glide": (2, 25, "a note and half steps", _glide),
        "slur": (2, 2, "two notes", _slur),
    }
    if question not in questions:
        raise ValueError(f"Ask for {', '.join(questions)}, not “{question}”.")
    least, most, wanted, answer = questions[question]
    if not least <= len(asked.words) <= most:
        raise ValueError(f"`{question}` takes {wanted}: orexis horn KEY {question} …")
    return answer(asked)


def _note(asked: _Asked) -> _Told:
    midi = asked.note(0)
    found = ways(asked.horn, midi)
    lines = [f"{asked.horn.instrument.name}: {asked.both_names(midi)}"]
    if not found:
        lines.append("No fingering or position gives this note.")
    lines += [_way_line(way) for way in found]
    return lambda: _plain(NoteWays.of(asked.horn, asked.written, midi, found)), lines


def _chart(asked: _Asked) -> _Told:
    instrument: Instrument = asked.horn.instrument
    found = chart(asked.horn)
    lines = [f"{instrument.name}, lowest note first"]
    for line in found:
        first = _way_line(line.ways[0]).strip() if line.standard else "no slot: the lips alone"
        mark = f"  {line.pedal} pedal" if line.pedal else ""
        lines.append(f"{asked.both_names(line.midi):<22} {first}{mark}")

    def document() -> Any:
        notes = []
        for line in found:
            told = NoteWays.of(asked.horn, asked.written, line.midi, line.ways)
            more = {"pedal": line.pedal, "standard": line.standard}
            notes.append({**_plain(told, "instrument"), **more})
        return {"instrument": instrument.key, "notes": notes}

    return document, lines


def _slots(asked: _Asked) -> _Told:
    length = asked.horn.length(asked.words[0])
    a4_hz = asked.horn.setup.a4_hz
    found = asked.horn.slots[length.name]
    lines = [f"{asked.horn.instrument.name}: {length.hand}"]
    if not length.reaches:
        lines[0] += " (beyond the slide)"
    lines += [
        f"{slot.partial:>3}  {asked.both_names(slot.midi):<22} {slot.cents:+6.1f} cents"
        f"  {hz_from_midi(slot.pitch, a4_hz):8.2f} Hz"
        for slot in found
    ]

    def document() -> Any:
        rows = []
        for slot in found:
            told = SlotOut.of(slot, Notation(asked.written.reading, NoteView.SOUNDING), a4_hz)
            rows.append(
                {
                    **{"partial": slot.partial, "sounding": told.name},
                    **{"written": asked.written.name(slot.midi), "cents": told.cents},
                    "hz": told.hz,
                }
            )
        head = {"instrument": asked.horn.instrument.key, "length": length.name}
        return {**head, "reaches": length.reaches, "slots": rows}

    return document, lines


def _glide(asked: _Asked) -> _Told:
    try:
        distances = [int(word) for word in asked.words[1:]]
    except ValueError:
        raise ValueError("Give the distance in whole half steps: 3, or 1 1 2, or -2.") from None
    plan = plan_glides(asked.horn, asked.note(0), distances)
    lines = [glide_words(asked.horn, plan, asked.typed)]
    return lambda: _plain(GlidePlanOut.of(asked.horn, plan, asked.typed)), lines


def _slur(asked: _Asked) -> _Told:
    start, end = asked.note(0), asked.note(1)
    found = slur(asked.horn, start, end)
    lines = [slur_words(found, asked.typed)]
    for one in found.same_length[1:]:
        between = ", ".join(asked.typed.name(slot.midi) for slot in one.between) or "nothing"
        partials = [one.start.partial, one.end.partial]
        lines.append(f"Also on {one.length.name}, partials {partials}: {between} between.")

    def document() -> Any:
        names = {"from": asked.typed.name(start), "to": asked.typed.name(end)}
        told = SlurOut.of(asked.horn, found, asked.typed)
        return {"instrument": asked.horn.instrument.key, **names, **_plain(told)}

    return document, lines


def _way_line(way: Way) -> str:
    more = correction_words(way) if way.usable else way.reason
    return f"  {way.length.name:<8} slot {way.partial:<3} {way.cents:+6.1f} cents  {more}".rstrip()


def _plain(told: BaseModel, *without: str) -> dict[str, Any]:
    """A model for JSON, without what does not apply."""
    return told.model_dump(mode="json", by_alias=True, exclude_none=True, exclude=set(without))


def _say(as_json: bool, document: Callable[[], Any], lines: Sequence[str]) -> None:
    typer.echo(json.dumps(document(), ensure_ascii=False) if as_json else "\n".join(lines))
