"""How a whole item lags behind its own motion and springs past it."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from math import floor
from threading import Lock
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from windsock.core.declarations import Declared, Quantity
from windsock.core.geometry.placement import Matrix
from windsock.core.kernels.springs import spring_factors, spring_step
from windsock.core.timing.parameter import NumberParameter
from windsock.core.timing.ticks import TICKS

AFTER = 2.0
"""Seconds after the shot's last frame up to which it is followed; what is asked about later stands stiffly."""

LOOSE = np.ones(3)

MOST_SWINGS = 64
"""Motions that are kept."""


class Springs(Declared):
    """Draw an item on damped springs to where it would stand: its place, and the tips of its axes one metre out, so that its turn
    follows too. What it carries goes along.

    `swings` is how often it swings in a second, `damping` how soon it comes to rest: at 0 it never does, at 1 it does not swing past.
    """

    swings: Annotated[NumberParameter, Quantity("Swings in a second", unit="/s", low=0.05, high=30, drag=0.02)] = 1.5
    damping: Annotated[NumberParameter, Quantity("How soon it comes to rest", low=0, high=3, drag=0.005)] = 0.25
    turns: Annotated[bool, Field(description="Whether its turn springs as well as its place")] = True
    settled: Annotated[
        float, Quantity("Time before the first frame in which it settles", unit="s", low=0, high=60, drag=0.02)
    ] = 1.0


class Swing:
    """The motion of one item on its springs, found from tick to tick as far as it is asked about. Safe to use from several threads.

    start, end: the seconds between which it swings. stiff: (4, 4) where it would stand at a second, moved and turned. now: its swings
    and damping then.
    """

    def __init__(
        self,
        springs: Springs,
        start: float,
        end: float,
        stiff: Callable[[float], Matrix],
        now: Callable[[float], tuple[float, float]],
    ) -> None:
        self._springs, self._start, self._end, self._stiff, self._now = springs, start, end, stiff, now
        self._ticks: list[tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]] = []
        self._lock = Lock()

    def standing(self, seconds: float, stiff: Matrix) -> Matrix:
        """(4, 4) where it stands at a second, where it would stand stiffly at a place."""
        if not self._start < seconds <= self._end:
            return stiff
        tick = floor((seconds - self._start) * TICKS)
        with self._lock:
            while len(self._ticks) <= tick:
                self._walk()
            drawn, place, velocity = self._ticks[tick]
        since = seconds - (self._start + tick / TICKS)
        if since > 1e-9:
            place, _ = self._step(drawn, _tips(stiff), place, velocity, seconds - since, since)
        made = stiff.copy()
        made[:3, 3] = place[0]
        if self._springs.turns:
            made[:3, :3] = _turned(place, stiff)
        return made

    def _walk(self) -> None:
        """One tick further."""
        count = len(self._ticks)
        drawn = _tips(self._stiff(self._start + count / TICKS))
        if count == 0:
            self._ticks.append((drawn, drawn, np.zeros_like(drawn)))
            return
        before, place, velocity = self._ticks[-1]
        seconds = self._start + (count - 1) / TICKS
        self._ticks.append((drawn, *self._step(before, drawn, place, velocity, seconds, 1 / TICKS)))

    def _step(
        self,
        before: NDArray[np.float64],
        drawn: NDArray[np.float64],
        place: NDArray[np.float64],
        velocity: NDArray[np.float64],
        seconds: float,
        lasts: float,
    ) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        swings, damping = self._now(seconds)
        factors = spring_factors(LOOSE, swings, damping, lasts)
        return spring_step(place, velocity, before, drawn, lasts, factors, LOOSE)


class Swings:
    """Motions that were found, by all that the document says of them: an edit of something else finds them there. Safe to use from
    several threads."""

    def __init__(self) -> None:
        self._kept: OrderedDict[str, Swing] = OrderedDict()
        self._lock = Lock()

    def of(self, definition: str, make: Callable[[], Swing]) -> Swing:
        """The motion of a definition, which is made where it is not there."""
        with self._lock:
            if definition not in self._kept:
                self._kept[definition] = make()
            self._kept.move_to_end(definition)
            if len(self._kept) > MOST_SWINGS:
                self._kept.popitem(last=False)
            return self._kept[definition]


SWINGS = Swings()


def _tips(matrix: Matrix) -> NDArray[np.float64]:
    """(3, 3) the place, and the tips of Y and X one metre out."""
    place = matrix[:3, 3]
    return np.stack([place, place + matrix[:3, 1], place + matrix[:3, 0]])


def _turned(tips: NDArray[np.float64], stiff: Matrix) -> NDArray[np.float64]:
    """(3, 3) the turn whose Y goes to the first tip, and whose X is nearest to the other; that of the stiff one where the tips come
    together."""
    up, beside = tips[1] - tips[0], tips[2] - tips[0]
    across: NDArray[np.float64] = np.asarray(np.cross(beside, up), dtype=np.float64)
    if np.linalg.norm(up) < 1e-3 or np.linalg.norm(across) < 1e-3:
        return stiff[:3, :3]
    up, across = up / np.linalg.norm(up), across / np.linalg.norm(across)
    return np.stack([np.asarray(np.cross(up, across), dtype=np.float64), up, across], axis=1)
