"""`orexis serve` in a process of its own, on a port nobody else listens on."""

import signal
import socket
import subprocess
import sys
import time
from contextlib import suppress
from pathlib import Path

import httpx

_STARTS_WITHIN_S = 30.0


def free_port() -> int:
    """A port nobody listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port: int = probe.getsockname()[1]
        return port


class Running:
    """The server on a port and data file of its own; it can be killed and started again."""

    def __init__(self, data: Path) -> None:
        self.port = free_port()
        self.url = f"http://127.0.0.1:{self.port}"
        self.data = data
        self.start()

    def start(self) -> None:
        """Starts it and waits until it answers."""
        self.process = subprocess.Popen(
            [
                *(sys.executable, "-m", "orexis.cli", "serve"),
                *("--data", str(self.data), "--port", str(self.port)),
            ],
            stdout=subprocess.DEVNULL,
        )
        deadline = time.monotonic() + _STARTS_WITHIN_S
        while time.monotonic() < deadline:
            with suppress(httpx.HTTPError):
                httpx.get(f"{self.url}/api/health").raise_for_status()
                return
            time.sleep(0.1)
        raise TimeoutError("The server did not start.")

    def kill(self) -> None:
        """Ends it as a power cut does."""
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()

    def stop(self) -> None:
        """Ends it as a player does."""
        self.process.terminate()
        self.process.wait(timeout=20)
