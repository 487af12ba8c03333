"""How kernels are compiled: to machine code, when they are first called, kept on disk (NUMBA_CACHE_DIR).

They let go of the interpreter while they run, so that others can. No Python function is compiled twice in different ways: the
cache would mix them up.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import wraps
from threading import get_ident, local
from time import perf_counter
from typing import Any, ParamSpec, TypeVar

import numba
import numpy as np
from numba.core import event

Whole = int | np.integer
"""A whole number in a kernel."""

Inputs = ParamSpec("Inputs")
Output = TypeVar("Output")

loop = numba.prange
"""A range whose rounds may run on all cores, in a kernel that is compiled by `parallel`."""


def compiled(function: Callable[Inputs, Output]) -> Callable[Inputs, Output]:
    """A kernel that runs on one core."""
    return _listed(numba.njit(cache=True, nogil=True)(function))


CORES = numba.get_num_threads()
"""Cores that one kernel may run on: as many as there are, or as NUMBA_NUM_THREADS says."""

FEW = 32_768
"""Rows below which it takes longer to wake another core than to do the work."""

_threads = local()
"""How many cores the kernels of each thread run on now: to say it again takes as long as a small kernel."""


def parallel(function: Callable[Inputs, Output]) -> Callable[Inputs, Output]:
    """A kernel whose loops over `loop` run on all cores where there is enough to do."""
    kernel: Callable[Inputs, Output] = _listed(numba.njit(cache=True, nogil=True, parallel=True)(function))
    if CORES == 1:
        return kernel

    @wraps(function)
    def run(*inputs: Inputs.args, **named: Inputs.kwargs) -> Output:
        rows = max(len(one) for one in inputs if isinstance(one, np.ndarray))
        wanted = 1 if rows < FEW else CORES
        if getattr(_threads, "wanted", None) != wanted:
            numba.set_num_threads(wanted)
            _threads.wanted = wanted
        return kernel(*inputs, **named)

    return run


def inlined(function: Callable[Inputs, Output]) -> Callable[Inputs, Output]:
    """A kernel that is written out in place where another one calls it."""
    return _listed(numba.njit(cache=True, nogil=True, inline="always")(function))


class _Compiling(event.Listener):
    """Adds up what the compiler takes in this process."""

    def __init__(self) -> None:
        self.seconds = 0.0
        self._started: dict[int, float] = {}

    def on_start(self, event: Any) -> None:
        del event
        self._started.setdefault(get_ident(), perf_counter())

    def on_end(self, event: Any) -> None:
        del event
        self.seconds += perf_counter() - self._started.pop(get_ident(), perf_counter())


_compiling = _Compiling()
event.register("numba:compile", _compiling)


def seconds_compiling() -> float:
    """What the compiler has taken in this process: nothing where all kernels were kept from before."""
    return _compiling.seconds


_kernels: list[Any] = []


def _listed(kernel: Any) -> Any:
    _kernels.append(kernel)
    return kernel


Signature = tuple[str, Any]
"""The full name of a kernel, and the types of what it is called with."""


def signatures() -> list[Signature]:
    """All that this process has compiled or loaded."""
    return [(_name(kernel), types) for kernel in _kernels for types in kernel.signatures]


def have_ready(wanted: Iterable[Signature]) -> None:
    """Load kernels, or compile what is not kept, in all these signatures."""
    kernels = {_name(kernel): kernel for kernel in _kernels}
    for name, types in wanted:
        if name in kernels:
            kernels[name].compile(types)


def _name(kernel: Any) -> str:
    return f"{kernel.py_func.__module__}.{kernel.py_func.__qualname__}"


def compiled_here() -> list[str]:
    """The kernels that this process had to compile as what was kept of them did not fit, with their signatures."""
    return sorted(f"{_name(kernel)}{signature}" for kernel in _kernels for signature in kernel.stats.cache_misses)
