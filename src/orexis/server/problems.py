"""Errors as RFC 9457 problem documents that say what is wrong and what to do."""

import errno
import sqlite3
from collections.abc import Mapping, Sequence
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from sqlalchemy.exc import OperationalError
from starlette.exceptions import HTTPException
from starlette.routing import BaseRoute, Match
from starlette.types import Receive, Scope, Send

from orexis.practice.fields import NAMES

MEDIA_TYPE = "application/problem+json"


class Problem(BaseModel):
    """What went wrong (`title`) and what to do about it (`detail`)."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str


class ProblemError(Exception):
    """Raised by a route to answer with a problem document."""

    def __init__(self, status: int, title: str, detail: str) -> None:
        super().__init__(title)
        self.problem = Problem(title=title, status=status, detail=detail)


class BodyRefusedError(HTTPException):
    """Raised while a body is read: it grew too large, or did not go on."""

    def __init__(self, problem: Problem) -> None:
        super().__init__(problem.status, problem.title)
        self.problem = problem


DISK_FULL = Problem(
    title="The disk is full",
    status=507,
    detail="Free some space. What you have just played is kept in this window until then.",
)

_BY_STATUS = {
    400: ("The request could not be read", "Reload the page, then try again."),
    404: ("There is nothing here", "Check the address, or go back to the Stand."),
    405: ("This cannot be done here", "Reload the page, then try again."),
}


def not_found(what: str) -> ProblemError:
    """The problem of something that is not there (any more)."""
    return ProblemError(404, f"There is no such {what}", "It may have been deleted. Go back.")


def respond(problem: Problem, headers: dict[str, str] | None = None) -> JSONResponse:
    """The problem as a response."""
    return JSONResponse(problem.model_dump(), problem.status, headers, MEDIA_TYPE)


def is_disk_full(error: Exception) -> bool:
    """Whether the operating system or the database ran out of room."""
    if isinstance(error, OSError):
        return error.errno == errno.ENOSPC
    cause = getattr(error, "orig", error)
    return getattr(cause, "sqlite_errorcode", None) == sqlite3.SQLITE_FULL


def _limit(value: object) -> str:
    """A bound as it is read."""
    return f"{value:g}" if isinstance(value, int | float) else str(value)


def _called(loc: Sequence[int | str]) -> str:
    """What the player calls a place in the request."""
    if loc and loc[0] in NAMES:
        place = loc[1] + 1 if len(loc) > 1 and isinstance(loc[1], int) else ""
        return NAMES[str(loc[0])].format(place)
    return ".".join(str(part) for part in loc) or "the request"


def invalid_words(
    kind: str, message: str, loc: Sequence[int | str], limits: Mapping[str, Any] | None
) -> str:
    """What is wrong with a value, from what Pydantic says of it (its kind of error, message,
    place and limits), in a sentence that says what to do."""
    field = _called(loc)
    limits = limits or {}
    match kind:
        case "missing":
            said = "is missing; give it"
        case "string_too_long":
            said = f"is too long: use at most {limits['max_length']} letters"
        case "string_too_short":
            said = "is empty; fill it in"
        case "string_unicode":
            said = "has half a character in it; type it again"
        case "too_long":
            said = f"has too many: give at most {limits['max_length']}"
        case "greater_than_equal":
            said = f"must be {_limit(limits['ge'])} or more"
        case "less_than":
            said = f"must be before {_limit(limits['lt'])}"
        case "less_than_equal":
            said = f"must be {_limit(limits['le'])} or less"
        case "extra_forbidden":
            said = "is not known here; leave it out"
        case "value_error":
            said = str(limits.get("error", message))
        case _:
            said = f"cannot be used: {message[:1].lower()}{message[1:]}"
    return f"{field[:1].upper()}{field[1:]} {said}."


def add_problem_handlers(app: FastAPI) -> None:
    """Makes every error of the app a problem document."""

    @app.exception_handler(ProblemError)
    async def _problem(request: Request, error: ProblemError) -> JSONResponse:
        return respond(error.problem)

    @app.exception_handler(BodyRefusedError)
    async def _refused(request: Request, error: BodyRefusedError) -> JSONResponse:
        # What is still to come of the body would be taken for another request.
        return respond(error.problem, {"Connection": "close"})

    @app.exception_handler(RequestValidationError)
    async def _invalid(request: Request, error: RequestValidationError) -> JSONResponse:
        first = error.errors()[0]
        # The first part says whether it stood in the path, the query or the body.
        detail = invalid_words(first["type"], first["msg"], first["loc"][1:], first.get("ctx"))
        title = "Something in the request is not right"
        return respond(Problem(title=title, status=422, detail=detail))

    @app.exception_handler(HTTPException)
    async def _http(request: Request, error: HTTPException) -> JSONResponse:
        title, detail = _BY_STATUS.get(error.status_code, (str(error.detail), "Go back."))
        problem = Problem(title=title, status=error.status_code, detail=detail)
        return respond(problem, dict(error.headers or {}))

    @app.exception_handler(Exception)
    async def _unforeseen(request: Request, error: Exception) -> JSONResponse:
        return respond(
            Problem(
                title="Something went wrong in Orexis",
                status=500,
                detail="Try once more. What was kept is safe; the terminal says more.",
            )
        )

    @app.exception_handler(OperationalError)
    async def _database(request: Request, error: OperationalError) -> JSONResponse:
        if is_disk_full(error):
            return respond(DISK_FULL)
        return respond(
            Problem(
                title="The data file could not be used",
                status=503,
                detail="Close other programs that have it open, then try again.",
            )
        )


def answer_the_rest(app: FastAPI, routes: Sequence[BaseRoute]) -> None:
    """Answers what none of the API's routes does, before the front end's files are looked through:
    with the methods that the path does have, or that there is nothing."""

    async def rest(scope: Scope, receive: Receive, send: Send) -> None:
        asked = {**scope, "root_path": ""}
        methods: set[str] = set()
        for route in routes:
            if route.matches(asked)[0] is not Match.NONE:
                methods |= getattr(route, "methods", None) or set()
        if methods:
            raise HTTPException(405, headers={"Allow": ", ".join(sorted(methods))})
        raise HTTPException(404)

    app.mount("/api", rest)


def describe_problems(description: dict[str, Any]) -> dict[str, Any]:
    """An OpenAPI description in which every operation may answer with problem documents."""
    content = {MEDIA_TYPE: {"schema": {"$ref": "#/components/schemas/Problem"}}}
    allow = {"Allow": {"schema": {"type": "string"}, "description": "The methods there are."}}
    shared: dict[str, dict[str, Any]] = {
        "404": {"description": "It is not there (any more).", "content": content},
        "405": {"description": "The path has other methods.", "content": content, "headers": allow},
        "413": {"description": "The body is too large.", "content": content},
        "422": {"description": "Something in the request is not right.", "content": content},
    }
    components = description.setdefault("components", {})
    schemas = components.setdefault("schemas", {})
    for unused in ("HTTPValidationError", "ValidationError"):
        schemas.pop(unused, None)
    schemas["Problem"] = Problem.model_json_schema()
    components["responses"] = {f"Problem{status}": said for status, said in shared.items()}
    for path in description.get("paths", {}).values():
        for method, operation in path.items():
            for status in shared:
                if status == "413" and method not in ("post", "put"):
                    continue
                answer = {"$ref": f"#/components/responses/Problem{status}"}
                operation["responses"][status] = answer
    return description
