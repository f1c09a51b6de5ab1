"""Reading what comes in from files, in a process of its own that ends in time, takes no more memory
than it may, and ends with the request that it is for.

What it reads is named here, and nothing else can be asked of it.
"""

import asyncio
import contextlib
import logging
import os
import pickle
import sys
from collections.abc import Awaitable, Callable, Mapping
from importlib import import_module
from typing import Any

log = logging.getLogger(__name__)

WITHIN_S = 20.0
_MOST_MEMORY_BYTES = 2 << 30
_READERS: Mapping[str, tuple[str, str]] = {
    "melody": ("orexis.formats.melody", "melody_parts"),
    "calendar": ("orexis.formats.ical", "read_dates"),
    "report": ("orexis.server.bundles", "opened"),
}


class NotReadInTimeError(ValueError):
    """A file that could not be read within the time and memory there is for that."""


class _GoneError(Exception):
    """Nobody waits for it any more."""


async def read(
    what: str, *given: Any, gone: Callable[[], Awaitable[bool]], within_s: float = WITHIN_S
) -> Any:
    """What a reader makes of what it is given. Raises the `ValueError` that it refuses it with, and
    `NotReadInTimeError`; where the request is `gone`, the process is ended at once."""
    process = await asyncio.create_subprocess_exec(
        *(sys.executable, "-m", "orexis.server.worker", what),
        stdin=asyncio.subprocess.PIPE,
        stdout=asyncio.subprocess.PIPE,
    )
    telling = asyncio.create_task(process.communicate(pickle.dumps(given)))
    try:
        async with asyncio.timeout(within_s):
            while not telling.done():
                await asyncio.wait({telling}, timeout=0.25)
                if not telling.done() and await gone():
                    raise _GoneError
        told, _ = telling.result()
    except (TimeoutError, _GoneError) as error:
        raise _not_read() from error
    finally:
        if process.returncode is None:
            with contextlib.suppress(ProcessLookupError):
                process.kill()
            telling.cancel()
            await process.wait()
    if process.returncode != 0 or not told:
        log.warning("Reading a %s ended with %s.", what, process.returncode)
        raise _not_read()
    refused, value = pickle.loads(told)
    if refused is not None:
        raise refused
    return value


def _not_read() -> NotReadInTimeError:
    return NotReadInTimeError(
        f"It could not be read within {WITHIN_S:.0f} s. Choose a smaller file, or a part of it."
    )


def _bound_memory() -> None:
    with contextlib.suppress(ImportError, OSError, ValueError):
        import resource

        resource.setrlimit(resource.RLIMIT_AS, (_MOST_MEMORY_BYTES, _MOST_MEMORY_BYTES))


def _answer(what: str, given: bytes) -> bytes:
    module, name = _READERS[what]
    read_it: Callable[..., Any] = getattr(import_module(module), name)
    try:
        return pickle.dumps((None, read_it(*pickle.loads(given))))
    except ValueError as refused:
        return pickle.dumps((type(refused)(str(refused)), None))


def _main() -> None:
    # What a reader prints is no answer.
    with os.fdopen(os.dup(1), "wb") as answer:
        os.dup2(2, 1)
        _bound_memory()
        answer.write(_answer(sys.argv[1], sys.stdin.buffer.read()))


if __name__ == "__main__":
    _main()
