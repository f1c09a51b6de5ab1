"""Errors as RFC 9457 problem documents that say what is wrong and what to do."""

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from sqlalchemy.exc import OperationalError
from starlette.exceptions import HTTPException

_MEDIA_TYPE = "application/problem+json"


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


DISK_FULL = Problem(
    title="The disk is full",
    status=507,
    detail="Free some space. What you have just played is kept in this window until then.",
)


def not_found(what: str) -> ProblemError:
    """The problem of something that is not there (any more)."""
    return ProblemError(404, f"There is no such {what}", "It may have been deleted. Go back.")


def respond(problem: Problem) -> JSONResponse:
    """The problem as a response."""
    return JSONResponse(problem.model_dump(), problem.status, media_type=_MEDIA_TYPE)


def add_problem_handlers(app: FastAPI) -> None:
    """Makes every error of the app a problem document."""

    @app.exception_handler(ProblemError)
    async def _problem(request: Request, error: ProblemError) -> JSONResponse:
        return respond(error.problem)

    @app.exception_handler(RequestValidationError)
    async def _invalid(request: Request, error: RequestValidationError) -> JSONResponse:
        first = error.errors()[0]
        field = ".".join(str(part) for part in first["loc"][1:]) or "request"
        return respond(
            Problem(
                title="Something in the request is not right",
                status=422,
                detail=f"{field}: {first['msg']}.",
            )
        )

    @app.exception_handler(HTTPException)
    async def _http(request: Request, error: HTTPException) -> JSONResponse:
        return respond(
            Problem(
                title=str(error.detail),
                status=error.status_code,
                detail="Check the address, or go back to the Stand.",
            )
        )

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
        if "full" in str(error.orig):
            return respond(DISK_FULL)
        return respond(
            Problem(
                title="The data file could not be used",
                status=503,
                detail="Close other programs that have it open, then try again.",
            )
        )
