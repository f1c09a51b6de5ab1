"""The house is served at the addresses that the machine has now."""

import asyncio
import logging
from collections.abc import Awaitable, Callable
from pathlib import Path

import pytest

from orexis.server.home import home as homes
from orexis.server.home.home import Home, HomeSettings, HomeUnusableError
from orexis.store.database import Database
from tests.server.conftest import run


@pytest.fixture
def addresses(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """The machine's own, which a test changes."""
    own = ["127.0.0.3"]
    monkeypatch.setattr(homes, "own_addresses", lambda: list(own))
    monkeypatch.setattr(homes, "LOOKED_AT_EVERY_S", 0.05)
    return own


def with_home(tmp_path: Path, use: Callable[[Home], Awaitable[None]]) -> None:
    async def whole() -> None:
        database = Database(tmp_path / "orexis.db")

        async def nobody(scope: object, receive: object, send: object) -> None:
            raise AssertionError("Nobody asks.")

        home = Home(nobody, database, tmp_path / "home", tmp_path, HomeSettings())
        try:
            await use(home)
        finally:
            await home.close()
            database.close()

    run(whole())


async def until(holds: Callable[[], bool]) -> None:
    async with asyncio.timeout(10):
        while not holds():
            await asyncio.sleep(0.01)


def hosts(home: Home) -> list[str]:
    return [host.split(":")[0] for host in home.addresses]


def test_it_follows_the_machines_addresses(tmp_path: Path, addresses: list[str]) -> None:
    async def use(home: Home) -> None:
        await home.open()
        assert hosts(home) == ["127.0.0.3"]
        addresses[:] = ["127.0.0.4", "127.0.0.5"]
        await until(lambda: hosts(home) == ["127.0.0.4", "127.0.0.5"])
        await home.open()
        await home.close()
        assert (home.is_open, home.addresses) == (False, ())

    with_home(tmp_path, use)


def test_without_a_network_it_says_so_once_and_is_back_with_it(
    tmp_path: Path, addresses: list[str], caplog: pytest.LogCaptureFixture
) -> None:
    async def use(home: Home) -> None:
        await home.open()
        addresses.clear()
        await until(lambda: home.trouble != "")
        assert "Connect it to the Wi-Fi" in home.trouble
        await asyncio.sleep(0.3)
        # Whoever asks meanwhile is told the same, and it is still looked after by one alone.
        with pytest.raises(HomeUnusableError):
            await home.open()
        addresses.append("127.0.0.3")
        await until(lambda: home.is_open)
        assert home.trouble == ""

    with caplog.at_level(logging.WARNING, logger=homes.__name__):
        with_home(tmp_path, use)
    assert len(caplog.records) == 1


def test_closed_it_stays_closed(tmp_path: Path, addresses: list[str]) -> None:
    async def use(home: Home) -> None:
        addresses.clear()
        with pytest.raises(HomeUnusableError):
            await home.open()
        addresses.append("127.0.0.3")
        await asyncio.sleep(0.2)
        assert not home.is_open
        await home.open()
        await home.close()
        await asyncio.sleep(0.2)
        assert (home.is_open, home.trouble) == (False, "")

    with_home(tmp_path, use)
