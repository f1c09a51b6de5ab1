"""A server that serves a house on loopback addresses, over real TLS."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from ssl import SSLContext, create_default_context

import httpx
import pytest

from tests.running import Running

HOUSE = "127.0.0.2"


class ServingHouse(Running):
    """A server that serves the house at one address."""

    def __init__(self, data: Path, *, own_process: bool = False) -> None:
        super().__init__(data, at_home=HOUSE, own_process=own_process)
        self.house = f"https://{HOUSE}:{self.port}"
        self.host = f"{HOUSE}:{self.port}"

    @property
    def trust(self) -> SSLContext:
        """The machine's authority, and no other."""
        return create_default_context(cafile=f"{self.data}-home/authority.pem")

    def at_the_machine(self) -> httpx.Client:
        """Whoever sits at the machine."""
        return httpx.Client(base_url=self.url)

    def device(self) -> httpx.Client:
        """A device that nobody has paired; it says where it comes from, as browsers do."""
        return httpx.Client(base_url=self.house, verify=self.trust, headers={"Origin": self.house})

    @contextmanager
    def paired(self, name: str = "Phone", *, may_play: bool = True) -> Iterator[httpx.Client]:
        """A device that was paired."""
        with self.at_the_machine() as here:
            code = here.post("/api/home/code", json={"may_play": may_play}).json()["digits"]
        with self.device() as device:
            device.post("/api/pairing", json={"code": code, "name": name}).raise_for_status()
            yield device


@pytest.fixture(scope="module")
def house(tmp_path_factory: pytest.TempPathFactory) -> Iterator[ServingHouse]:
    server = ServingHouse(tmp_path_factory.mktemp("house") / "orexis.db")
    yield server
    server.stop()


@pytest.fixture
def fresh(own_process: bool, tmp_path: Path) -> Iterator[ServingHouse]:
    """One of which nothing is shared with other tests."""
    server = ServingHouse(tmp_path / "orexis.db", own_process=own_process)
    yield server
    server.stop()
