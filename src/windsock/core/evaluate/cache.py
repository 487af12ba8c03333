"""Results in memory, by fingerprint, within a budget of bytes; what was not used for longest goes first."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from threading import Lock
from typing import Protocol, TypeVar


class HasBytes(Protocol):
    """Something that knows how many bytes it holds."""

    @property
    def nbytes(self) -> int: ...


Result = TypeVar("Result", bound=HasBytes)


class Cache:
    """Keeps results under the hash of what they depend on. Safe to use from several threads."""

    def __init__(self, budget: int) -> None:
        self.budget = budget
        self.held = 0
        self._results: OrderedDict[str, tuple[HasBytes, int]] = OrderedDict()
        """With the bytes that each had when it was put here: some grow as they are used."""
        self._lock = Lock()

    def get_or_make(self, key: str, make: Callable[[], Result]) -> tuple[Result, bool]:
        """The result under the key, made if it is not there, and whether it was there."""
        with self._lock:
            if key in self._results:
                self._results.move_to_end(key)
                return self._results[key][0], True  # pyright: ignore[reportReturnType]
        result = make()
        self.put(key, result)
        return result, False

    def put(self, key: str, result: HasBytes) -> None:
        """Keep a result; one larger than the whole budget is not kept."""
        nbytes = result.nbytes
        with self._lock:
            if key in self._results or nbytes > self.budget:
                return
            self._results[key] = result, nbytes
            self.held += nbytes
            while self.held > self.budget:
                _, (_, gone) = self._results.popitem(last=False)
                self.held -= gone

    def get(self, key: str) -> HasBytes | None:
        """The result under the key, or None."""
        with self._lock:
            if key in self._results:
                self._results.move_to_end(key)
            found = self._results.get(key)
            return None if found is None else found[0]

    def clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._results.clear()
            self.held = 0
