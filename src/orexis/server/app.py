"""The application: routes, socket, guard and the built front end, put together."""

import asyncio
import contextlib
from collections.abc import AsyncIterator
from dataclasses import dataclass
from datetime import UTC, datetime
from importlib.metadata import version
from pathlib import Path

from fastapi import FastAPI, Response
from fastapi.staticfiles import StaticFiles

from orexis.server import live
from orexis.server.problems import add_problem_handlers
from orexis.server.routes import horn, players, recordings, standin, takes
from orexis.server.security import Guard
from orexis.store.database import Database
from orexis.store.recordings import purge_recordings
from orexis.store.takes import purge_deleted

SITE = Path(__file__).parent / "site"


@dataclass(frozen=True, slots=True)
class Settings:
    """Where the data file is."""

    data: Path

    @property
    def spool_folder(self) -> Path:
        """Where sound lies while it is being played."""
        return self.data.with_name(f"{self.data.name}-spool")


def create_app(settings: Settings) -> FastAPI:
    """The ASGI application on one data file. Raises `DatabaseUnusableError`."""
    database = Database(settings.data)

    @contextlib.asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        recordings.clear_incoming(settings.data)
        with database.session() as session:
            purge_deleted(session, datetime.now(UTC))
            purge_recordings(session, datetime.now(UTC))
        recovery = asyncio.create_task(app.state.live_sessions.recover_for_ever())
        yield
        recovery.cancel()
        database.close()

    app = FastAPI(
        title="Orexis",
        version=version("orexis"),
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
    )
    app.state.database = database
    app.state.live_sessions = live.LiveSessions(database, settings.spool_folder)
    app.add_middleware(Guard)
    add_problem_handlers(app)
    for module in (players, takes, recordings, horn, standin, live):
        app.include_router(module.router)

    @app.get("/api/health", status_code=204, response_class=Response)
    def health() -> None:
        """Says that the server is there."""

    if SITE.is_dir():
        app.mount("/", StaticFiles(directory=SITE, html=True))
    return app
