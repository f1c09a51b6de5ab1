"""Buzzing on the mouthpiece: first thing, about five minutes, and the quiet-hours practice."""

from collections.abc import Iterator
from fractions import Fraction

from orexis.core.exercises.family import (
    Aim,
    ExerciseRefusedError,
    Family,
    FamilyWords,
    Group,
    ParameterValues,
)
from orexis.core.exercises.practised import Buzzes, PracticeRules, Values
from orexis.core.exercises.writer import Writer
from orexis.core.parameter import Choice, Parameter
from orexis.core.score.steps import Breath, Play, PlayedOn, Rest, Role, Score, Step

_LOW_BUZZ, _HIGH_BUZZ = -9, 19
"""From the easy note: how far down and up the mouthpiece is asked to go."""

_STEPS = (
    Choice("1", "four counts, four rest"),
    Choice("2", "without the rests"),
    Choice("3", "two counts each"),
)


_IN_THE_LEADPIPE: Values = {"on": PlayedOn.LEADPIPE.value}
"""The last step of a path; it is left out where the horn has no leadpipe to play in."""


def _span(writer: Writer) -> tuple[int, int]:
    easy = writer.reach.easy
    return easy + _LOW_BUZZ, easy + _HIGH_BUZZ


def _two_notes(
    writer: Writer, low: int, high: int, names: tuple[str, str]
) -> tuple[Parameter, ...]:
    lowest, highest = _span(writer)
    return (
        writer.note("low_midi", names[0], writer.reach.easy + low, lowest, highest - 1),
        writer.note("high_midi", names[1], writer.reach.easy + high, lowest + 1, highest),
    )


def _ordered(given: ParameterValues) -> tuple[int, int]:
    low, high = given.whole("low_midi"), given.whole("high_midi")
    if high <= low:
        raise ExerciseRefusedError("The high note must lie above the low one; move one of them.")
    return low, high


def _first_buzz(writer: Writer, given: ParameterValues) -> Score:
    low, high = _ordered(given)
    counts = Fraction(2 if given.word("step") == "3" else 4)
    rest: tuple[Step, ...] = (Rest(Fraction(4)),) if given.word("step") == "1" else ()
    steps: tuple[Step, ...] = (
        writer.buzz(high, counts),
        *rest,
        writer.buzz(low, counts),
        *rest,
    )
    return Score(steps, tempo_bpm=given.number("tempo"), times=given.whole("times"))


def _siren(writer: Writer, given: ParameterValues) -> Score:
    low, high = _ordered(given)
    beats = given.beats("beats")
    start, turn = (low, high) if given.word("way") == "up-down" else (high, low)
    on = given.played_on
    steps = (
        writer.buzz(start, 1, on),
        writer.glide(turn, beats, on),
        writer.glide(start, beats, on),
        Breath(),
    )
    return Score(steps, times=given.whole("times"))


def _sustained(writer: Writer, given: ParameterValues) -> Score:
    midi, beats = given.whole("note_midi"), given.beats("beats")
    note = writer.buzz(midi, beats, given.played_on, as_long_as_good=True)
    return Score((note, Breath()), times=given.whole("times"))


def _interval(writer: Writer, given: ParameterValues) -> Score:
    low, high = _ordered(given)
    beats, on = given.beats("beats"), given.played_on
    heard = [Play(midi, beats, on=on, role=Role.REFERENCE) for midi in (low, high)]
    steps: tuple[Step, ...] = (
        *heard,
        Rest(beats),
        writer.buzz(low, beats, on),
        writer.buzz(high, beats, on),
        Rest(beats),
    )
    return Score(steps, tempo_bpm=given.number("tempo"), times=given.whole("times"))


def _slur_shape(writer: Writer, given: ParameterValues) -> Score:
    low, high = _ordered(given)
    beats, on = given.beats("beats"), given.played_on
    steps = (
        writer.buzz(low, beats, on),
        writer.glide(high, beats, on),
        writer.buzz(high, beats, on),
        writer.glide(low, beats, on),
        writer.buzz(low, beats, on),
        Breath(),
    )
    return Score(steps, times=given.whole("times"))


def _two_octaves(writer: Writer, given: ParameterValues) -> Score:
    low = given.whole("low_midi")
    beats = given.beats("beats")
    on = given.played_on
    start = writer.play(low, 1) if on is PlayedOn.HORN else writer.buzz(low, 1, on)
    steps = (start, writer.glide(low + 24, beats, on), writer.glide(low, beats, on), Breath())
    return Score(steps, times=given.whole("times"))


def _first_buzz_parameters(writer: Writer) -> tuple[Parameter, ...]:
    notes = _two_notes(writer, -4, 3, ("low", "high"))
    step = Parameter("step", "step", choices=_STEPS)
    return (step, *notes, writer.times(4), writer.tempo(60))


def _siren_parameters(writer: Writer) -> tuple[Parameter, ...]:
    ways = (Choice("up-down", "up and down"), Choice("down-up", "down and up"))
    way = Parameter("way", "way", choices=ways)
    notes = _two_notes(writer, -5, 7, ("from", "to"))
    return (way, *notes, *writer.buzzed_on(), writer.beats(3, "beats a pass"), writer.times(4))


def _sustained_parameters(writer: Writer) -> tuple[Parameter, ...]:
    note = writer.note("note_midi", "note", writer.reach.easy, *_span(writer))
    return note, *writer.buzzed_on(), writer.beats(6), writer.times(3)


def _interval_parameters(writer: Writer) -> tuple[Parameter, ...]:
    notes = _two_notes(writer, 0, 4, ("from", "to"))
    return (*notes, *writer.buzzed_on(), writer.beats(2), writer.times(4), writer.tempo(60))


def _slur_parameters(writer: Writer) -> tuple[Parameter, ...]:
    notes = _two_notes(writer, -5, 0, ("low", "high"))
    return (*notes, *writer.buzzed_on(), writer.beats(2), writer.times(3))


def _octaves_parameters(writer: Writer) -> tuple[Parameter, ...]:
    easy = writer.reach.easy
    least = max(easy - 14, writer.instrument.lowest_midi)
    most = min(easy, writer.instrument.highest_midi - 24)
    return (
        *writer.buzzed_on(Choice(PlayedOn.HORN.value, "horn")),
        writer.note("low_midi", "from", easy - 9, least, most),
        writer.beats(6, "beats a pass"),
        writer.times(2),
    )


def _first_buzz_path(writer: Writer) -> Iterator[Values]:
    yield {}
    for step in _STEPS:
        yield {"step": step.value}


def _siren_path(writer: Writer) -> Iterator[Values]:
    """From a fifth to two octaves, then slower, then the other way round."""
    easy = writer.reach.easy
    yield {"way": "up-down", "beats": 3.0}
    for span in (7, 9, 12, 14, 16, 19, 21, 24):
        low = easy - min(5, span // 2)
        yield {"low_midi": float(low), "high_midi": float(low + span)}
    for beats in (4.0, 6.0):
        yield {"beats": beats}
    yield {"way": "down-up"}


def _sustained_path(writer: Writer) -> Iterator[Values]:
    """Longer, then other notes near the easy one, then in the leadpipe."""
    easy = writer.reach.easy
    yield {"note_midi": float(easy)}
    for beats in (4.0, 6.0, 8.0, 10.0, 12.0):
        yield {"beats": beats}
    for by in (2, -2, 4, -4, 5, -5, 7):
        yield {"note_midi": float(easy + by)}
    yield _IN_THE_LEADPIPE


def _interval_path(writer: Writer) -> Iterator[Values]:
    """From a second to an octave, then from other notes, then in the leadpipe."""
    easy = writer.reach.easy
    yield {}
    for span in (2, 3, 4, 5, 7, 9, 12):
        yield {"low_midi": float(easy), "high_midi": float(easy + span)}
    for by in (-2, 2, -4, 4):
        yield {"low_midi": float(easy + by), "high_midi": float(easy + by + 12)}
    yield _IN_THE_LEADPIPE


def _slur_shape_path(writer: Writer) -> Iterator[Values]:
    """The next pair of partials, then over two of them, then slower, then in the leadpipe."""
    easy = writer.reach.easy
    yield {}
    for low, high in ((-5, 0), (0, 4), (-5, 4), (0, 7), (-5, 7)):
        yield {"low_midi": float(easy + low), "high_midi": float(easy + high)}
    for beats in (3.0, 4.0):
        yield {"beats": beats}
    yield _IN_THE_LEADPIPE


def _octaves_path(writer: Writer) -> Iterator[Values]:
    """Slower, then on the horn."""
    yield {"on": "mouthpiece"}
    for beats in (4.0, 6.0, 8.0):
        yield {"beats": beats}
    yield {"on": "horn"}


FAMILIES = (
    Family(
        "first-buzz",
        "First buzz",
        Group.BUZZ,
        _first_buzz_parameters,
        _first_buzz,
        (Aim.SPEAKS, Aim.SPOKE, Aim.HELD, Aim.SAME_SOUND),
        FamilyWords(
            why="If your lips speak without the horn, they will speak with it.",
            listen="The high and the low note should start equally well.",
            wrong="The low note is slack, or one of the two starts worse than the other.",
            remedy="Firm the corners and blow faster air. Check in a mirror that the mouthpiece "
            "is centred.",
            caution="Five minutes are enough.",
        ),
        leads_to=("siren", "interval-buzz"),
        falls_back_to=("breath",),
        practised=PracticeRules(turn=5, in_first_weeks=1, path=_first_buzz_path),
    ),
    Family(
        "siren",
        "Siren",
        Group.BUZZ,
        _siren_parameters,
        _siren,
        (Aim.BREAKS, Aim.SPAN),
        FamilyWords(
            why="You pass through every pitch between two notes, so that none of them is "
            "strange to your lips.",
            listen="One line without a break, the same on the way up as on the way down.",
            wrong="The line breaks, jumps or gets stuck.",
            remedy="Take a smaller range, and keep the air moving.",
        ),
        leads_to=("two-octave-glide",),
        falls_back_to=("first-buzz",),
        practised=PracticeRules(turn=1, in_first_weeks=2, path=_siren_path),
    ),
    Family(
        "sustained-buzz",
        "Sustained buzz",
        Group.BUZZ,
        _sustained_parameters,
        _sustained,
        (Aim.CENTRE, Aim.STEADY, Aim.HELD),
        FamilyWords(
            why="You hold one pitch with the lips alone, with no horn to lean on.",
            listen="A full, even buzz that stays on one pitch.",
            wrong="The pitch sinks, or the buzz thins out on one side.",
            remedy="Firm the corners, blow faster air, and hold the mouthpiece loosely by its "
            "shank.",
        ),
        leads_to=("interval-buzz",),
        falls_back_to=("first-buzz",),
        practised=PracticeRules(turn=2, buzzes=Buzzes.NOTE, path=_sustained_path),
    ),
    Family(
        "interval-buzz",
        "Interval buzz",
        Group.BUZZ,
        _interval_parameters,
        _interval,
        (Aim.CENTRE, Aim.START, Aim.SPOKE),
        FamilyWords(
            why="Your ear sets the lips before they move.",
            listen="Hear the interval first, then buzz it without sliding into either note.",
            wrong="You slide into the second note.",
            remedy="Wait until you hear the note in your head, then place it.",
        ),
        leads_to=("buzz-then-play",),
        falls_back_to=("sustained-buzz",),
        practised=PracticeRules(turn=3, buzzes=Buzzes.INTERVAL, path=_interval_path),
    ),
    Family(
        "slur-shape",
        "Shape of a slur",
        Group.BUZZ,
        _slur_parameters,
        _slur_shape,
        (Aim.BREAKS, Aim.SPAN),
        FamilyWords(
            why="On the mouthpiece a slur is a glide; the horn turns it into two notes.",
            listen="One line up and one line down, no louder at the top.",
            wrong="The line jumps, or stops before it moves.",
            remedy="Keep the air moving through the change.",
        ),
        leads_to=("lip-slur",),
        falls_back_to=("siren",),
        practised=PracticeRules(turn=4, buzzes=Buzzes.SLUR, path=_slur_shape_path),
    ),
    Family(
        "two-octave-glide",
        "Two-octave glide",
        Group.BUZZ,
        _octaves_parameters,
        _two_octaves,
        (Aim.BREAKS, Aim.SPAN),
        FamilyWords(
            why="The same glide on the mouthpiece and on the horn shows you where the notes catch.",
            listen="It should be smooth on the mouthpiece; on the horn, notice where it catches.",
            wrong="The glide breaks at one spot, always the same one.",
            remedy="Glide over that spot alone, slowly, in both directions.",
        ),
        leads_to=("lip-slur",),
        falls_back_to=("siren",),
        practised=PracticeRules(
            turn=6,
            path=_octaves_path,
            reason="The whole range of the lips in one line.",
        ),
    ),
)
