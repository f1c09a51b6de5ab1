"""`orexis horn`: what an instrument does, asked from a terminal."""

import json
from collections.abc import Callable, Sequence
from typing import Annotated, Any

import typer
from pydantic import BaseModel

from orexis.core.horn.glides import plan_glides
from orexis.core.horn.instruments import INSTRUMENTS, Instrument, find_instrument
from orexis.core.horn.notation import Clef, Notation, NoteView, note_name
from orexis.core.horn.pitch import A4_HIGHEST_HZ, A4_HZ, A4_LOWEST_HZ
from orexis.core.horn.setup import Horn, Setup
from orexis.core.horn.slurs import slur
from orexis.core.horn.tube import COLDEST_C, TEMPERATURE_C, WARMEST_C
from orexis.core.horn.ways import chart, ways
from orexis.server.schemas.horn import NoteWays, SlotOut, WayOut
from orexis.server.schemas.slurs import GlidePlanOut, SlurOut

HELP = """Tells what an instrument does.

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
    """Tells what an instrument does."""
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


_Told = tuple[Any, list[str]]
"""What is printed as JSON, and the lines that are printed without."""


def _list(extra: str) -> _Told:
    if extra:
        raise ValueError("`orexis horn list` takes nothing more.")
    rows = [{"key": key, "name": one.name} for key, one in INSTRUMENTS.items()]
    return rows, [f"{row['key']:<22} {row['name']}" for row in rows]


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
    told = NoteWays.of(asked.horn, asked.written, midi, ways(asked.horn, midi))
    lines = [f"{asked.horn.instrument.name}: {asked.both_names(midi)}"]
    if not told.ways:
        lines.append("No slot gives it.")
    return _plain(told), lines + [_way_line(way) for way in told.ways]


def _chart(asked: _Asked) -> _Told:
    instrument: Instrument = asked.horn.instrument
    notes = []
    lines = [f"{instrument.name}, lowest note first"]
    for line in chart(asked.horn):
        told = NoteWays.of(asked.horn, asked.written, line.midi, line.ways)
        pedal = line.pedal
        notes.append({**_plain(told, "instrument"), "pedal": pedal, "standard": line.standard})
        first = _way_line(told.ways[0]).strip() if line.standard else "no slot: the lips alone"
        mark = f"  {pedal} pedal" if pedal else ""
        lines.append(f"{asked.both_names(line.midi):<22} {first}{mark}")
    return {"instrument": instrument.key, "notes": notes}, lines


def _slots(asked: _Asked) -> _Told:
    length = asked.horn.length(asked.words[0])
    a4_hz = asked.horn.setup.a4_hz
    found = []
    lines = [f"{asked.horn.instrument.name}: {length.hand}"]
    if not length.reaches:
        lines[0] += " (beyond the slide)"
    for slot in asked.horn.slots[length.name]:
        sounding = SlotOut.of(slot, Notation(asked.written.reading, NoteView.SOUNDING), a4_hz)
        found.append(
            {
                **{"partial": slot.partial, "sounding": sounding.name},
                **{"written": asked.written.name(slot.midi), "cents": sounding.cents},
                "hz": sounding.hz,
            }
        )
        lines.append(
            f"{slot.partial:>3}  {asked.both_names(slot.midi):<22} {sounding.cents:+6.1f} cents"
            f"  {sounding.hz:8.2f} Hz"
        )
    head = {"instrument": asked.horn.instrument.key, "length": length.name}
    return {**head, "reaches": length.reaches, "slots": found}, lines


def _glide(asked: _Asked) -> _Told:
    try:
        distances = [int(word) for word in asked.words[1:]]
    except ValueError:
        raise ValueError("Give the distance in whole half steps: 3, or 1 1 2, or -2.") from None
    plan = plan_glides(asked.horn, asked.note(0), distances)
    told = GlidePlanOut.of(asked.horn, plan, asked.typed)
    return _plain(told), [told.words]


def _slur(asked: _Asked) -> _Told:
    start, end = asked.note(0), asked.note(1)
    told = SlurOut.of(asked.horn, slur(asked.horn, start, end), asked.typed)
    names = {"from": asked.typed.name(start), "to": asked.typed.name(end)}
    lines = [told.words]
    for one in told.same_length[1:]:
        between = ", ".join(slot.name for slot in one.between) or "nothing"
        lines.append(f"Also on {one.length}, slots {one.partials}: {between} between.")
    return {"instrument": asked.horn.instrument.key, **names, **_plain(told)}, lines


def _way_line(way: WayOut) -> str:
    more = way.reason if not way.usable else way.correction
    return f"  {way.length:<8} slot {way.partial:<3} {way.cents:+6.1f} cents  {more}".rstrip()


def _plain(told: BaseModel, *without: str) -> dict[str, Any]:
    """A model for JSON, without what does not apply."""
    return told.model_dump(mode="json", by_alias=True, exclude_none=True, exclude=set(without))


def _say(as_json: bool, told: Any, lines: Sequence[str]) -> None:
    typer.echo(json.dumps(told, ensure_ascii=False) if as_json else "\n".join(lines))
