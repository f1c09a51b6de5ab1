"""Runs the server on loopback: one process on one data file, until it is told to stop."""

import contextlib
import errno
import signal
import socket
from collections.abc import Callable, Iterator
from types import FrameType

import uvicorn
from fastapi import FastAPI

from orexis.server.security import LARGEST_SOCKET_MESSAGE_BYTES

HOST = "127.0.0.1"
_STOPS_WITHIN_S = 2


class PortUnusableError(Exception):
    """The port cannot be listened on; the message says why and what to do."""


@contextlib.contextmanager
def listening_on(port: int) -> Iterator[socket.socket]:
    """A socket bound to a port of this machine. Raises `PortUnusableError`."""
    listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    try:
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        listener.bind((HOST, port))
        yield listener
    except OSError as error:
        if error.errno not in (errno.EADDRINUSE, errno.EACCES):
            raise
        why = "in use by another program" if error.errno == errno.EADDRINUSE else "not allowed"
        raise PortUnusableError(
            f"Port {port} is {why}. Choose another, as in --port {8421 if port == 8420 else 8420}."
        ) from error
    finally:
        listener.close()


def server_for(app: FastAPI, answers: Callable[[], None] = lambda: None) -> "Server":
    """A server for the application, not yet running; `answers` is called once it does answer."""
    config = uvicorn.Config(
        app,
        log_level="warning",
        proxy_headers=False,
        ws_max_size=LARGEST_SOCKET_MESSAGE_BYTES,
        timeout_graceful_shutdown=_STOPS_WITHIN_S,
    )
    return Server(config, answers)


def run(app: FastAPI, listener: socket.socket, answers: Callable[[], None]) -> None:
    """Serves on a listener until it is interrupted; `answers` is called once it does answer."""
    server = server_for(app, answers)
    server.run([listener])
    if server.interrupted:
        # The server raises the signal again as it ends, which is lost where a finaliser is running.
        raise KeyboardInterrupt


class Server(uvicorn.Server):
    """A server that says when it answers and whether it was interrupted."""

    def __init__(self, config: uvicorn.Config, answers: Callable[[], None]) -> None:
        super().__init__(config)
        self._answers = answers
        self.interrupted = False

    def handle_exit(self, sig: int, frame: FrameType | None) -> None:
        self.interrupted |= sig == signal.SIGINT
        super().handle_exit(sig, frame)

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        await super().startup(sockets)
        if self.started:
            self._answers()
