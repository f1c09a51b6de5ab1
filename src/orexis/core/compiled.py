"""Inner loops, compiled: a few frames at a time, numpy would spend its time on being called.

What is marked `compiled` is plain Python over numbers and arrays, which numba turns into machine
code when it is first called and keeps beside the file for the next start. It may use only what
stands in its own file, since a kept one is made anew when that file changes and not when another
does. With `NUMBA_DISABLE_JIT=1` it runs as it is written.

Numba itself is loaded with the first call: most of what is done with the program never listens.
"""

import logging
import sys
import threading
from collections.abc import Callable
from functools import cache, update_wrapper
from typing import Any, Generic, ParamSpec, TypeVar

_Given = ParamSpec("_Given")
_Told = TypeVar("_Told")

log = logging.getLogger(__name__)


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
_making = threading.Lock()


def compiled(function: Callable[_Given, _Told]) -> Callable[_Given, _Told]:
    """The same function, compiled; dividing by zero gives infinity as in numpy, and other threads
    go on meanwhile."""
    waits = _WhenCalled(function)
    _waiting.append(waits)
    return waits


def _make_all() -> None:
    """Makes the functions that wait, and puts them wherever they are known: a compiled one can
    only call compiled ones, and whoever calls one need not ask each time whether it is made."""
    from numba import njit

    with _making:
        _say_what_is_made()
        make = njit(cache=True, nogil=True, error_model="numpy")
        made = {id(one): make(one.function) for one in _waiting}
        for module in [one for name, one in list(sys.modules.items()) if name.startswith("orexis")]:
            for name, one in list(vars(module).items()):
                if id(one) in made:
                    setattr(module, name, made[id(one)])
        for one in _waiting:
            one.made = made[id(one)]
        _waiting.clear()


@cache
def _say_what_is_made() -> None:
    """Says from now on when something has to be made, since that takes its time; once."""
    from numba.core.event import Listener, register

    class Said(Listener):
        said = False

        def on_start(self, event: object) -> None:
            if not self.said:
                log.warning("Getting ready to listen. This takes about half a minute, once.")
            self.said = True

        def on_end(self, event: object) -> None:
            pass

    register("numba:compile", Said())  # type: ignore[no-untyped-call]
