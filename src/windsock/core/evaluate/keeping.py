"""Where results are kept, and what each cost: memory for all, a store beneath it for what took history to find."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from threading import Lock
from time import perf_counter
from typing import Literal, Protocol, TypeVar, cast

import numpy as np
from numpy.typing import NDArray

from windsock.core.evaluate.cache import Cache, Result

Kind = Literal["immediate", "solved", "marched"]
Array = NDArray[np.float64]
Held = TypeVar("Held", bound=np.generic)


@dataclass(frozen=True, eq=False)
class Arrays:
    """Named arrays: a solution, or the state of a march at a tick."""

    named: Mapping[str, Array]

    @property
    def nbytes(self) -> int:
        return sum(array.nbytes for array in self.named.values())


class Store(Protocol):
    """Keeps arrays beyond this process, such as a folder. What it gives back is what was put, or nothing."""

    def get(self, key: str) -> Mapping[str, Array] | None: ...

    def put(self, key: str, arrays: Mapping[str, Array]) -> None: ...


@dataclass(frozen=True)
class Cost:
    """What a node of the plan has cost: when it was last made, how often it was found ready, and the bytes it holds."""

    node: str
    kind: Kind
    milliseconds: float = 0.0
    made: int = 0
    hits: int = 0
    bytes: int = 0


class Keeper:
    """Results under the hash of what they depend on. Safe to use from several threads."""

    def __init__(self, cache: Cache, store: Store | None = None) -> None:
        self.cache = cache
        self._store = store
        self._costs: dict[str, Cost] = {}
        self._recent: dict[str, list[tuple[int, Arrays]]] = {}
        self._lock = Lock()

    def result(self, node: str, key: str, make: Callable[[], Result]) -> tuple[Result, bool]:
        """An immediate result, made if it is not there, and whether it was there."""
        started = perf_counter()
        result, reused = self.cache.get_or_make(key, make)
        self._count(node, "immediate", reused, started, result.nbytes)
        return result, reused

    def solution(
        self, node: str, key: str, make: Callable[[], Mapping[str, NDArray[Held]]]
    ) -> Mapping[str, NDArray[Held]]:
        """A solved result: from memory, else from the store, else made and put into both."""
        started = perf_counter()
        kept = self.stored(key)
        reused = kept is not None
        if kept is None:
            kept = cast(Mapping[str, Array], make())
            self.keep(key, kept)
        self._count(node, "solved", reused, started, Arrays(kept).nbytes)
        # What is kept under a key is what was made for it, so it is of the same kind.
        return cast(Mapping[str, NDArray[Held]], kept)

    def stored(self, key: str) -> Mapping[str, Array] | None:
        """Arrays under a key, from memory or the store."""
        found = self.cache.get(key)
        if isinstance(found, Arrays):
            return found.named
        kept = self._store.get(key) if self._store else None
        if kept is not None:
            self.cache.put(key, Arrays(kept))
        return kept

    def keep(self, key: str, arrays: Mapping[str, Array]) -> None:
        """Put arrays into memory and the store."""
        self.cache.put(key, Arrays(arrays))
        if self._store:
            self._store.put(key, arrays)

    def recent(self, march: str) -> list[tuple[int, Arrays]]:
        """The ticks at which a march was left last, with its states there."""
        with self._lock:
            return list(self._recent.get(march, []))

    def leave(self, march: str, tick: int, state: Mapping[str, Array]) -> None:
        """Remember where a march was left; two places of each of the last few marches are remembered."""
        with self._lock:
            kept = [one for one in self._recent.pop(march, []) if one[0] != tick]
            self._recent[march] = [*kept[-1:], (tick, Arrays(state))]
            while len(self._recent) > 8:
                del self._recent[next(iter(self._recent))]

    def marched(self, node: str, reused: bool, started: float, held: int) -> None:
        """Count what a march cost that was asked for a state."""
        self._count(node, "marched", reused, started, held)

    def costs(self, nodes: list[str]) -> list[Cost]:
        """What these nodes have cost, as far as they have been asked for."""
        with self._lock:
            return [self._costs[node] for node in nodes if node in self._costs]

    def clear(self) -> None:
        """Forget all that is in memory."""
        self.cache.clear()
        with self._lock:
            self._recent.clear()

    def _count(self, node: str, kind: Kind, reused: bool, started: float, held: int) -> None:
        spent = (perf_counter() - started) * 1000
        with self._lock:
            before = self._costs.get(node) or Cost(node, kind)
            if reused:
                self._costs[node] = replace(before, hits=before.hits + 1, bytes=held)
            else:
                self._costs[node] = replace(before, milliseconds=spent, made=before.made + 1, bytes=held)
            if len(self._costs) > 4096:
                del self._costs[next(iter(self._costs))]
