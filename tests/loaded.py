"""Loads what a server loads when it is first used, and answers what every page asks for first:
servers of tests are forked from a process that has imported this."""

from pathlib import Path
from tempfile import TemporaryDirectory

from fastapi.testclient import TestClient

import orexis.cli.serve
import orexis.formats.engraving
import orexis.formats.melody
import orexis.formats.musicxml
import orexis.server.run
from orexis.server.app import Settings, create_app
from orexis.server.warming import listen_once
from tests.server.conftest import BASE, MAREN

__all__ = ["orexis"]

_ASKED_FIRST = ("today", "book", "book/long-tone/stand", "takes", "sessions/open", "horn", "hurts")


def _answer_once() -> None:
    with TemporaryDirectory() as folder:
        app = create_app(Settings(Path(folder) / "orexis.db"))
        with TestClient(app, base_url=BASE) as client:
            client.post("/api/players", json=MAREN).raise_for_status()
            for path in _ASKED_FIRST:
                client.get(f"/api/players/1/{path}").raise_for_status()


listen_once()
_answer_once()
