"""The application: routes, socket, guard and the built front end, put together."""

import asyncio
import contextlib
import mimetypes
from collections.abc import AsyncIterator
from dataclasses import dataclass, field
from datetime import UTC, date, datetime
from importlib.metadata import version
from pathlib import Path
from typing import Any

from fastapi import FastAPI, Response
from fastapi.staticfiles import StaticFiles

from orexis.server.daily import every_day, purge
from orexis.server.home.home import Home, HomeSettings, HomeUnusableError
from orexis.server.live import socket, watching
from orexis.server.live.messages import describe_messages
from orexis.server.live.sessions import LiveSessions, in_thread
from orexis.server.problems import add_problem_handlers, answer_the_rest, describe_problems
from orexis.server.routes import (
    book,
    carrying,
    coach,
    diary,
    free,
    guests,
    home,
    horn,
    kept,
    own,
    paths,
    pieces,
    players,
    progress,
    recordings,
    report,
    sessions,
    sounding,
    storage,
    tables,
    takes,
)
from orexis.server.security import BODY_WAITS_S, Guard
from orexis.server.warming import Listening, look_back
from orexis.store.database import Database

SITE = Path(__file__).parent / "site"

# Python does not know the type yet, and nothing is guessed by the browser.
mimetypes.add_type("application/manifest+json", ".webmanifest")


@dataclass(frozen=True, slots=True)
class Settings:
    """Where the data file is, how long a body may be waited for, whether what takes a while the
    first time is done before anybody asks for it, whether a copy is kept every day, and how the
    devices of the house are served."""

    data: Path
    body_waits_s: float = BODY_WAITS_S
    warms_up: bool = False
    keeps_copies: bool = False
    home: HomeSettings = field(default_factory=HomeSettings)

    @property
    def spool_folder(self) -> Path:
        """Where sound lies while it is being played."""
        return self.data.with_name(f"{self.data.name}-spool")

    @property
    def home_folder(self) -> Path:
        """Where the certificates for the house are."""
        return self.data.with_name(f"{self.data.name}-home")


class _Orexis(FastAPI):
    """Says of itself what it does: problem documents, and the messages on the socket."""

    def openapi(self) -> dict[str, Any]:
        """The API's description."""
        if self.openapi_schema is None:
            self.openapi_schema = describe_messages(describe_problems(super().openapi()))
        return self.openapi_schema


def create_app(settings: Settings) -> FastAPI:
    """The ASGI application on one data file, which the caller holds (`store.holding`). Raises
    `DatabaseUnusableError`."""
    database = Database(settings.data)
    listening = Listening()
    if not settings.warms_up:
        listening.need_not()

    @contextlib.asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        recordings.clear_incoming(settings.data)
        purge(database, datetime.now(UTC))
        tasks = [
            asyncio.create_task(app.state.live_sessions.recover_for_ever()),
            asyncio.create_task(every_day(database, keeps_copies=settings.keeps_copies)),
        ]
        if settings.warms_up:
            listening.get_ready()
            tasks.append(asyncio.create_task(in_thread(look_back, database, date.today())))
        house: Home = app.state.home
        if settings.home.is_open:
            with contextlib.suppress(HomeUnusableError):
                await house.open()
        yield
        await house.close()
        for task in tasks:
            task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await task
        database.close()

    app = _Orexis(
        title="Orexis",
        version=version("orexis"),
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
    )
    app.state.database = database
    app.state.live_sessions = LiveSessions(database, settings.spool_folder, listening)
    app.state.home = Home(app, database, settings.home_folder, SITE, settings.home)
    app.add_middleware(Guard, body_waits_s=settings.body_waits_s)
    add_problem_handlers(app)
    modules = (
        players,
        coach,
        book,
        own,
        pieces,
        paths,
        free,
        sounding,
        sessions,
        takes,
        recordings,
        kept,
        progress,
        diary,
        tables,
        carrying,
        report,
        guests,
        storage,
        horn,
        home,
        socket,
        watching,
    )
    # As they are: to include a router makes each of its routes anew for every application.
    routes = [route for module in modules for route in module.router.routes]
    app.router.routes += routes

    @app.get("/api/health", status_code=204, response_class=Response)
    def health() -> None:
        """Says that the server is there."""

    answer_the_rest(app, routes)
    if SITE.is_dir():
        app.mount("/", StaticFiles(directory=SITE, html=True))
    return app
