"""Everything a player can set outside their horn, gathered from the rooms it belongs to."""

from orexis.core.coach.about import ABOUT, LIPS, MINUTES
from orexis.core.coach.known import EventKind
from orexis.core.horn.naming import NoteNames, Octaves
from orexis.core.horn.notation import NoteView
from orexis.core.horn.pitch import A4_HIGHEST_HZ, A4_LOWEST_HZ
from orexis.core.horn.setup import SETTINGS
from orexis.core.judging.standard import Standard
from orexis.core.parameter import Choice, Parameter
from orexis.store.bookmarks import LONGEST_WORDS
from orexis.store.coaching import LONGEST_EVENT
from orexis.store.own_exercises import LONGEST_NAME as LONGEST_OWN_NAME
from orexis.store.players import LONGEST_NAME
from orexis.store.recordings import LONGEST_WANTED

PLAYER = (
    Parameter("name", "Name", longest=LONGEST_NAME),
    Parameter("instrument_key", "Instrument"),
    Parameter(
        "view",
        "Notes named",
        choices=(
            Choice(NoteView.WRITTEN, "as written"),
            Choice(NoteView.SOUNDING, "as they sound"),
        ),
    ),
    Parameter("clef", "Clef"),
    Parameter(
        "note_names",
        "Note names",
        choices=(
            Choice(NoteNames.ENGLISH, "B♭, B, C"),
            Choice(NoteNames.GERMAN, "B, H, C"),
            Choice(NoteNames.SOLFEGE, "Si♭, Si, Do"),
        ),
    ),
    Parameter(
        "octaves",
        "Octaves",
        choices=(
            Choice(Octaves.NUMBERS, "C3, C4, C5"),
            Choice(Octaves.STROKES, "c, c’, c’’"),
        ),
    ),
    Parameter("a4_hz", "A4", "Hz", A4_LOWEST_HZ, A4_HIGHEST_HZ, 0.1),
    Parameter(
        "standard", "Standard", choices=tuple(Choice(level, level.value) for level in Standard)
    ),
)
OWN = (Parameter("name", "Name", longest=LONGEST_OWN_NAME),)
NAMES = SETTINGS | {parameter.key: parameter.label for parameter in (*PLAYER, *ABOUT)}
"""What a player calls each thing that can be wrong with what they filled in."""

TODAY = (MINUTES, LIPS)
LISTENING = (
    Parameter("bookmark", "In a few words, or none", longest=LONGEST_WORDS),
    Parameter("wanted", "What did you mean to play?", longest=LONGEST_WANTED),
)

COMING = (
    Parameter("day", "Day"),
    Parameter(
        "kind",
        "What",
        choices=(
            Choice(EventKind.CONCERT, "concert"),
            Choice(EventKind.REHEARSAL, "rehearsal"),
        ),
    ),
    Parameter("words", "In a few words, or none", longest=LONGEST_EVENT),
)
