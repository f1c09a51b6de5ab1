"""Property tests look for what is wrong, not for how fast a busy machine is; the demo is filled
once."""

import os
import shutil
from collections.abc import Callable
from datetime import datetime
from pathlib import Path

import pytest
from filelock import FileLock
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
    """The demo band's data file, made once for all workers; not to be written to."""
    own = tmp_path_factory.getbasetemp()
    shared = own.parent if "PYTEST_XDIST_WORKER" in os.environ else own
    path = shared / "demo.db"
    with FileLock(shared / "demo.lock"):
        if not path.exists():
            part = shared / "filling.db"
            database = Database(part)
            with database.session() as session:
                assert fill(session, datetime.now().astimezone())
            database.close()
            part.rename(path)
    return path


@pytest.fixture
def demo_file(filled: Path) -> Callable[[Path], Path]:
    """Copies the demo band's data to where a test may change it."""

    def copy(to: Path) -> Path:
        shutil.copy(filled, to)
        return to

    return copy
