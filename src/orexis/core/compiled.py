"""Inner loops, compiled: a few frames at a time, numpy would spend its time on being called.

What is marked `compiled` is plain Python over numbers and arrays, which numba turns into machine
code when it is first called and keeps beside the file for the next start. It may use only what
stands in its own file, since a kept one is made anew when that file changes and not when another
does. With `NUMBA_DISABLE_JIT=1` it runs as it is written.
"""

from collections.abc import Callable
from typing import ParamSpec, TypeVar, cast

from numba import njit

_Given = ParamSpec("_Given")
_Told = TypeVar("_Told")


def compiled(function: Callable[_Given, _Told]) -> Callable[_Given, _Told]:
    """The same function, compiled; dividing by zero gives infinity as in numpy, and other threads
    go on meanwhile."""
    made = njit(cache=True, nogil=True, error_model="numpy")(function)
    return cast("Callable[_Given, _Told]", made)
