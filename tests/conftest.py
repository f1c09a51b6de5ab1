"""Property tests look for what is wrong, not for how fast a busy machine is; the demo is filled
once."""

import os
import shutil
import sqlite3
from collections.abc import Iterator, Sequence
from contextlib import closing
from datetime import datetime
from pathlib import Path
from typing import cast

import pytest
from filelock import FileLock
from hypothesis import settings
from sqlalchemy import Engine, inspect

from orexis.demo.band import BAND, Member
from orexis.demo.scenario import fill
from orexis.server.warming import listen_once
from orexis.store import database as store_database
from orexis.store.database import Database

settings.register_profile("anywhere", deadline=None)
# The same examples every time, so that a failure is of the change and not of chance.
settings.register_profile("ci", deadline=None, derandomize=True)
settings.load_profile("ci" if os.environ.get("CI") else "anywhere")


def pytest_sessionstart(session: pytest.Session) -> None:
    """What listening needs is made once, where it has not been, and not by every worker."""
    if not hasattr(session.config, "workerinput"):
        listen_once()


@pytest.hookimpl(tryfirst=True)
def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Of many cases of one test, marked `one_in` so many, the others look farther."""
    cases: dict[str, int] = {}
    for item in items:
        if marker := item.get_closest_marker("one_in"):
            test, _, _ = item.nodeid.partition("[")
            if cases.setdefault(test, 0) % marker.args[0]:
                item.add_marker("deep")
            cases[test] += 1


@pytest.fixture
def own_process(request: pytest.FixtureRequest) -> bool:
    """Whether a test's server needs a process of its own, to be killed."""
    return request.node.get_closest_marker("kills") is not None


@pytest.fixture(scope="session", autouse=True)
def new_files_are_copies(tmp_path_factory: pytest.TempPathFactory) -> Iterator[None]:
    """An empty data file goes through all migrations once; each later one is a copy of it, by
    SQLite's own backup. Files that are older go through theirs."""
    migrate = store_database.upgrade
    path = tmp_path_factory.mktemp("new") / "orexis.db"
    Database(path).close()

    def upgrade(engine: Engine, revision: str = "head") -> None:
        if revision != "head" or inspect(engine).get_table_names():
            migrate(engine, revision)
            return
        with closing(sqlite3.connect(path)) as made, closing(engine.raw_connection()) as raw:
            made.backup(cast("sqlite3.Connection", raw.driver_connection))

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(store_database, "upgrade", upgrade)
        yield


def _filled(factory: pytest.TempPathFactory, name: str, band: Sequence[Member]) -> Path:
    """The data file of some of the demo band, made once for all workers."""
    own = factory.getbasetemp()
    shared = own.parent if "PYTEST_XDIST_WORKER" in os.environ else own
    path = shared / f"{name}.db"
    with FileLock(shared / f"{name}.lock"):
        if not path.exists():
            part = shared / f"{name} being filled.db"
            database = Database(part)
            with database.session() as session:
                assert fill(session, datetime.now().astimezone(), band)
            database.close()
            part.rename(path)
    return path


@pytest.fixture(scope="session")
def whole_band(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The whole demo band's data, which take a while; not to be written to."""
    return _filled(tmp_path_factory, "demo", BAND)


@pytest.fixture(scope="session")
def newcomer(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo's newcomer and her ten weeks; not to be written to."""
    (pia,) = (member for member in BAND if member.details.name == "Pia")
    return _filled(tmp_path_factory, "newcomer", [pia])


@pytest.fixture
def band_copy(whole_band: Path, tmp_path: Path) -> Path:
    """The whole demo band's data, where a test may change them."""
    return Path(shutil.copy(whole_band, tmp_path / "orexis.db"))


@pytest.fixture
def newcomer_copy(newcomer: Path, tmp_path: Path) -> Path:
    """The demo's newcomer's data, where a test may change them."""
    return Path(shutil.copy(newcomer, tmp_path / "orexis.db"))
