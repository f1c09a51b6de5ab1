"""What keeps other pages and machines out: Host, Origin, headers and size limits.

The server listens on loopback, but a browser can be made to knock there by any page. So the
Host must be a loopback name (DNS rebinding), and whatever changes or listens must come from
our own origin (cross-site requests, sockets too). Who comes by another `Door` is asked there.
"""

import asyncio
import re
from abc import ABC, abstractmethod
from collections.abc import Mapping
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from orexis.formats.bundle import LARGEST_BUNDLE_BYTES
from orexis.server.problems import BodyRefusedError, Problem, respond

_LOOPBACK_NAMES = frozenset({"localhost", "127.0.0.1", "::1"})
LARGEST_BODY_BYTES = 64 * 1024
LARGEST_RECORDING_BYTES = 400 * 1024 * 1024
LARGEST_MELODY_BYTES = 2 * 1024 * 1024
LARGEST_SOUND_BYTES = 16 * 1024 * 1024
_UPLOADS = {
    re.compile(r"/api/players/\d+/recordings"): LARGEST_RECORDING_BYTES,
    re.compile(r"/api/players/\d+/melodies"): LARGEST_MELODY_BYTES,
    re.compile(r"/api/sessions/[0-9a-f]+/memo"): LARGEST_SOUND_BYTES,
    re.compile(r"/api/latency"): LARGEST_SOUND_BYTES,
    re.compile(r"/api/guests"): LARGEST_BUNDLE_BYTES,
    re.compile(r"/api/players/\d+/(words-back|incoming/\w+)"): LARGEST_MELODY_BYTES,
}
LARGEST_SOCKET_MESSAGE_BYTES = 64 * 1024
BODY_WAITS_S = 20.0
"""A body that stops coming for so long is given up."""

_HEADERS = {
    "Content-Security-Policy": (
        "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; "
        "img-src 'self' data:; media-src 'self' blob:; connect-src 'self'; worker-src 'self'; "
        "manifest-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
    ),
    "Permissions-Policy": "microphone=(self), camera=(self), geolocation=()",
    "Referrer-Policy": "no-referrer",
    "X-Content-Type-Options": "nosniff",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}

_OTHER_ADDRESS = Problem(
    title="This address is not served here",
    status=421,
    detail="Open Orexis at the address it printed when it started.",
)
_OTHER_PAGE = Problem(
    title="This came from another page", status=403, detail="Use Orexis in its own window."
)
_TOO_SLOW = Problem(
    title="The rest of it never came", status=408, detail="Check the connection, then try again."
)


DOOR = "orexis.door"
"""Where a scope says by which door a request came; it is loopback where it does not."""


class Door(ABC):
    """One way to the server: which addresses are served by it, and who may come in."""

    scheme = "http"

    @abstractmethod
    def serves(self, host: str) -> bool:
        """Whether a Host is an address of this door."""

    def refusal(self, scope: Scope, headers: Headers) -> ASGIApp | None:
        """What answers those who may not come in; `None` for those who may."""
        return None

    async def admit(self, app: ASGIApp, scope: Scope, receive: Receive, send: Send) -> None:
        """Lets a socket in."""
        await app(scope, receive, send)


class _Loopback(Door):
    """For those who sit at the machine."""

    def serves(self, host: str) -> bool:
        return _hostname(host) in _LOOPBACK_NAMES


_LOOPBACK = _Loopback()


class Guard:
    """ASGI middleware that refuses strangers, bounds bodies and sets the security headers."""

    def __init__(self, app: ASGIApp, body_waits_s: float = BODY_WAITS_S) -> None:
        self._app = app
        self._body_waits_s = body_waits_s

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Passes the request on, or refuses it."""
        if scope["type"] not in ("http", "websocket"):
            await self._app(scope, receive, send)
            return
        sending = _with_headers(send)
        door: Door = scope.get(DOOR, _LOOPBACK)
        headers = Headers(scope=scope)
        problem = _stranger(door, headers) or _too_large(scope)
        refusal = door.refusal(scope, headers) if problem is None else refusing(problem)
        if refusal is not None:
            await refusal(scope, receive, sending)
        elif scope["type"] == "websocket":
            await door.admit(self._app, scope, receive, sending)
        else:
            limited = _limited(receive, _largest_body(scope), self._body_waits_s)
            await self._app(scope, limited, sending)


def refusing(problem: Problem, more: Mapping[str, str] | None = None) -> ASGIApp:
    """Answers with a problem, a socket too, with `more` headers."""

    async def refuse(scope: Scope, receive: Receive, send: Send) -> None:
        answers = "websocket.http.response" in scope.get("extensions", {})
        if scope["type"] == "websocket" and not answers:
            await send({"type": "websocket.close", "code": 1008, "reason": problem.title})
            return
        # Whatever of a body was not read must not be taken for another request.
        await respond(problem, {"Connection": "close", **(more or {})})(scope, receive, send)

    return refuse


def _stranger(door: Door, headers: Headers) -> Problem | None:
    if not door.serves(headers.get("host", "")):
        return _OTHER_ADDRESS
    origin = headers.get("origin")
    if origin is not None and origin != f"{door.scheme}://{headers['host']}":
        return _OTHER_PAGE
    return None


def _too_large(scope: Scope) -> Problem | None:
    largest = _largest_body(scope)
    length = Headers(scope=scope).get("content-length", "")
    too_large = length.isdecimal() and int(length[:20]) > largest
    return too_much(largest) if too_large else None


def too_much(largest_bytes: int) -> Problem:
    """The problem of a body over the limit."""
    return Problem(
        title="That is too much at once",
        status=413,
        detail=f"Send at most {largest_bytes // 1024} KiB.",
    )


def _largest_body(scope: Scope) -> int:
    """Only files and sounds that are sent are large."""
    if scope.get("method") != "POST":
        return LARGEST_BODY_BYTES
    found = (most for path, most in _UPLOADS.items() if path.fullmatch(scope["path"]))
    return next(found, LARGEST_BODY_BYTES)


def _hostname(host: str) -> str | None:
    try:
        return urlsplit(f"//{host}").hostname
    except ValueError:
        return None


def _limited(receive: Receive, largest: int, waits_s: float) -> Receive:
    """Gives up a body that grows past the limit without having said so, or stops coming."""
    taken = 0
    whole = False

    async def limited() -> Message:
        nonlocal taken, whole
        if whole:
            return await receive()
        try:
            message = await asyncio.wait_for(receive(), waits_s)
        except TimeoutError:
            raise BodyRefusedError(_TOO_SLOW) from None
        if message["type"] == "http.request":
            taken += len(message.get("body", b""))
            whole = not message.get("more_body", False)
            if taken > largest:
                raise BodyRefusedError(too_much(largest))
        return message

    return limited


def _with_headers(send: Send) -> Send:
    async def sending(message: Message) -> None:
        if message["type"] in ("http.response.start", "websocket.http.response.start"):
            headers = MutableHeaders(raw=message.setdefault("headers", []))
            for name, value in _HEADERS.items():
                headers[name] = value
        await send(message)

    return sending
