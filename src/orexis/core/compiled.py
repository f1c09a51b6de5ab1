"""Inner loops, compiled: a few frames at a time, numpy would spend its time on being called.

What is marked `compiled` is plain Python over numbers and arrays, which numba turns into machine
code when it is first called and keeps beside the file for the next start. It may use only what
stands in its own file, since a kept one is made anew when that file changes and not when another
does. With `NUMBA_DISABLE_JIT=1` it runs as it is written.

Compiling is never what fails. Machine code that cannot be read or kept is made anew at each start;
where nothing can be compiled, the functions run as they are written, ten times slower and more. All
of that is said in the log.

Numba itself is loaded with the first call: most of what is done with the program never listens.
"""

import contextlib
import logging
import sys
import threading
import time
from collections.abc import Callable, Mapping
from functools import cache, update_wrapper
from typing import Any, Generic, ParamSpec, TypeVar

_Given = ParamSpec("_Given")
_Told = TypeVar("_Told")

log = logging.getLogger(__name__)


_AS_WRITTEN = "Orexis cannot compile its listening here, so it listens many times slower."


class _WhenCalled(Generic[_Given, _Told]):
    """A function that is compiled, and with it all that wait as it does, when it is called."""

    def __init__(self, function: Callable[_Given, _Told]) -> None:
        self.function = function
        self.made: Callable[_Given, _Told] | None = None
        update_wrapper(self, function)

    def __call__(self, *given: _Given.args, **named: _Given.kwargs) -> _Told:
        if self.made is None:
            _make_all()
            assert self.made is not None
        return self.made(*given, **named)


_waiting: list[_WhenCalled[..., Any]] = []
_known: list[_WhenCalled[..., Any]] = []
_making = threading.Lock()


def compiled(function: Callable[_Given, _Told]) -> Callable[_Given, _Told]:
    """The same function, compiled; dividing by zero gives infinity as in numpy, and other threads
    go on meanwhile."""
    waits = _WhenCalled(function)
    _waiting.append(waits)
    _known.append(waits)
    return waits


def run_as_written() -> None:
    """Runs every marked function as it is written from now on, since compiling failed."""
    log.warning(_AS_WRITTEN)
    with _making:
        _put([(call, call.function) for call in _known])


def _make_all() -> None:
    """Makes the functions that wait, and puts them wherever they are known: a compiled one can
    only call compiled ones, and whoever calls one need not ask each time whether it is made."""
    with _making:
        if not _waiting:
            return
        try:
            made = [(call, _made(call.function)) for call in _waiting]
            progress.watch(len(_known))
        except Exception:
            log.exception("Numba cannot be used.")
            log.warning(_AS_WRITTEN)
            made = [(call, call.function) for call in _waiting]
        _put(made)


def _put(made: list[tuple[_WhenCalled[..., Any], Callable[..., Any]]]) -> None:
    """Puts functions in the place of the marked ones, and of what was made of them before."""
    instead: Mapping[int, Callable[..., Any]] = {
        id(old): new for call, new in made for old in (call, call.made) if old is not None
    }
    for module in [
        module_type for name, module_type in list(sys.modules.items()) if name.startswith("orexis")
    ]:
        for name, one in list(vars(module).items()):
            if id(one) in instead:
                setattr(module, name, instead[id(one)])
    for call, new in made:
        call.made = new
    _waiting.clear()


def _made(function: Callable[..., Any]) -> Callable[..., Any]:
    """A function that numba compiles when it is called; its machine code is kept if it can be."""
    from numba import njit

    try:
        made: Any = njit(cache=True, nogil=True, error_model="numpy")(function)
    except RuntimeError:
        # There is no place to keep it in: neither beside the file nor in the user's own folder.
        _say_once("There is no place to keep what was compiled, so every start takes as long.")
        return njit(nogil=True, error_model="numpy")(function)
    if getattr(made, "_cache", None) is not None:
        made._cache = _Forgiving(made._cache)
    return made  # type: ignore[no-any-return]


class _Forgiving:
    """Numba's store of one function's machine code. What it cannot read is made anew and written
    over; what it cannot write is not kept."""

    def __init__(self, store: Any) -> None:
        self._store = store

    def __getattr__(self, name: str) -> Any:
        return getattr(self._store, name)

    def load_overload(self, *given: Any) -> Any:
        """The machine code for some kinds of arguments, `None` where there is none to be read."""
        try:
            return self._store.load_overload(*given)
        except Exception as error:
            log.info("%r could not be read: %r", self._store, error)
            with contextlib.suppress(Exception):
                self._store.flush()
            return None

    def save_overload(self, *given: Any) -> None:
        """Keeps machine code, where that is possible."""
        try:
            self._store.save_overload(*given)
        except Exception as error:
            _say_once(f"What was compiled cannot be kept ({error}), so every start takes as long.")


@cache
def _say_once(words: str) -> None:
    log.warning(words)


class Progress:
    """How far compiling has come."""

    def __init__(self) -> None:
        self._began: float | None = None
        self._made = self._wanted = 0

    @property
    def left_s(self) -> float | None:
        """About how many seconds compiling still takes, `None` while nothing is known of that."""
        if self._began is None or not self._made:
            return None
        a_function_s = (time.monotonic() - self._began) / self._made
        return max(a_function_s * (self._wanted - self._made), 1.0)

    def watch(self, wanted: int) -> None:
        """Follows the compiling of so many functions, and says once that it takes its time."""
        from numba.core.event import Listener, register

        self._wanted = wanted
        follows = self

        class Follower(Listener):
            def on_start(self, event: object) -> None:
                if follows._began is None:
                    follows._began = time.monotonic()
                    log.warning("Getting ready to listen. This takes about half a minute, once.")

            def on_end(self, event: Any) -> None:
                function = event.data["dispatcher"].py_func
                follows._made += function.__module__.startswith("orexis")

        register("numba:compile", Follower())  # type: ignore[no-untyped-call]


progress = Progress()
