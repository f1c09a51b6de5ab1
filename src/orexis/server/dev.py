"""The development server: reloads when the code changes; Vite passes the API on to it.

Run by `make dev`; serves the demo data file if there is one.
"""

from pathlib import Path

import platformdirs
import uvicorn
from fastapi import FastAPI

from orexis.server.app import Settings, create_app


def app() -> FastAPI:
    """The application on the demo data."""
    data = platformdirs.user_data_path("orexis", appauthor=False) / "demo.db"
    return create_app(Settings(data))


if __name__ == "__main__":
    uvicorn.run(
        f"{__spec__.name}:app",
        factory=True,
        host="127.0.0.1",
        port=8420,
        reload=True,
        reload_dirs=[str(Path(__file__).parents[1])],
    )
