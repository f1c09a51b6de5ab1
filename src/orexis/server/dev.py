"""The development server: reloads when the code changes; Vite passes the API on to it.

Run by `make dev`; serves the demo data file if there is one.
"""

from pathlib import Path

import platformdirs
import uvicorn
from fastapi import FastAPI

from orexis.server.app import Settings, create_app
from orexis.store.holding import held

_DATA = platformdirs.user_data_path("orexis", appauthor=False) / "demo.db"
_HOST, _PORT = "127.0.0.1", 8420


def app() -> FastAPI:
    """The application on the demo data."""
    return create_app(Settings(_DATA))


if __name__ == "__main__":
    # The reloading parent holds the file; its children come and go.
    with held(_DATA, f"at http://{_HOST}:{_PORT}"):
        uvicorn.run(
            f"{__spec__.name}:app",
            factory=True,
            host=_HOST,
            port=_PORT,
            reload=True,
            reload_dirs=[str(Path(__file__).parents[1])],
        )
