"""The door for the devices of the house: TLS on the machine's own addresses, and nothing without a
token but the page that pairs."""

import asyncio
import contextlib
from datetime import UTC, datetime
from pathlib import Path

from starlette.datastructures import Headers
from starlette.requests import cookie_parser
from starlette.responses import RedirectResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from orexis.server.home.devices import Device, Devices
from orexis.server.problems import Problem
from orexis.server.security import Door, refusing

COOKIE = "__Host-orexis"
COOKIE_LASTS_S = 400 * 24 * 3600
PAIRING_PAGE = "/pair/"
_CERTIFICATE = "/trust"
_PAIRS = "/api/pairing"
_READING = frozenset({"GET", "HEAD", "OPTIONS"})
_PLAYING_SOCKET = "/api/live"
DEVICE = "orexis.device"
"""Where a scope says which paired device asks; it is nobody's at the machine itself."""
AT_THE_MACHINE = "the computer"
SENT_OFF = 4003
"""The close code of a socket whose device may not stay."""

_NOT_PAIRED = Problem(
    title="This device is not paired",
    status=401,
    detail="Open Orexis on this device and type the code that the computer shows.",
)
_MAY_ONLY_LOOK = Problem(
    title="This device may only look",
    status=403,
    detail="On the computer, open Phones and tablets and allow this device to play.",
)
_NOT_OURS = Problem(
    title="This came from another page", status=403, detail="Use Orexis in its own window."
)


def device_name(scope: Scope) -> str:
    """What the device is called that a request or socket came from."""
    device: Device | None = scope.get(DEVICE)
    return AT_THE_MACHINE if device is None else device.name


def may_play(scope: Scope) -> bool:
    """Whether that device may play."""
    device: Device | None = scope.get(DEVICE)
    return device is None or device.may_play


class HomeDoor(Door):
    """Lets paired devices in at some addresses (`host:port`)."""

    scheme = "https"

    def __init__(self, devices: Devices, site: Path) -> None:
        self._devices = devices
        pairing = site / PAIRING_PAGE.strip("/")
        files = [path.relative_to(site) for path in pairing.rglob("*") if path.is_file()]
        # Named one by one: a path can be written in ways that lead elsewhere.
        self._open_to_all = {PAIRING_PAGE, _CERTIFICATE, *(f"/{path.as_posix()}" for path in files)}
        self.hosts: tuple[str, ...] = ()

    def serves(self, host: str) -> bool:
        """As `Door.serves`: the addresses it is open at and no names."""
        return host in self.hosts

    def refusal(self, scope: Scope, headers: Headers) -> ASGIApp | None:
        """As `Door.refusal`. Who may come in is noted in the scope."""
        changes = scope["type"] == "websocket" or scope["method"] not in _READING
        # A browser says where such a request comes from; what does not is none.
        if changes and "origin" not in headers:
            return refusing(_NOT_OURS)
        if self._is_open_to_all(scope):
            return None
        token = cookie_parser(headers.get("cookie", "")).get(COOKIE, "")
        device = self._devices.find(token, datetime.now(UTC)) if token else None
        if device is None:
            if scope["type"] == "http" and "text/html" in headers.get("accept", ""):
                return RedirectResponse(PAIRING_PAGE, 303, {"Cache-Control": "no-store"})
            return refusing(_NOT_PAIRED)
        if not device.may_play and self._plays(scope):
            return refusing(_MAY_ONLY_LOOK)
        scope[DEVICE] = device
        return None

    async def admit(self, app: ASGIApp, scope: Scope, receive: Receive, send: Send) -> None:
        """As `Door.admit`: for as long as the device may stay."""
        device: Device = scope[DEVICE]
        loop, visit = asyncio.get_running_loop(), object()
        sent_off = asyncio.Event()

        async def receiving() -> Message:
            coming, going = asyncio.ensure_future(receive()), asyncio.ensure_future(sent_off.wait())
            try:
                await asyncio.wait((coming, going), return_when=asyncio.FIRST_COMPLETED)
                if not sent_off.is_set():
                    return await coming
            finally:
                coming.cancel()
                going.cancel()
            with contextlib.suppress(RuntimeError):
                await send({"type": "websocket.close", "code": SENT_OFF})
            return {"type": "websocket.disconnect", "code": SENT_OFF}

        def send_off() -> None:
            loop.call_soon_threadsafe(sent_off.set)

        self._devices.staying(device.id, visit, send_off)
        try:
            await app(scope, receiving, send)
        finally:
            self._devices.left(device.id, visit)

    def _is_open_to_all(self, scope: Scope) -> bool:
        if scope["type"] == "websocket":
            return False
        path: str = scope["path"]
        method: str = scope["method"]
        if method in _READING:
            return path in self._open_to_all
        return path == _PAIRS and method == "POST"

    def _plays(self, scope: Scope) -> bool:
        if scope["type"] == "websocket":
            return bool(scope["path"] == _PLAYING_SOCKET)
        return bool(scope["method"] not in _READING)
