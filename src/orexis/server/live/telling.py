"""What the browser is told of what was heard, and what it may say itself: for a session, and where
one plays without a task."""

from abc import ABC, abstractmethod
from collections.abc import Awaitable, Callable
from typing import ClassVar, Generic, TypeVar

from pydantic import BaseModel

from orexis.core.exercises.family import ExerciseRefusedError
from orexis.core.exercises.task import Task
from orexis.core.judging.piece_live import NOWHERE, PieceNow
from orexis.core.judging.ribbon import ribbon_of
from orexis.core.judging.standard import Standard
from orexis.core.listening.microphone.check import MicrophoneHeard
from orexis.core.listening.tracking.frames import Frames
from orexis.core.session.questions import find_question
from orexis.practice.free import FreePlaying, FreeResult
from orexis.practice.live_sound import Heard, LiveSound
from orexis.practice.sessions import Result, Session
from orexis.server.live.messages import (
    AttemptState,
    BarWrong,
    FramesHeard,
    FreeEnded,
    GivingTime,
    Helping,
    LosingSound,
    Marking,
    MarksHeard,
    MicrophoneTold,
    NoteSounds,
    OpeningPiece,
    Overruling,
    PlaceTold,
    Pressing,
    Putting,
    Refused,
    SoundingDrone,
    Tuning,
    VerdictGiven,
)
from orexis.server.live.sessions import in_thread
from orexis.server.live.showing import shown_of
from orexis.server.problems import ProblemError
from orexis.server.schemas.free import FreeOutcomeOut, NoteNowOut
from orexis.server.schemas.microphone import MicrophoneOut
from orexis.server.schemas.takes import JudgedTakeOut, MarkOut, RibbonFrames, StepOut
from orexis.store.database import Database

Send = Callable[[BaseModel], Awaitable[None]]
S = TypeVar("S", bound=LiveSound)
R = TypeVar("R", bound=Heard)

STRANGE = ProblemError(400, "The sound came in a form Orexis does not know", "Reload the page.")


class Telling(ABC, Generic[S, R]):
    """Tells a browser of one `sound`, by `send`."""

    FROM_AFAR: ClassVar[tuple[type[BaseModel], ...]] = ()
    """What may be said from a window that only watches."""

    def __init__(self, sound: S, send: Send) -> None:
        self.sound, self.send = sound, send
        self._told_microphone: MicrophoneHeard | None = None

    async def tell(self, heard: R) -> None:
        """Tells what a stretch of sound brought: its frames, and what is made of them."""
        shown = Frames.joined([heard.frames, heard.early])
        if len(shown):
            ribbon = RibbonFrames.of(ribbon_of(shown, self.sound.a4_hz))
            await self.send(FramesHeard(early=len(heard.early), **ribbon.model_dump()))
        await self.tell_more(heard)
        await self._tell_microphone()

    async def _tell_microphone(self) -> None:
        """Tells how well the microphone hears, where more is known."""
        heard = self.sound.microphone
        if heard is not None and heard is not self._told_microphone:
            self._told_microphone = heard
            await self.send(MicrophoneTold(**MicrophoneOut.of(heard).model_dump()))

    async def retell(self, put: Callable[[BaseModel], None]) -> None:
        """Tells somebody who comes later where it stands."""
        if self._told_microphone is not None:
            put(MicrophoneTold(**MicrophoneOut.of(self._told_microphone).model_dump()))

    @abstractmethod
    async def tell_more(self, heard: R) -> None:
        """Tells what is made of the frames."""

    @abstractmethod
    async def answer(self, said: object) -> None:
        """Does what the player says. Raises `ProblemError` for what is never said here."""


class SessionTelling(Telling[Session, Result]):
    """Tells of a session."""

    FROM_AFAR = (Pressing, Overruling, Helping)

    def __init__(self, database: Database, session: Session, send: Send) -> None:
        super().__init__(session, send)
        self._verdict: VerdictGiven | None = None
        self._database = database
        self._shown: tuple[Task, Standard] | None = None
        self._playing_since: int | None = None

    async def retell(self, put: Callable[[BaseModel], None]) -> None:
        """As `Telling.retell`."""
        put(await in_thread(shown_of, self._database, self.sound, True))
        put(AttemptState(playing_since=self.sound.playing_since))
        if self._verdict is not None:
            put(self._verdict)
        await super().retell(put)

    async def tell_more(self, heard: Result) -> None:
        """Tells of attempts, takes, and where the session is."""
        session = self.sound
        if session.playing_since != self._playing_since:
            self._playing_since = session.playing_since
            await self.send(AttemptState(playing_since=self._playing_since))
        glimpsed = heard.glimpsed
        if glimpsed is not None:
            marks = [MarkOut.of(mark) for mark in glimpsed.marks]
            step = glimpsed.reached and glimpsed.reached.step
            await self.send(MarksHeard(first=glimpsed.first, marks=marks, step=step))
        for take in heard.takes:
            self._verdict = VerdictGiven(take=JudgedTakeOut.judged(take))
            await self.send(self._verdict)
        if heard.moved:
            state, known = session.state, self._shown
            self._shown = (state.task, state.level)
            changed = self._shown != known
            await self.send(await in_thread(shown_of, self._database, session, changed))

    async def answer(self, said: object) -> None:
        """Does what the player says; what cannot be is said, and all stays as it was."""
        session = self.sound
        try:
            match said:
                case Pressing():
                    result = await in_thread(session.press, said.press)
                case Putting():
                    result = await in_thread(session.put, said.exercise.setting)
                case Tuning():
                    result = await in_thread(session.tune, said.level, said.drone_hz)
                case Overruling():
                    result = await in_thread(session.overrule, said.take_id, said.passed)
                case Helping():
                    result = await in_thread(session.help, find_question(said.question))
                case LosingSound():
                    result = await in_thread(session.lose_sound)
                case _:
                    raise STRANGE
        except ExerciseRefusedError as error:
            await self.send(Refused(detail=str(error)))
        except LookupError:
            await self.send(Refused(detail="That is not there any more."))
        else:
            await self.tell(result)


class FreeTelling(Telling[FreePlaying, FreeResult]):
    """Tells of playing without a task."""

    FROM_AFAR = (Marking,)

    def __init__(self, playing: FreePlaying, send: Send) -> None:
        super().__init__(playing, send)
        self._sounds: NoteNowOut | None = None
        self._place: PieceNow = NOWHERE

    async def retell(self, put: Callable[[BaseModel], None]) -> None:
        """As `Telling.retell`."""
        put(NoteSounds(note=self._sounds))
        put(_place_told(self._place))
        await super().retell(put)

    async def tell_more(self, heard: FreeResult) -> None:
        """Tells which note sounds, and at the end what was played."""
        notation = self.sound.notation
        if heard.over is not None:
            over = FreeOutcomeOut.of(heard.over, notation)
            await self.send(FreeEnded(**over.model_dump()))
            return
        now = (
            None
            if heard.now is None
            else NoteNowOut.of(heard.now, heard.way, notation, self.sound.drone)
        )
        if len(heard.frames) and now != self._sounds:
            self._sounds = now
            await self.send(NoteSounds(note=now))
        if heard.piece is not None and heard.piece != self._place:
            self._place = heard.piece
            await self.send(_place_told(self._place))

    async def answer(self, said: object) -> None:
        """Knows of a metronome and a drone that sound, and marks spots."""
        playing = self.sound
        match said:
            case GivingTime():
                await in_thread(playing.give, said.pulse and said.pulse.pulse, said.sample)
            case SoundingDrone():
                try:
                    await in_thread(playing.sound, said.drone and said.drone.drone)
                except ValueError as error:
                    await self.send(Refused(detail=str(error)))
            case Marking():
                await in_thread(playing.mark)
            case OpeningPiece():
                await self._open(said.own_id)
            case _:
                raise STRANGE

    async def _open(self, own_id: str | None) -> None:
        try:
            await self.tell(await in_thread(self.sound.open_piece, own_id))
        except LookupError:
            await self.send(Refused(detail="This piece is not there any more."))
        except ValueError as error:
            await self.send(Refused(detail=str(error)))


def _place_told(place: PieceNow) -> PlaceTold:
    return PlaceTold(
        step=place.step,
        bar=place.bar,
        steps=[StepOut(step=step, outcome=outcome) for step, outcome in place.outcomes.items()],
        wrong=[BarWrong(bar=bar, wrong=words) for bar, words in place.wrong.items()],
    )


def telling_of(
    database: Database, sound: Session | FreePlaying, send: Send
) -> SessionTelling | FreeTelling:
    """What tells a browser of a sound."""
    if isinstance(sound, FreePlaying):
        return FreeTelling(sound, send)
    return SessionTelling(database, sound, send)
