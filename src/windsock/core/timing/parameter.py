"""Parameters: a constant, or keys with easings. `Moment` answers what a parameter is at a frame."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated, Self, TypeVar, cast, overload

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from windsock.core.declarations import Declared, Id
from windsock.core.timing.easing import Ease, Easing, eased, eased_each

Frame = Annotated[float, Field(ge=-100_000, le=100_000)]
Finite = Annotated[float, Field(ge=-1e9, le=1e9)]
Vector = tuple[Finite, Finite, Finite]

QUADRATURE_PARTS = 8
QUADRATURE = np.polynomial.legendre.leggauss(8)
"""Places in -1..1 and weights of the Gauss-Legendre quadrature of eight points."""


class NumberKey(Declared):
    """A number at a frame; `easing` rules the way to the next key."""

    frame: Frame
    value: Finite
    easing: Easing = Ease()


class VectorKey(Declared):
    """A vector at a frame; its components share one easing."""

    frame: Frame
    value: Vector
    easing: Easing = Ease()


class KeyedNumber(Declared):
    """A number that changes over time."""

    keys: Annotated[dict[Id, NumberKey], Field(min_length=1, max_length=1000)]

    @model_validator(mode="after")
    def _frames_differ(self) -> Self:
        _refuse_equal_frames(key.frame for key in self.keys.values())
        return self

    def numbers(self) -> Iterable[float]:
        return [key.value for key in self.keys.values()]


class KeyedVector(Declared):
    """A vector that changes over time."""

    keys: Annotated[dict[Id, VectorKey], Field(min_length=1, max_length=1000)]

    @model_validator(mode="after")
    def _frames_differ(self) -> Self:
        _refuse_equal_frames(key.frame for key in self.keys.values())
        return self

    def numbers(self) -> Iterable[float]:
        return [number for key in self.keys.values() for number in key.value]


def _refuse_equal_frames(frames: Iterable[float]) -> None:
    listed = list(frames)
    if len(set(listed)) != len(listed):
        raise ValueError("two keys of one parameter stand on the same frame")


NumberParameter = Finite | KeyedNumber
VectorParameter = Vector | KeyedVector


Settled = TypeVar("Settled")
PLAIN = frozenset({float, int, str, bool, tuple, type(None)})
"""Kinds of values in which nothing is keyed."""


@dataclass(frozen=True)
class Moment:
    """A point in time of a shot: a frame number (fractions allowed) and the seconds it stands for."""

    frame: float
    seconds: float

    @overload
    def __call__(self, parameter: NumberParameter) -> float: ...
    @overload
    def __call__(self, parameter: VectorParameter) -> tuple[float, float, float]: ...
    def __call__(self, parameter: NumberParameter | VectorParameter) -> float | tuple[float, float, float]:
        """What the parameter is at this moment. Before the first key and after the last the value stays."""
        if isinstance(parameter, KeyedNumber):
            return _number_at(parameter, self.frame)
        if isinstance(parameter, KeyedVector):
            return _vector_at(parameter, self.frame)
        return parameter

    def resolved(self, thing: object) -> object:
        """The thing as plain data with every keyed parameter replaced by its value now: what a cache key hashes."""
        if isinstance(thing, (KeyedNumber, KeyedVector)):
            return self(thing)
        if isinstance(thing, Declared):
            return {name: self.resolved(getattr(thing, name)) for name in type(thing).model_fields}
        if isinstance(thing, dict):
            return {str(key): self.resolved(value) for key, value in thing.items()}  # pyright: ignore
        if isinstance(thing, (tuple, list)):
            return [self.resolved(value) for value in thing]  # pyright: ignore
        return thing

    def settled(self, thing: Settled) -> Settled:
        """The thing with every keyed parameter in it replaced by what it is now; the thing itself where nothing is keyed."""
        return cast(Settled, self._settled(thing))

    def _settled(self, thing: object) -> object:
        if type(thing) in PLAIN:
            return thing
        if isinstance(thing, (KeyedNumber, KeyedVector)):
            return self(thing)
        if isinstance(thing, Declared):
            now = {name: self._settled(getattr(thing, name)) for name in type(thing).model_fields}
            changed = {name: value for name, value in now.items() if value is not getattr(thing, name)}
            return thing.model_copy(update=changed) if changed else thing
        if isinstance(thing, dict):
            held = cast(dict[str, object], thing)
            made = {key: self._settled(value) for key, value in held.items()}
            return thing if all(made[key] is held[key] for key in made) else made  # pyright: ignore[reportUnknownVariableType]
        return thing


def travelled(parameter: NumberParameter, start: float, end: float) -> float:
    """The integral over frames of a number that counts as 0 where it is negative; negative itself where end < start.

    Between two keys it is taken in eight parts by Gauss-Legendre quadrature of eight points: exact where the number is
    straight or held, and to about 1e-9 of the value along an easing.
    """
    if not isinstance(parameter, KeyedNumber):
        return max(parameter, 0.0) * (end - start)
    if end < start:
        return -travelled(parameter, end, start)
    stops = sorted({start, end, *(key.frame for key in parameter.keys.values() if start < key.frame < end)})
    return float(_integrals(parameter, np.array(stops)).sum())


def travelled_through(parameter: NumberParameter, frames: NDArray[np.float64]) -> NDArray[np.float64]:
    """(n,) the same from the first of (n,) ascending frames, which are not far apart, to each."""
    if not isinstance(parameter, KeyedNumber):
        return max(parameter, 0.0) * (frames - frames[0])
    keys = [key.frame for key in parameter.keys.values() if frames[0] < key.frame < frames[-1]]
    stops = np.unique(np.concatenate([frames, keys]))
    come = np.concatenate([[0.0], np.cumsum(_integrals(parameter, stops, 1))])
    return come[np.searchsorted(stops, frames)]


def _integrals(
    parameter: KeyedNumber, stops: NDArray[np.float64], parts: int = QUADRATURE_PARTS
) -> NDArray[np.float64]:
    """(n - 1,) the integral between each two of (n,) frames, which no key lies between, in so many parts."""
    width = np.diff(stops)[:, None, None] / parts
    places, weights = QUADRATURE
    middle = stops[:-1, None, None] + width * (np.arange(parts)[None, :, None] + 0.5)
    frames = middle + places * width / 2
    numbers = _numbers_at(parameter, frames.ravel()).reshape(frames.shape)
    return (np.maximum(numbers, 0.0) * weights * width / 2).sum(axis=(1, 2))


def _numbers_at(parameter: KeyedNumber, frames: NDArray[np.float64]) -> NDArray[np.float64]:
    """(n,) what a keyed number is at (n,) frames."""
    keys = sorted(parameter.keys.values(), key=lambda key: key.frame)
    before = np.searchsorted([key.frame for key in keys], frames, side="right") - 1
    values = np.array([key.value for key in keys])[np.maximum(before, 0)]
    for place, (first, second) in enumerate(pairwise(keys)):
        there = np.flatnonzero(before == place)
        if len(there):
            share = eased_each(first.easing, (frames[there] - first.frame) / (second.frame - first.frame))
            values[there] = first.value + (second.value - first.value) * share
    return values


def _number_at(parameter: KeyedNumber, frame: float) -> float:
    keys = sorted(parameter.keys.values(), key=lambda key: key.frame)
    before = bisect_right([key.frame for key in keys], frame) - 1
    if before < 0 or before + 1 == len(keys):
        return keys[max(before, 0)].value
    first, second = keys[before], keys[before + 1]
    share = eased(first.easing, (frame - first.frame) / (second.frame - first.frame))
    return first.value + (second.value - first.value) * share


def _vector_at(parameter: KeyedVector, frame: float) -> tuple[float, float, float]:
    keys = sorted(parameter.keys.values(), key=lambda key: key.frame)
    before = bisect_right([key.frame for key in keys], frame) - 1
    if before < 0 or before + 1 == len(keys):
        return keys[max(before, 0)].value
    first, second = keys[before], keys[before + 1]
    share = eased(first.easing, (frame - first.frame) / (second.frame - first.frame))
    (ax, ay, az), (bx, by, bz) = first.value, second.value
    return (ax + (bx - ax) * share, ay + (by - ay) * share, az + (bz - az) * share)
