"""What the API says of pieces as they were played, bar by bar: in one recording, or every time."""

from pydantic import AwareDatetime, BaseModel

from orexis.core.judging.bars import Passage, PiecePlayed
from orexis.practice.pieces import PieceOver, back_into, session_title
from orexis.server.schemas.base import Read
from orexis.server.schemas.sessions import ExerciseOut
from orexis.server.schemas.takes import StepOut


class BarOut(Read):
    """See `core.judging.bars.BarPlayed`."""

    bar: int
    is_played: bool
    wrong: str
    needs_work: bool
    often: str


class PassageOut(BaseModel):
    """Some bars to be practised by themselves, and the session that leads from them back into the
    piece; its first exercise is those bars, slower."""

    words: str
    bpm: int
    title: str
    back_into_it: list[ExerciseOut]

    @classmethod
    def of(cls, passage: Passage, piece: str) -> "PassageOut":
        """Some bars of a piece as the API gives them."""
        return cls(
            words=passage.words,
            bpm=passage.bpm,
            title=session_title(piece, passage),
            back_into_it=[ExerciseOut.of(setting) for setting in back_into(passage)],
        )


class PieceOut(BaseModel):
    """A piece as it was played freely: a sentence, every bar with what was wrong in it, how each
    note went, and the bars to practise by themselves."""

    headline: str
    bars: list[BarOut]
    steps: list[StepOut]
    passages: list[PassageOut]

    @classmethod
    def of(cls, piece: PiecePlayed, name: str) -> "PieceOut":
        """A piece of a name as the API gives it."""
        return cls(
            headline=piece.headline,
            bars=[BarOut.model_validate(bar) for bar in piece.bars],
            steps=[StepOut(step=step, outcome=outcome) for step, outcome in piece.outcomes.items()],
            passages=[PassageOut.of(passage, name) for passage in piece.passages],
        )


class PieceRecordingOut(Read):
    """See `practice.pieces.PieceRecording`."""

    recording_id: str
    started_at: AwareDatetime
    name: str
    times: int
    times_words: str


class PieceOverOut(PieceOut):
    """A piece over all the times it was played; `on_the_stand` is how many of them were attempts at
    it as an exercise."""

    recordings: list[PieceRecordingOut]
    on_the_stand: int

    @classmethod
    def over(cls, found: PieceOver, name: str) -> "PieceOverOut":
        """All the times of a piece of a name as the API gives them."""
        return cls(
            **PieceOut.of(found.piece, name).model_dump(),
            recordings=[
                PieceRecordingOut.model_validate(recording) for recording in found.recordings
            ],
            on_the_stand=found.on_the_stand,
        )
