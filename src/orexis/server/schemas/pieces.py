"""What the API says of pieces as they were played, bar by bar: in one recording, or every time."""

from pydantic import AwareDatetime, BaseModel

from orexis.core.counting import counted
from orexis.core.exercises.own import LINE
from orexis.core.judging.bars import BarPlayed, Passage, PiecePlayed
from orexis.practice.pieces import PieceOver
from orexis.server.schemas.sessions import ExerciseOut
from orexis.server.schemas.takes import StepOut

_THREE_GOOD = {"follow": "repeat", "needed": "3"}


class BarOut(BaseModel):
    """See `core.judging.bars.BarPlayed`; `often` says in how many of how many times it went wrong,
    "" where it was played once."""

    bar: int
    first_step: int
    wrong: str
    needs_work: bool
    often: str

    @classmethod
    def of(cls, one: BarPlayed) -> "BarOut":
        """A bar as the API gives it."""
        times = len(one.times)
        return cls(
            bar=one.bar,
            first_step=one.first_step,
            wrong=one.wrong,
            needs_work=one.needs_work,
            often=f"{one.wrong_times} of {times} times" if times > 1 else "",
        )


class PassageOut(BaseModel):
    """Bars to practise by themselves, slower, and the exercise that they are."""

    words: str
    bpm: int
    family: str
    values: dict[str, str]
    back_into_it: list[ExerciseOut]

    @classmethod
    def of(cls, one: Passage) -> "PassageOut":
        """Some bars as the API gives them: by themselves, and as a session that leads back into the
        piece."""

        def line(text: str, bpm: int) -> dict[str, str]:
            return {"line": text, "tempo": str(bpm), "bar": str(one.beats_in_bar)}

        def exercise(title: str, text: str, bpm: int) -> ExerciseOut:
            return ExerciseOut(
                title=title, family=LINE, values=line(text, bpm), way=_THREE_GOOD, why=""
            )

        return cls(
            words=one.words,
            bpm=one.bpm,
            family=LINE,
            values=line(one.line, one.bpm),
            back_into_it=[
                exercise(f"{one.words}, slower", one.line, one.bpm),
                exercise(f"{one.words}, at your tempo", one.line, one.played_bpm),
                exercise(
                    f"{one.words} with the bars beside",
                    one.line_with_beside,
                    one.played_bpm,
                ),
            ],
        )


class PieceOut(BaseModel):
    """A piece as it was played freely: a sentence, every bar with what was wrong in it, how each
    note went, and the bars to practise by themselves."""

    headline: str
    bars: list[BarOut]
    steps: list[StepOut]
    passages: list[PassageOut]

    @classmethod
    def of(cls, piece: PiecePlayed) -> "PieceOut":
        """A piece as the API gives it."""
        return cls(
            headline=piece.headline,
            bars=[BarOut.of(one) for one in piece.bars],
            steps=[StepOut(step=step, outcome=one) for step, one in piece.outcomes.items()],
            passages=[PassageOut.of(one) for one in piece.passages],
        )


class HeardInOut(BaseModel):
    """A recording in which a piece was played, and how many times some of the piece is in it."""

    recording_id: str
    started_at: AwareDatetime
    name: str
    times: int
    times_words: str


class PieceOverOut(PieceOut):
    """A piece over all the times it was played; `on_the_stand` is how many of them were attempts at
    it as an exercise."""

    recordings: list[HeardInOut]
    on_the_stand: int

    @classmethod
    def over(cls, found: PieceOver) -> "PieceOverOut":
        """All the times as the API gives them."""
        return cls(
            **PieceOut.of(found.piece).model_dump(),
            recordings=[
                HeardInOut(
                    recording_id=one.recording_id,
                    started_at=one.started_at,
                    name=one.name,
                    times=one.times,
                    times_words=counted(one.times, "time"),
                )
                for one in found.recordings
            ],
            on_the_stand=found.on_the_stand,
        )
