"""`orexis serve` in a process of its own, on a port nobody else listens on.

The process is forked from one that has loaded everything already (`tests.loaded`): to load it is
most of what a start takes, and sixty tests start a server.
"""

import os
import socket
import sys
import time
from contextlib import suppress
from multiprocessing import get_context
from pathlib import Path

import httpx

_STARTS_WITHIN_S = 30.0
_CONTEXT = get_context("forkserver")
_CONTEXT.set_forkserver_preload(["tests.loaded"])


def free_port() -> int:
    """A port nobody listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port: int = probe.getsockname()[1]
        return port


def _serve(data: Path, port: int, more: tuple[str, ...]) -> None:
    from orexis.cli import app

    sys.stdout = open(os.devnull, "w")  # noqa: SIM115, PTH123 - for as long as the process lasts
    app(["serve", "--data", str(data), "--port", str(port), *more])


class Running:
    """The server on a port and data file of its own, with `more` options; it can be killed and
    started again."""

    def __init__(self, data: Path, *more: str) -> None:
        self._more = more
        self.port = free_port()
        self.url = f"http://127.0.0.1:{self.port}"
        self.data = data
        self.start()

    def start(self) -> None:
        """Starts it and waits until it answers."""
        self.process = _CONTEXT.Process(
            target=_serve, args=(self.data, self.port, self._more), daemon=True
        )
        self.process.start()
        deadline = time.monotonic() + _STARTS_WITHIN_S
        while time.monotonic() < deadline:
            with suppress(httpx.HTTPError):
                httpx.get(f"{self.url}/api/health").raise_for_status()
                return
            time.sleep(0.05)
        raise TimeoutError("The server did not start.")

    def kill(self) -> None:
        """Ends it as a power cut does."""
        self.process.kill()
        self.process.join()

    def stop(self) -> None:
        """Ends it as a player does."""
        self.process.terminate()
        self.process.join(timeout=20)
