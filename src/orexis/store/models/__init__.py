"""The tables. Columns carry their unit in the name; times are UTC."""

from orexis.store.models.base import Base, UtcDateTime
from orexis.store.models.carried import Guest, GuestSound, WordsBack
from orexis.store.models.coaching import (
    ApproachTrial,
    ComingDate,
    DayPlanRow,
    FollowedProgramme,
    PathMove,
)
from orexis.store.models.devices import PairedDevice
from orexis.store.models.players import HornSetup, OwnExercise, Player, PlayerAbout
from orexis.store.models.recordings import Bookmark, PieceStretch, Recording, RecordingContent
from orexis.store.models.sessions import (
    Hurt,
    PracticeSession,
    SessionEntry,
    SessionMemo,
    TypedPractice,
)
from orexis.store.models.sittings import FreeSitting, SittingEntry, SittingNote
from orexis.store.models.takes import (
    Take,
    TakeEvents,
    TakeFrames,
    TakeNote,
    TakeSound,
    TaskSnapshot,
)

__all__ = [
    "ApproachTrial",
    "Base",
    "Bookmark",
    "ComingDate",
    "DayPlanRow",
    "FollowedProgramme",
    "FreeSitting",
    "Guest",
    "GuestSound",
    "HornSetup",
    "Hurt",
    "OwnExercise",
    "PairedDevice",
    "PathMove",
    "PieceStretch",
    "Player",
    "PlayerAbout",
    "PracticeSession",
    "Recording",
    "RecordingContent",
    "SessionEntry",
    "SessionMemo",
    "SittingEntry",
    "SittingNote",
    "Take",
    "TakeEvents",
    "TakeFrames",
    "TakeNote",
    "TakeSound",
    "TaskSnapshot",
    "TypedPractice",
    "UtcDateTime",
    "WordsBack",
]
