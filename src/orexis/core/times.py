"""When something can have been played: a clock may be wrong, but its time must be one to tell."""

from datetime import UTC, datetime

EARLIEST = datetime(2000, 1, 1, tzinfo=UTC)
LATEST = datetime(2200, 1, 1, tzinfo=UTC)
"""The first time that is too late."""
