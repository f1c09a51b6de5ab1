"""The house's socket: one for each window. It tells which ears are open, and what is heard where
the window watches; it takes what may be said from there."""

import asyncio
import contextlib

from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from pydantic import BaseModel, ValidationError

from orexis.server.home.door import device_name, may_play
from orexis.server.live.house import House, LaggingError, Watcher
from orexis.server.live.messages import SAID_IN_THE_HOUSE, Refused, Watching

router = APIRouter()

_STRANGE, _LAGS = 4001, 4000
_MAY_ONLY_LOOK = (
    "This device may only look. On the computer, open Phones and tablets to allow it to play."
)


@router.websocket("/api/house")
async def house(socket: WebSocket) -> None:
    """Serves one window."""
    await socket.accept()
    house: House = socket.app.state.live_sessions.house
    with (
        house.window(device_name(socket.scope)) as watcher,
        contextlib.suppress(WebSocketDisconnect, RuntimeError),
    ):
        telling = asyncio.create_task(_tell(socket, watcher))
        try:
            await _listen(socket, house, watcher)
        finally:
            telling.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await telling


async def _tell(socket: WebSocket, watcher: Watcher) -> None:
    with contextlib.suppress(WebSocketDisconnect, RuntimeError):
        try:
            while True:
                message = await watcher.next()
                await socket.send_text(message.model_dump_json())
        except LaggingError:
            await socket.close(_LAGS)


async def _listen(socket: WebSocket, house: House, watcher: Watcher) -> None:
    while True:
        message = await socket.receive()
        if message["type"] == "websocket.disconnect":
            return
        said = _said(message.get("text") or "")
        if said is None:
            await socket.close(_STRANGE)
            return
        if isinstance(said, Watching):
            house.watch(watcher, said.session)
        elif may_play(socket.scope):
            house.say(watcher, said)
        else:
            watcher.put(Refused(detail=_MAY_ONLY_LOOK))


def _said(text: str) -> BaseModel | None:
    """What a window says; `None` for anything else."""
    try:
        return SAID_IN_THE_HOUSE.validate_json(text)
    except ValidationError:
        return None
