"""`python -m orexis.cli`: the `orexis` command."""

from orexis.cli import app

app()
