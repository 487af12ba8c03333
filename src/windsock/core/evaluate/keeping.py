"""Where results are kept, and what each cost: memory for all, a store beneath it for what took history to find."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from threading import Lock, local
from time import perf_counter
from typing import Literal, Protocol, Self, cast

import numpy as np
from numpy.typing import NDArray

from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.nodes import Node
from windsock.core.evaluate.reads import Traces
from windsock.core.kernels.compiled import seconds_compiling

Kind = Literal["immediate", "solved", "marched"]
Array = NDArray[np.float64]


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
    """What a node of the plan has cost: when it was last made, how often it was found ready, and the bytes it holds.

    own: of its milliseconds, those that no other node was counted for; compiling: those that kernels were compiled in.
    """

    node: Node
    kind: Kind
    milliseconds: float = 0.0
    own: float = 0.0
    compiling: float = 0.0
    made: int = 0
    hits: int = 0
    bytes: int = 0


class Keeper:
    """Results under the hash of what they depend on. Safe to use from several threads."""

    def __init__(self, cache: Cache, store: Store | None = None) -> None:
        self.cache = cache
        self.traces = Traces()
        self._store = store
        self._costs: dict[str, Cost] = {}
        self._recent: dict[str, list[tuple[int, Arrays]]] = {}
        self._lock = Lock()

    def stored(self, key: str) -> Mapping[str, Array] | None:
        """Arrays under a key, from memory or the store."""
        found = self.cache.get(key)
        if isinstance(found, Arrays):
            return found.named
        kept = self._store.get(key) if self._store else None
        if kept is not None:
            self.cache.put(key, Arrays(kept))
        return kept

    def keep(self, key: str, arrays: Mapping[str, Array], stored: bool = True) -> None:
        """Put arrays into memory and, where they are to be `stored`, into the store."""
        self.cache.put(key, Arrays(arrays))
        if self._store and stored:
            self._store.put(key, arrays)

    def keep_aside(self, key: str, arrays: Mapping[str, NDArray[np.uint8]]) -> None:
        """Put arrays only into the store."""
        if self._store:
            self._store.put(key, cast(Mapping[str, Array], arrays))

    def stored_aside(self, key: str) -> Mapping[str, Array] | None:
        """Arrays under a key, from the store."""
        return self._store.get(key) if self._store else None

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

    def costs(self, nodes: Sequence[Node]) -> list[Cost]:
        """What these nodes have cost, as far as they have been asked for."""
        with self._lock:
            return [self._costs[node] for node in nodes if node in self._costs]

    def clear(self) -> None:
        """Forget all that is in memory."""
        self.cache.clear()
        self.traces.clear()
        with self._lock:
            self._recent.clear()

    def counting(self, node: Node | None, kind: Kind) -> Counting:
        """What counts the cost of a node while it is looked for or made; nothing is counted where there is no node."""
        return Counting(self, node, kind)

    def count(self, counted: Counting, spent: float, own: float, compiling: float) -> None:
        """Add to what a node has cost, in seconds."""
        node = counted.node
        if node is None:
            return
        with self._lock:
            before = self._costs.get(node) or Cost(node, counted.kind)
            if counted.reused:
                self._costs[node] = replace(before, hits=before.hits + 1, bytes=counted.held)
            else:
                self._costs[node] = replace(
                    before,
                    milliseconds=spent * 1000,
                    own=own * 1000,
                    compiling=compiling * 1000,
                    made=before.made + 1,
                    bytes=counted.held,
                )
            if len(self._costs) > 4096:
                del self._costs[next(iter(self._costs))]


class _Within(local):
    """The seconds of what was counted within what is counted now, in each thread."""

    seconds = 0.0


_within = _Within()


class Counting:
    """Counts what a node costs from beginning to end. reused: it was found ready; held: the bytes of its result."""

    def __init__(self, keeper: Keeper, node: Node | None, kind: Kind) -> None:
        self.node = node
        self.kind: Kind = kind
        self.reused, self.held = False, 0
        self._keeper = keeper
        self._started = self._outer = self._compiled = 0.0

    def __enter__(self) -> Self:
        if self.node is not None:
            self._started, self._compiled = perf_counter(), seconds_compiling()
            self._outer, _within.seconds = _within.seconds, 0.0
        return self

    def __exit__(self, kind: type[BaseException] | None, *trouble: object) -> None:
        if self.node is None:
            return
        spent = perf_counter() - self._started
        own = spent - _within.seconds
        _within.seconds = self._outer + spent
        if kind is None:
            self._keeper.count(self, spent, own, seconds_compiling() - self._compiled)
