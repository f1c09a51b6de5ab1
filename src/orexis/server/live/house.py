"""Every ear that is open, told to every window of the house, and the windows that watch along."""

import asyncio
import contextlib
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

from pydantic import BaseModel

from orexis.server.live.messages import (
    AttemptState,
    EarsTold,
    FramesHeard,
    MarksHeard,
    MicrophoneTold,
    NoteSounds,
    OpenEarOut,
    Refused,
    SessionTold,
    VerdictGiven,
)

_MOST_UNSENT = 2000
_WATCHED = (
    FramesHeard,
    AttemptState,
    MarksHeard,
    VerdictGiven,
    SessionTold,
    Refused,
    NoteSounds,
    MicrophoneTold,
)
"""What those who watch are told of what the ear is told."""


class LaggingError(Exception):
    """A window does not take what it is told; it is let go, so that nobody waits for it."""


class Watcher:
    """A window of the house: what it is still to be told, and whose session it watches."""

    def __init__(self, device: str) -> None:
        self.device = device
        self.session: str | None = None
        self._unsent: asyncio.Queue[BaseModel] = asyncio.Queue(_MOST_UNSENT)
        self._lags = False

    def put(self, message: BaseModel) -> None:
        """Something to tell it."""
        try:
            self._unsent.put_nowait(message)
        except asyncio.QueueFull:
            self._lags = True

    async def next(self) -> BaseModel:
        """What it is to be told next. Raises `LaggingError`."""
        if self._lags:
            raise LaggingError
        return await self._unsent.get()


@dataclass(eq=False)
class OpenEar:
    """An ear that listens: what is known of it, how it takes what others say to its session, and
    how it is asked to tell somebody who comes later where that stands."""

    out: OpenEarOut
    say: Callable[[BaseModel], None]
    catch_up: Callable[[Watcher], None]
    watchers: list[Watcher] = field(default_factory=list)

    def caught_up(self, watcher: Watcher) -> None:
        """Tells a window what is heard from now on, if it still watches: where that stands it has
        been told, so that this comes first."""
        if watcher.session == self.out.session and watcher not in self.watchers:
            self.watchers.append(watcher)

    def heard(self, message: BaseModel) -> None:
        """Passes on what the ear's window was told."""
        if isinstance(message, _WATCHED):
            for watcher in self.watchers:
                watcher.put(message)


class House:
    """Which ears are open, and who watches."""

    def __init__(self) -> None:
        self._ears: dict[str, OpenEar] = {}
        self._watchers: set[Watcher] = set()

    @contextlib.contextmanager
    def listening(self, ear: OpenEar) -> Iterator[None]:
        """Keeps an ear among the open ones until the block ends."""
        session = ear.out.session
        self._ears[session] = ear
        self._tell_all()
        for watcher in self._watchers:
            if watcher.session == session:
                ear.catch_up(watcher)
        try:
            yield
        finally:
            if self._ears.get(session) is ear:
                del self._ears[session]
                self._tell_all()

    @contextlib.contextmanager
    def window(self, device: str) -> Iterator[Watcher]:
        """A window on a device, which is told which ears are open."""
        watcher = Watcher(device)
        self._watchers.add(watcher)
        self._tell(watcher)
        try:
            yield watcher
        finally:
            self._watchers.discard(watcher)
            self.watch(watcher, None)

    def watch(self, watcher: Watcher, session: str | None) -> None:
        """Lets a window watch a session, whenever an ear is open for it, or none."""
        for ear in self._ears.values():
            if watcher in ear.watchers:
                ear.watchers.remove(watcher)
        watcher.session = session
        ear_there = self._ears.get(session or "")
        if ear_there is not None:
            ear_there.catch_up(watcher)

    def say(self, watcher: Watcher, said: BaseModel) -> None:
        """Says something to the session that a window watches."""
        ear = self._ears.get(watcher.session or "")
        if ear is None:
            watcher.put(Refused(detail="Nobody is listening now. Press Listen first."))
        else:
            ear.say(said)

    def _tell(self, watcher: Watcher) -> None:
        ears = [ear.out for ear in self._ears.values()]
        watcher.put(EarsTold(device=watcher.device, ears=ears))

    def _tell_all(self) -> None:
        for watcher in self._watchers:
            self._tell(watcher)
