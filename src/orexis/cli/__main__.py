"""`python -m orexis.cli`: the `orexis` command."""

from orexis.cli import app

if __name__ == "__main__":
    app()
