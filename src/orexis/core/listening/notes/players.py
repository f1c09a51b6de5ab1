"""What of a sound is the player's, and what is the room's: hum, noise that repeats for a moment, a
voice far off."""

from collections.abc import Sequence

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.listening.notes.contour import frames_of
from orexis.core.listening.notes.events import Passage

UNDER_LOUDEST_DB = 45.0
"""So far under the loudest note nothing is the player's."""
_SHORT_FRAMES = frames_of(0.15)
_SHORT_OVER_ROOM_DB, _OVER_ROOM_DB = 12.0, 7.0
_FAR_UNDER_DB = 18.0
_ROOM_PERCENT = 2


def room_level_db(level_db: FloatArray) -> float | None:
    """How loud the room is by the levels of a whole sound, in dB: what one frame in
    fifty stays under; `None` of no frames."""
    return float(np.percentile(level_db, _ROOM_PERCENT)) if len(level_db) else None


def of_the_player(passages: Sequence[Passage], room_db: float | None) -> list[Passage]:
    """The passages that are the player's, in order. One is not that lies 45 dB under the loudest
    note; or 18 dB under it and less than 7 dB over the quietest of the room, or 12 dB where it is
    shorter than 150 ms. One with nothing but a glide in it has no level, and stays."""
    levels_db = [note.measures.level_db for passage in passages for note in passage.notes]
    loudest_db = max(levels_db, default=-np.inf)
    return [
        passage
        for passage in passages
        if not passage.notes or not _is_the_rooms(passage, loudest_db, room_db)
    ]


def _is_the_rooms(passage: Passage, loudest_db: float, room_db: float | None) -> bool:
    level_db = max(note.measures.level_db for note in passage.notes)
    if level_db < loudest_db - UNDER_LOUDEST_DB:
        return True
    if room_db is None or level_db > loudest_db - _FAR_UNDER_DB:
        return False
    longest = max(note.last - note.first for note in passage.notes)
    over_db = _OVER_ROOM_DB if longest >= _SHORT_FRAMES else _SHORT_OVER_ROOM_DB
    return level_db < room_db + over_db
