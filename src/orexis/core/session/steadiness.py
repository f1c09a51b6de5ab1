"""How long a note has just gone on, so that nothing new can be said of it."""

from math import log2

from orexis.core.listening.tracking.frames import Frames

_SAME_CENTS, _SAME_DB = 40.0, 6.0


class SteadyFrames:
    """Counts the frames in a row that lie where the first of them lay, in pitch and level."""

    def __init__(self) -> None:
        self.frames = 0
        self._hz = self._level_db = 0.0

    def step(self, heard: Frames) -> None:
        """Takes the next frames."""
        for hz, level_db in zip(heard.f0_hz.tolist(), heard.level_db.tolist(), strict=True):
            if self._lies_there(hz, level_db):
                self.frames += 1
            else:
                self._hz, self._level_db, self.frames = hz, level_db, 0

    def _lies_there(self, hz: float, level_db: float) -> bool:
        """Whether a frame is on the pitch; one without a pitch is not."""
        if not (hz > 0 and self._hz > 0):
            return False
        near = abs(1200 * log2(hz / self._hz)) <= _SAME_CENTS
        return near and abs(level_db - self._level_db) <= _SAME_DB
