"""Property tests look for what is wrong, not for how fast a busy machine is; the demo is filled
once."""

import os
import shutil
from collections.abc import Callable
from datetime import datetime
from pathlib import Path

import pytest
from hypothesis import settings

from orexis.demo.scenario import fill
from orexis.server.warming import listen_once
from orexis.store.database import Database

settings.register_profile("anywhere", deadline=None)
# The same examples every time, so that a failure is of the change and not of chance.
settings.register_profile("ci", deadline=None, derandomize=True)
settings.load_profile("ci" if os.environ.get("CI") else "anywhere")


def pytest_sessionstart(session: pytest.Session) -> None:
    """What listening needs is made once, where it has not been, and not by every worker."""
    if not hasattr(session.config, "workerinput"):
        listen_once()


@pytest.fixture(scope="session")
def filled(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo band's data file, made once; not to be written to."""
    path = tmp_path_factory.mktemp("band") / "demo.db"
    database = Database(path)
    with database.session() as session:
        assert fill(session, datetime.now().astimezone())
    database.close()
    return path


@pytest.fixture
def demo_file(filled: Path) -> Callable[[Path], Path]:
    """Copies the demo band's data to where a test may change it."""

    def copy(to: Path) -> Path:
        shutil.copy(filled, to)
        return to

    return copy
