"""What the API says of a microphone."""

from pydantic import BaseModel

from orexis.core.listening.microphone.check import Finding, MicrophoneHeard
from orexis.core.listening.microphone.words import (
    advice_words,
    finding_words,
    notes_words,
    room_words,
    summary_words,
)


class MicrophoneFindingOut(BaseModel):
    """What stands in the way of hearing a player well, and what to do about it."""

    finding: Finding
    words: str
    advice: str


class MicrophoneOut(BaseModel):
    """How well a microphone hears. Levels in whole dB re full scale: of the room, and of softer and
    louder notes, null where they are not known yet, and both in words; notes should come in louder
    than `wanted_db`. What stands in the way, the worst first; `summary` says what is known where
    nothing does."""

    room_db: int | None
    softer_db: int | None
    louder_db: int | None
    room_words: str
    notes_words: str
    wanted_db: int
    findings: list[MicrophoneFindingOut]
    summary: str

    @classmethod
    def of(cls, heard: MicrophoneHeard) -> "MicrophoneOut":
        """The microphone as the API gives it."""
        softer_db, louder_db = heard.notes_db or (None, None)
        return cls(
            room_db=_whole(heard.room_db),
            softer_db=_whole(softer_db),
            louder_db=_whole(louder_db),
            room_words=room_words(heard),
            notes_words=notes_words(heard),
            wanted_db=round(heard.wanted_db),
            findings=[
                MicrophoneFindingOut(
                    finding=finding,
                    words=finding_words(finding, heard),
                    advice=advice_words(finding),
                )
                for finding in heard.findings
            ],
            summary=summary_words(heard),
        )


def _whole(level_db: float | None) -> int | None:
    return None if level_db is None else round(level_db)
