"""Tries the wheel as a player would: installed by itself, without Node and away from this
checkout, it serves the demo and a file of one's own. `make wheel` builds and tries it.
"""

import json
import os
import signal
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
import zipfile
from pathlib import Path

ROOT = Path(__file__).parents[1]
_STARTS_WITHIN_S = 180.0


def main() -> None:
    """Raises an error where anything is not as it should be."""
    (wheel,) = (ROOT / "dist").glob("orexis-*.whl")
    with tempfile.TemporaryDirectory() as folder:
        place = Path(folder)
        subprocess.run([sys.executable, "-m", "venv", place / "venv"], check=True)
        command = place / "venv" / "bin"
        quiet = ("--quiet", "--disable-pip-version-check")
        lock = ROOT / "requirements.lock"
        subprocess.run([command / "pip", "install", *quiet, "-c", lock, wheel], check=True)
        # Nothing of the checkout is found from here, nor any Node.
        bare = {"PATH": str(command), "HOME": folder, "LANG": os.environ.get("LANG", "C.UTF-8")}
        _serve(command, place, bare, "serve", players=0)
        _serve(command, place, bare, "demo", players=4)
        checked = subprocess.run(
            [command / "orexis", "check", "--data", place / "demo.db"],
            cwd=place, env=bare, check=True, capture_output=True, text=True,
        )  # fmt: skip
        carried = place / "report.zip"
        subprocess.run(
            [command / "orexis", "report", carried, "--player=Maren", "--data", place / "demo.db"],
            cwd=place, env=bare, check=True, capture_output=True,
        )  # fmt: skip
        with zipfile.ZipFile(carried) as file:
            assert "index.html" in file.namelist(), "the page of a report is not in the wheel"
        print(f"{wheel.name}: {wheel.stat().st_size / 1e6:.1f} MB; {checked.stdout.strip()}")


def _serve(command: Path, place: Path, bare: dict[str, str], what: str, players: int) -> None:
    """Starts it, looks at the page and what it asks for, and stops it as a player does."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    server = subprocess.Popen(
        [command / "orexis", what, "--data", place / f"{what}.db", "--port", str(port)],
        cwd=place, env=bare,
    )  # fmt: skip
    try:
        url = f"http://127.0.0.1:{port}"
        _wait(f"{url}/api/health", server)
        page = _get(url)
        script = page.split('<script type="module"', 1)[1].split('src="', 1)[1].split('"', 1)[0]
        assert len(_get(url + script)) > 50_000, "the front end is not in the wheel"
        icons = json.loads(_get(f"{url}/manifest.webmanifest"))["icons"]
        for icon in icons:
            with urllib.request.urlopen(url + icon["src"]) as found:
                assert found.headers["Content-Type"] == icon["type"]
        assert len(json.loads(_get(f"{url}/api/players"))) == players
    finally:
        server.send_signal(signal.SIGINT)
        server.wait(timeout=30)


def _wait(address: str, server: "subprocess.Popen[bytes]") -> None:
    deadline = time.monotonic() + _STARTS_WITHIN_S
    while time.monotonic() < deadline:
        if server.poll() is not None:
            raise RuntimeError("It ended by itself.")
        try:
            urllib.request.urlopen(address).close()
            return
        except OSError:
            time.sleep(0.1)
    raise TimeoutError("It did not start.")


def _get(address: str) -> str:
    with urllib.request.urlopen(address) as answer:
        text: str = answer.read().decode()
        return text


if __name__ == "__main__":
    main()
