"""Whether Orexis is open to the devices of the house, and where."""

import asyncio
import contextlib
import logging
import socket
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

import uvicorn
from starlette.types import ASGIApp, Receive, Scope, Send

from orexis.server.home.addresses import own_addresses
from orexis.server.home.authority import RENEWED_BEFORE, Authority, AuthorityUnusableError
from orexis.server.home.devices import Devices
from orexis.server.home.door import HomeDoor
from orexis.server.home.pairing import Pairing
from orexis.server.security import DOOR, LARGEST_SOCKET_MESSAGE_BYTES
from orexis.store.database import Database

log = logging.getLogger(__name__)

LOOKED_AT_EVERY_S = 30.0
_STOPS_WITHIN_S, _GOODBYE_S = 2, 0.3
_MOST_AT_ONCE = 200


class HomeUnusableError(Exception):
    """Orexis cannot be opened to the house; the message says why and what to do."""


@dataclass(frozen=True, slots=True)
class HomeSettings:
    """At which port the house is served (0 takes any that is free), at which addresses where not at
    all of the machine's own, and whether from the start."""

    port: int = 0
    addresses: tuple[str, ...] = ()
    is_open: bool = False


class Home:
    """Opens the door for the house and closes it, and keeps it at the machine's addresses."""

    def __init__(
        self, app: ASGIApp, database: Database, folder: Path, site: Path, asked: HomeSettings
    ) -> None:
        self.devices, self.pairing = Devices(database), Pairing()
        self.authority = Authority(folder)
        self._app, self._asked = app, asked
        self._door = HomeDoor(self.devices, site)
        self._changing = asyncio.Lock()
        self.trouble = ""
        """Why it could not be opened when that was last tried."""
        self._server: _Server | None = None
        self._serving: asyncio.Task[None] | None = None
        self._watching: asyncio.Task[None] | None = None
        self._ends_at: datetime | None = None

    @property
    def is_open(self) -> bool:
        """Whether the house is served."""
        return self._server is not None

    @property
    def addresses(self) -> tuple[str, ...]:
        """Where, as `host:port`."""
        return self._door.hosts

    @property
    def urls(self) -> list[str]:
        """The addresses as a browser opens them."""
        return [f"https://{host}" for host in self.addresses]

    async def open(self) -> None:
        """Serves the house. Raises `HomeUnusableError`."""
        async with self._changing:
            if self.is_open:
                return
            await self._open(self._wanted())
            if self._watching is None:
                self._watching = asyncio.create_task(self._keep_up())

    async def close(self) -> None:
        """Ends it; sockets of devices are closed."""
        watching, self._watching = self._watching, None
        if watching is not None:
            watching.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await watching
        async with self._changing:
            await self._close()
            self.trouble = ""
            self.pairing.hide()

    def _wanted(self) -> tuple[str, ...]:
        return self._asked.addresses or tuple(own_addresses())

    async def _open(self, wanted: Sequence[str]) -> None:
        try:
            await self._open_at(wanted)
        except HomeUnusableError as error:
            self.trouble = str(error)
            raise
        self.trouble = ""

    async def _open_at(self, wanted: Sequence[str]) -> None:
        if not wanted:
            raise HomeUnusableError(
                "This computer is in no network of its own. Connect it to the Wi-Fi of the house, "
                "then try again."
            )
        listeners = _bound(wanted, self._asked.port)
        try:
            now = datetime.now(UTC)
            files = await asyncio.to_thread(self.authority.server_files, wanted, now)
        except (AuthorityUnusableError, OSError) as error:
            for listener in listeners:
                listener.close()
            raise HomeUnusableError(f"The certificate cannot be made: {error}") from error
        self._ends_at = files.ends_at
        hosts = [":".join(map(str, listener.getsockname()[:2])) for listener in listeners]
        config = uvicorn.Config(
            self._entered,
            log_level="warning",
            interface="asgi3",
            lifespan="off",
            proxy_headers=False,
            limit_concurrency=_MOST_AT_ONCE,
            server_header=False,
            ssl_certfile=files.certificate,
            ssl_keyfile=files.key,
            timeout_graceful_shutdown=_STOPS_WITHIN_S,
            ws_max_size=LARGEST_SOCKET_MESSAGE_BYTES,
        )
        self._door.hosts = tuple(hosts)
        server = self._server = _Server(config)
        self._serving = asyncio.create_task(server.serve(listeners))

    async def _close(self) -> None:
        server, serving = self._server, self._serving
        self._server = self._serving = None
        self._door.hosts = ()
        if server is None or serving is None:
            return
        server.should_exit = True
        await serving

    async def _keep_up(self) -> None:
        """Moves to other addresses where the machine's change, and renews the certificate."""
        while True:
            await asyncio.sleep(LOOKED_AT_EVERY_S)
            async with self._changing:
                await self._move()

    async def _move(self) -> None:
        wanted, before = self._wanted(), self.trouble
        served = {host.rpartition(":")[0] for host in self.addresses}
        ends_at = self._ends_at
        holds = ends_at is not None and ends_at - datetime.now(UTC) > RENEWED_BEFORE
        if set(wanted) == served and holds:
            return
        await self._close()
        try:
            await self._open(wanted)
        except HomeUnusableError as error:
            if self.trouble != before:
                log.warning("The devices of the house are not served now: %s", error)

    async def _entered(self, scope: Scope, receive: Receive, send: Send) -> None:
        await self._app({**scope, DOOR: self._door}, receive, send)


class _Server(uvicorn.Server):
    """A server within another's loop, which minds the signals."""

    @contextlib.contextmanager
    def capture_signals(self) -> Iterator[None]:
        yield

    async def shutdown(self, sockets: list[socket.socket] | None = None) -> None:
        # A device that is asleep answers no goodbye, and nobody waits for it.
        asyncio.get_running_loop().call_later(_GOODBYE_S, self._abort)
        await super().shutdown(sockets)

    def _abort(self) -> None:
        for connection in list(self.server_state.connections):
            transport: asyncio.Transport | None = getattr(connection, "transport", None)
            if transport is not None:
                transport.abort()


def _bound(addresses: Sequence[str], port: int) -> list[socket.socket]:
    """Sockets at some addresses. Raises `HomeUnusableError`."""
    listeners: list[socket.socket] = []
    try:
        for address in addresses:
            listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
            listeners.append(listener)
            listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            listener.bind((address, port))
    except OSError as error:
        for listener in listeners:
            listener.close()
        raise HomeUnusableError(
            f"Port {port} of {address} cannot be used ({error.strerror}). Start Orexis with "
            "another --port."
        ) from error
    return listeners
