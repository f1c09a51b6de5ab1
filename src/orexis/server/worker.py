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
from collections.abc import Awaitable, Callable, Coroutine, Mapping
from importlib import import_module
from typing import Any, TypeVar

log = logging.getLogger(__name__)

_T = TypeVar("_T")

WITHIN_S = 20.0
_LOADS_WITHIN_S = 60.0
"""To load the reader is not to read, and takes long where the machine is busy."""
_READY = b"!"
_MOST_MEMORY_BYTES = 2 << 30
READERS: Mapping[str, tuple[str, str]] = {
    "melody": ("orexis.formats.melody", "melody_parts"),
    "calendar": ("orexis.formats.ical", "read_dates"),
    "report": ("orexis.server.bundles", "opened"),
}
"""By what is to be read, the module and the function that read it."""


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
    assert process.stdout is not None
    try:
        try:
            await _waited_for(process.stdout.readexactly(len(_READY)), _LOADS_WITHIN_S, gone)
        except TimeoutError as error:
            raise NotReadInTimeError(
                "This computer is too busy to read it now. Try again in a minute."
            ) from error
        told, _ = await _waited_for(process.communicate(pickle.dumps(given)), within_s, gone)
    except (TimeoutError, asyncio.IncompleteReadError, _GoneError) as error:
        raise _not_read() from error
    finally:
        if process.returncode is None:
            with contextlib.suppress(ProcessLookupError):
                process.kill()
            await process.wait()
    if process.returncode != 0 or not told:
        log.warning("Reading a %s ended with %s.", what, process.returncode)
        raise _not_read()
    refused, value = pickle.loads(told)
    if refused is not None:
        raise refused
    return value


async def _waited_for(
    work: Coroutine[Any, Any, _T], within_s: float, gone: Callable[[], Awaitable[bool]]
) -> _T:
    """What comes of some work. Raises `TimeoutError`, and `_GoneError` where nobody waits for it;
    the work is ended then."""
    task = asyncio.create_task(work)
    try:
        async with asyncio.timeout(within_s):
            while not task.done():
                await asyncio.wait({task}, timeout=0.25)
                if not task.done() and await gone():
                    raise _GoneError
        return task.result()
    finally:
        task.cancel()


def _not_read() -> NotReadInTimeError:
    return NotReadInTimeError(
        f"It could not be read within {WITHIN_S:.0f} s. Choose a smaller file, or a part of it."
    )


def _bound_memory() -> None:
    with contextlib.suppress(ImportError, OSError, ValueError):
        import resource

        resource.setrlimit(resource.RLIMIT_AS, (_MOST_MEMORY_BYTES, _MOST_MEMORY_BYTES))


def _answer(read_it: Callable[..., Any], given: bytes) -> bytes:
    try:
        return pickle.dumps((None, read_it(*pickle.loads(given))))
    except ValueError as refused:
        return pickle.dumps((type(refused)(str(refused)), None))


def _main() -> None:
    # What a reader prints is no answer.
    with os.fdopen(os.dup(1), "wb") as answer:
        os.dup2(2, 1)
        _bound_memory()
        module, name = READERS[sys.argv[1]]
        read_it = getattr(import_module(module), name)
        answer.write(_READY)
        answer.flush()
        answer.write(_answer(read_it, sys.stdin.buffer.read()))


if __name__ == "__main__":
    _main()
