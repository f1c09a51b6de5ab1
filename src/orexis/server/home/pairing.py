"""Pairing a device: a code of six digits that stands on the machine's own screen.

A code holds for two minutes and for one device. After five wrong ones it is void, and the next
can be had after a pause that doubles each time, until a device was paired.
"""

import secrets
import time
from collections.abc import Callable
from dataclasses import dataclass
from threading import Lock

CODE_HOLDS_S = 120.0
MOST_TRIES = 5
FIRST_PAUSE_S, LONGEST_PAUSE_S = 30.0, 3600.0
_DIGITS = 6


class PairingWaitsError(Exception):
    """Too many codes were wrong; nothing is paired for `left_s` seconds."""

    def __init__(self, left_s: float) -> None:
        super().__init__(left_s)
        self.left_s = left_s


class NoCodeError(Exception):
    """No code stands on the machine's screen now."""


class WrongCodeError(Exception):
    """That is not the code; `left` more can be tried."""

    def __init__(self, left: int) -> None:
        super().__init__(left)
        self.left = left


@dataclass(frozen=True, slots=True)
class Code:
    """A code, what the device that gives it may do, and how long it still holds (s)."""

    digits: str
    may_play: bool
    left_s: float


@dataclass(slots=True)
class _Shown:
    digits: str
    may_play: bool
    until: float
    wrong: int = 0


class Pairing:
    """The one code there is at a time."""

    def __init__(self, clock: Callable[[], float] = time.monotonic) -> None:
        self._clock = clock
        self._lock = Lock()
        self._shown: _Shown | None = None
        self._pauses = 0
        self._waits_until = 0.0

    def show(self, *, may_play: bool) -> Code:
        """A new code; the one before is void. Raises `PairingWaitsError`."""
        with self._lock:
            self._check_waits()
            digits = "".join(secrets.choice("0123456789") for _ in range(_DIGITS))
            self._shown = _Shown(digits, may_play, self._clock() + CODE_HOLDS_S)
            return self._code(self._shown)

    @property
    def code(self) -> Code | None:
        """The code that holds now."""
        with self._lock:
            shown = self._valid()
            return None if shown is None else self._code(shown)

    @property
    def waits_s(self) -> float:
        """How long nothing is paired, in seconds."""
        return max(0.0, self._waits_until - self._clock())

    def hide(self) -> None:
        """Voids the code."""
        with self._lock:
            self._shown = None

    def redeem(self, digits: str) -> bool:
        """Takes a code that was typed on a device; returns whether it may play. Raises
        `PairingWaitsError`, `NoCodeError` and `WrongCodeError`."""
        with self._lock:
            self._check_waits()
            shown = self._valid()
            if shown is None:
                raise NoCodeError
            if secrets.compare_digest(digits.encode(), shown.digits.encode()):
                self._shown = None
                self._pauses = 0
                return shown.may_play
            shown.wrong += 1
            if shown.wrong < MOST_TRIES:
                raise WrongCodeError(MOST_TRIES - shown.wrong)
            self._shown = None
            pause_s = min(FIRST_PAUSE_S * 2**self._pauses, LONGEST_PAUSE_S)
            self._pauses += 1
            self._waits_until = self._clock() + pause_s
            raise PairingWaitsError(pause_s)

    def _valid(self) -> _Shown | None:
        shown = self._shown
        return shown if shown is not None and self._clock() < shown.until else None

    def _code(self, shown: _Shown) -> Code:
        return Code(shown.digits, shown.may_play, shown.until - self._clock())

    def _check_waits(self) -> None:
        if self.waits_s > 0:
            raise PairingWaitsError(self.waits_s)
