"""Exercises for a player: written for their horn and reach, engraved, heard, carried away."""

from datetime import date
from functools import lru_cache

from sqlalchemy.orm import Session

from orexis.core.coach.standing import Standing, standing_of
from orexis.core.exercises.family import Family
from orexis.core.exercises.task import Task
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.notation import Notation
from orexis.core.horn.setup import Horn
from orexis.core.judging.attempts import Verdict, judge_attempt
from orexis.core.judging.standard import Standard
from orexis.core.parameter import Choice, Parameter
from orexis.core.score.steps import PlayedOn
from orexis.formats.analysis_reading import events_of
from orexis.formats.audio import pcm_from_floats, wav_from_pcm
from orexis.standin.performance import perform
from orexis.standin.player import Skill, in_tune, played_with
from orexis.standin.reading import as_played, voice_of
from orexis.store.history import ever_heard, history_of
from orexis.store.horns import horn_of
from orexis.store.kept import document_of
from orexis.store.models import Player, Recording
from orexis.store.players import notation_of
from orexis.store.takes import highest_passed

_RATE = 44_100
_LONGEST_S = 300.0
_ONE_LINE = 2400
"""How wide a page is on which a few notes lie on one line."""
LEAD_S = 0.5
"""The silence before what the stand-in plays."""


class NothingToHearError(ValueError):
    """A score with no sound in it, or too much; the message says so."""


def writer_for(session: Session, player: Player, horn: Horn | None = None) -> Writer:
    """What exercises are written with for a player: their horn as it is set up (or another), their
    names of notes, and how far they come, as their takes show it."""
    horn = horn or horn_of(session, player)
    reach = Reach.usual(horn.instrument).with_passed(highest_passed(session, player))
    return Writer(horn, reach, notation_of(player))


def standings_of(
    session: Session, player: Player, task: Task, writer: Writer, today: date
) -> list[tuple[int, Standing]]:
    """How every note of a task on the horn (sounding MIDI, lowest first) stands with a player."""
    wanted = sorted({play.midi for play in task.score.notes if play.on is PlayedOn.HORN})
    heard = history_of(session, player, today, ()).heard if wanted else {}
    before = ever_heard(session, player, [midi for midi in wanted if midi not in heard])

    def stands(midi: int) -> Standing:
        if not writer.has(midi):
            return Standing.OUT_OF_REACH
        if midi in before:
            return Standing.FADED
        return standing_of(heard.get(midi, ()), today)

    return [(midi, stands(midi)) for midi in wanted]


def fields_of(family: Family, writer: Writer) -> tuple[Parameter, ...]:
    """What can be set of a family, notes as choices by the player's names."""
    return tuple(
        _named(parameter, writer) if parameter.is_note else parameter
        for parameter in family.parameters(writer)
    )


def _named(parameter: Parameter, writer: Writer) -> Parameter:
    notes = range(round(parameter.least or 0), round(parameter.most or 0) + 1)
    choices = tuple(Choice(str(midi), writer.name(midi)) for midi in reversed(notes))
    return Parameter(parameter.key, parameter.label, choices=choices, is_note=True)


def engraved_task(task: Task, horn: Horn, notation: Notation) -> str:
    """A task engraved as the player reads it, as SVG."""
    # Loaded when first needed: it takes a while.
    from orexis.formats.engraving import engraved

    return engraved(musicxml_of_task(task, horn, notation, to_engrave=True))


def sheet_music(task: Task, horn: Horn, notation: Notation) -> str:
    """One repetition of a task engraved, as SVG; nothing where it is one note."""
    return engraved_task(task.once, horn, notation) if len(task.score.pitches) > 1 else ""


def on_one_line(task: Task, horn: Horn, notation: Notation) -> str:
    """A short task engraved on one line, as SVG; nothing where it has no notes."""
    if not task.score.pitches:
        return ""
    return _engraved_wide(musicxml_of_task(task, horn, notation, to_engrave=True))


@lru_cache(maxsize=512)
def _engraved_wide(musicxml: str) -> str:
    from orexis.formats.engraving import engraved

    return engraved(musicxml, _ONE_LINE)


def musicxml_of_task(
    task: Task, horn: Horn, notation: Notation, *, to_engrave: bool = False
) -> str:
    """A task as MusicXML, as the player reads it; `to_engrave` for our own engraving."""
    from orexis.formats.musicxml import musicxml_of

    return musicxml_of(task.score, horn, notation, task.title, to_engrave=to_engrave)


def attempt_at(
    session: Session, player: Player, task: Task, horn: Horn, recording: Recording
) -> Verdict:
    """The verdict on a kept recording as an attempt at a task, by the player's own standard."""
    events = events_of(document_of(session, recording))
    return judge_attempt(task, events, horn, Standard(player.standard))


def played(task: Task, horn: Horn, skill: Skill | None = None, lead_s: float = LEAD_S) -> bytes:
    """A task's score as a WAV file, played on a horn: well, or with some skill and without the
    notes that are only to be heard first. `lead_s` is the silence before it.

    Raises `NothingToHearError` for one without a note, or longer than five minutes.
    """
    score, tuning = task.score, task.tuning(horn)
    if not score.notes:
        raise NothingToHearError("There is nothing to hear: this is played by breathing alone.")
    seconds = score.seconds * score.times
    if seconds > _LONGEST_S:
        raise NothingToHearError(
            f"That lasts {seconds / 60:.0f} minutes; take fewer repetitions to hear it."
        )
    voice = voice_of(score, horn.instrument)
    if skill is None:
        notes = in_tune(as_played(score), tuning)
    else:
        notes = played_with(skill, score, horn, tuning)
    sound = perform(notes, voice, _RATE, lead_s=lead_s, a4_hz=horn.setup.a4_hz)
    return wav_from_pcm(pcm_from_floats(sound.samples), _RATE)
