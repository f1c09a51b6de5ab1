"""Enough for today, heard while a session is played: hard work ends before the player would."""

from typing import Any

from fastapi.testclient import TestClient
from sqlalchemy import select
from sqlalchemy.orm import Session

from orexis.store.database import Database
from orexis.store.models import SessionEntry
from tests.server.test_live import CHUNKS, HELLO, LIVE, SESSION
from tests.server.test_taking_up import heard_until, send
from tests.store.test_history import keep

# A session with its easy notes first and a ladder after them.
PLANNED = {
    **HELLO,
    "title": "Today",
    "kind": "plan",
    "exercises": [
        {**HELLO["exercises"][0], "way": {"needed": "9"}},
        {"family": "chromatic-ladder", "values": {}},
    ],
}


def played(session: Session, count: int, **measures: float) -> None:
    """So many takes of B♭3 before, in the same session."""
    for _ in range(count):
        take = keep(session, 0, 58, session_id=SESSION)
        take.first_frame -= 1000
        (note,) = take.notes
        note.spread_cents = measures["spread_cents"]
        note.hold_s = measures["hold_s"]


def log(database: Database) -> dict[str, Any]:
    with database.session() as session:
        entries = session.scalars(select(SessionEntry).order_by(SessionEntry.number))
        return {entry.kind: entry.content for entry in entries}


def play(client: TestClient, late: dict[str, float]) -> dict[str, Any]:
    """What is in the log after one more note, twenty steady ones and nine late ones."""
    database: Database = client.app.state.database  # type: ignore[attr-defined]
    with database.session() as session:
        played(session, 20, hold_s=4.0, spread_cents=3.0)
        played(session, 9, **late)
    with client.websocket_connect(LIVE) as socket:
        send(socket, CHUNKS, PLANNED)
        heard_until(socket, "verdict")
        socket.send_json({"type": "bye"})
        heard_until(socket, "closed")
    return log(database)


def test_shrinking_holds_and_growing_spread_are_entered_with_their_numbers(
    client: TestClient,
) -> None:
    signs = play(client, {"hold_s": 2.0, "spread_cents": 12.0})["tired"]["signs"]
    assert signs == [
        "notes hold for 50 % of their length, 100 % at first",
        "notes spread over 12 cents, 3 at first",
    ]


def test_notes_that_stay_as_they_were_end_nothing(client: TestClient) -> None:
    assert "tired" not in play(client, {"hold_s": 4.0, "spread_cents": 3.0})
