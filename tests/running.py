"""A server on a port nobody else listens on: in a thread of the tests, where what one test has
loaded and made is there for the next, or, where it is to be killed, in a process of its own."""

import socket
import threading
import time
from contextlib import suppress
from multiprocessing import get_context
from pathlib import Path
from typing import Protocol

import httpx

from orexis.server.app import Settings, create_app
from orexis.server.home.home import HomeSettings
from orexis.server.run import Server, listening_on, server_for
from orexis.server.security import BODY_WAITS_S

# A process is forked from one that has loaded everything already.
_CONTEXT = get_context("forkserver")
_CONTEXT.set_forkserver_preload(["tests.running"])

_STARTS_WITHIN_S = 60.0
_STOPS_WITHIN_S = 20.0


def free_port() -> int:
    """A port nobody listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port: int = probe.getsockname()[1]
        return port


def _run(server: Server, port: int) -> None:
    with listening_on(port) as listener:
        server.run([listener])


def _serve(settings: Settings, port: int) -> None:
    _run(server_for(create_app(settings)), port)


class _Started(Protocol):
    def stop(self) -> None:
        """Ends it as a player does."""


class _Thread:
    def __init__(self, settings: Settings, port: int) -> None:
        self._server = server_for(create_app(settings))
        self._thread = threading.Thread(target=_run, args=(self._server, port), daemon=True)
        self._thread.start()

    def stop(self) -> None:
        self._server.should_exit = True
        self._thread.join(_STOPS_WITHIN_S)
        assert not self._thread.is_alive(), "The server did not stop."


class _Process:
    def __init__(self, settings: Settings, port: int) -> None:
        self._process = _CONTEXT.Process(target=_serve, args=(settings, port), daemon=True)
        self._process.start()

    def stop(self) -> None:
        self._process.terminate()
        self._process.join(_STOPS_WITHIN_S)

    def kill(self) -> None:
        self._process.kill()
        self._process.join()

    @property
    def pid(self) -> int:
        assert self._process.pid is not None
        return self._process.pid


class Running:
    """The server on a port and data file of its own, at an address `at_home` for the devices of
    the house as well. One in its `own_process` can be killed and started again."""

    def __init__(
        self,
        data: Path,
        *,
        at_home: str | None = None,
        own_process: bool = False,
        body_waits_s: float = BODY_WAITS_S,
    ) -> None:
        self.port = free_port()
        self.url = f"http://127.0.0.1:{self.port}"
        self.data = data
        addresses = (at_home,) if at_home else ()
        home = HomeSettings(self.port, addresses, is_open=at_home is not None)
        # One of its own is warmed up, as `orexis serve` is.
        self._settings = Settings(data, body_waits_s, warms_up=own_process, home=home)
        self._way = _Process if own_process else _Thread
        self.start()

    def start(self) -> None:
        """Starts it and waits until it answers."""
        self._started: _Started = self._way(self._settings, self.port)
        deadline = time.monotonic() + _STARTS_WITHIN_S
        while time.monotonic() < deadline:
            with suppress(httpx.HTTPError):
                httpx.get(f"{self.url}/api/health").raise_for_status()
                return
            time.sleep(0.05)
        raise TimeoutError("The server did not start.")

    @property
    def pid(self) -> int:
        """The number of its own process."""
        return self._own.pid

    def kill(self) -> None:
        """Ends it as a power cut does."""
        self._own.kill()

    @property
    def _own(self) -> _Process:
        assert isinstance(self._started, _Process), "It is a thread of the tests."
        return self._started

    def stop(self) -> None:
        """Ends it as a player does."""
        self._started.stop()
