"""What keeps other pages and machines out: Host, Origin, headers and size limits.

The server listens on loopback, but a browser can be made to knock there by any page. So the
Host must be a loopback name (DNS rebinding), and whatever changes or listens must come from
our own origin (cross-site requests, sockets too).
"""

import re
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from orexis.server.problems import Problem, respond

_LOOPBACK_NAMES = frozenset({"localhost", "127.0.0.1", "::1"})
_SAFE_METHODS = frozenset({"GET", "HEAD", "OPTIONS"})
LARGEST_BODY_BYTES = 64 * 1024
LARGEST_RECORDING_BYTES = 400 * 1024 * 1024
_RECORDINGS = re.compile(r"/api/players/\d+/recordings")
LARGEST_SOCKET_MESSAGE_BYTES = 64 * 1024

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


class Guard:
    """ASGI middleware that refuses strangers and sets the security headers."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Passes the request on, or refuses it."""
        if scope["type"] not in ("http", "websocket"):
            await self._app(scope, receive, send)
            return
        refusal = _refusal(scope)
        if refusal is not None and scope["type"] == "websocket":
            await send({"type": "websocket.close", "code": 1008, "reason": refusal.title})
        elif refusal is not None:
            await respond(refusal)(scope, receive, send)
        else:
            await self._app(scope, _limited(receive, _largest_body(scope)), _with_headers(send))


def _refusal(scope: Scope) -> Problem | None:
    headers = Headers(scope=scope)
    if _hostname(headers.get("host", "")) not in _LOOPBACK_NAMES:
        return Problem(
            title="This address is not served here",
            status=421,
            detail="Open Orexis at the address it printed when it started.",
        )
    origin = headers.get("origin")
    own = f"http://{headers['host']}"
    if origin is not None and origin != own:
        return Problem(
            title="This came from another page",
            status=403,
            detail="Use Orexis in its own window.",
        )
    largest = _largest_body(scope)
    if _int_or_zero(headers.get("content-length")) > largest:
        return Problem(
            title="That is too much at once",
            status=413,
            detail=f"Send at most {largest // 1024} KiB.",
        )
    return None


def _largest_body(scope: Scope) -> int:
    """Only recordings are large."""
    uploads = scope.get("method") == "POST" and _RECORDINGS.fullmatch(scope["path"])
    return LARGEST_RECORDING_BYTES if uploads else LARGEST_BODY_BYTES


def _int_or_zero(text: str | None) -> int:
    """A header's number; 0 when there is none."""
    return int(text) if text is not None and text.isdecimal() else 0


def _hostname(host: str) -> str | None:
    try:
        return urlsplit(f"//{host}").hostname
    except ValueError:
        return None


def _limited(receive: Receive, largest: int) -> Receive:
    """Stops reading a body that was sent without a length and grows past the limit."""
    taken = 0

    async def limited() -> Message:
        nonlocal taken
        message = await receive()
        if message["type"] == "http.request":
            taken += len(message.get("body", b""))
            if taken > largest:
                return {"type": "http.disconnect"}
        return message

    return limited


def _with_headers(send: Send) -> Send:
    async def sending(message: Message) -> None:
        if message["type"] == "http.response.start":
            headers = MutableHeaders(scope=message)
            for name, value in _HEADERS.items():
                headers[name] = value
        await send(message)

    return sending
