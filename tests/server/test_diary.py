"""The diary over HTTP: an empty month, a day, and what is refused."""

import pytest
from fastapi.testclient import TestClient

DIARY = "/api/players/1/diary"


def test_a_month_without_practice_says_so(client: TestClient) -> None:
    assert client.get(f"{DIARY}/2026/2").json() == {
        "first": "2026-02-01",
        "title": "February 2026",
        "words": "No practice.",
        "days": [],
        "begins": None,
    }


def test_a_day_has_a_title_and_nothing_on_it(client: TestClient) -> None:
    page = client.get(f"{DIARY}/2026/2/28").json()
    assert (page["title"], page["words"]) == ("Saturday, 28 February 2026", "No practice.")
    assert (page["sessions"], page["bookmarks"]) == ([], [])


@pytest.mark.parametrize("where", ["2026/13", "2026/2/29", "2026/0", "9999/1", "2026/2/x"])
def test_what_is_no_day_is_refused(client: TestClient, where: str) -> None:
    assert client.get(f"{DIARY}/{where}").status_code == 422
    assert client.get(f"/api/players/9/diary/{where}").status_code == 422


def test_nobody_has_no_diary(client: TestClient) -> None:
    assert client.get("/api/players/9/diary/2026/2").status_code == 404
