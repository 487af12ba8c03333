"""How kernels are compiled: to machine code, when they are first called, kept on disk (NUMBA_CACHE_DIR).

They let go of the interpreter while they run, so that others can. No Python function is compiled twice in different ways: the
cache would mix them up.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any, ParamSpec, TypeVar

import numba
import numpy as np

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
FEW = 4096
"""Rows below which it takes longer to wake another core than to do the work."""


def parallel(function: Callable[Inputs, Output]) -> Callable[Inputs, Output]:
    """A kernel whose loops over `loop` run on all cores where there is enough to do."""
    kernel: Callable[Inputs, Output] = _listed(numba.njit(cache=True, nogil=True, parallel=True)(function))

    @wraps(function)
    def run(*inputs: Inputs.args, **named: Inputs.kwargs) -> Output:
        rows = max(len(one) for one in inputs if isinstance(one, np.ndarray))
        numba.set_num_threads(1 if rows < FEW else CORES)
        return kernel(*inputs, **named)

    return run


def inlined(function: Callable[Inputs, Output]) -> Callable[Inputs, Output]:
    """A kernel that is written out in place where another one calls it."""
    return _listed(numba.njit(cache=True, nogil=True, inline="always")(function))


_kernels: list[Any] = []


def _listed(kernel: Any) -> Any:
    _kernels.append(kernel)
    return kernel


def compiled_here() -> list[str]:
    """The kernels that this process had to compile as what was kept of them did not fit, with their signatures."""
    return sorted(
        f"{kernel.py_func.__module__}.{kernel.__name__}{signature}"
        for kernel in _kernels
        for signature in kernel.stats.cache_misses
    )
