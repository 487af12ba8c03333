"""Arrays as they travel to be drawn: smaller, and made in one pass."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled


def packed_normals(normals: NDArray[np.float32]) -> NDArray[np.int16]:
    """(n, 4) normals (n, 3) as signed fractions of 32767, padded to four (glTF's normalized short)."""
    packed = np.zeros((len(normals), 4), dtype=np.int16)
    _pack_normals(normals, packed)
    return packed


def packed_tint(
    count: int, base: NDArray[np.float32], colour: NDArray[np.float32] | None, opacity: NDArray[np.float32] | None
) -> NDArray[np.uint16]:
    """(count, 4) colours and opacities as fractions of 65535 (glTF's normalized unsigned short).

    base: (3,) linear colour where `colour` (count, 3) is None or not a number. opacity: (count,) or None for 1.
    """
    packed = np.empty((count, 4), dtype=np.uint16)
    _pack_tint(base, NO_COLOUR if colour is None else colour, NO_OPACITY if opacity is None else opacity, packed)
    return packed


def packed_surface(count: int, *channels: NDArray[np.float32] | None) -> NDArray[np.uint16]:
    """(count, 4) up to four channels, each (count,) in 0..1 or None for zeros, as fractions of 65535."""
    packed = np.zeros((count, 4), dtype=np.uint16)
    for place, values in enumerate(channels):
        if values is not None:
            packed[:, place] = np.round(np.clip(values, 0, 1) * 65535)
    return packed


@dataclass(frozen=True)
class PackedCopies:
    """k copies as they travel: 24 bytes each.

    place: (k, 4) fractions of 65535 of a cube with one corner at `low` and sides of `span` metres. turn: (k, 4) signed
    fractions of 32767, a quaternion x, y, z, w. size: (k, 4) fractions of 65535 of `largest`. The fourth of place and size
    pads. Span and largest are powers of two, and `low` lies on sixteenths of the span, so that they seldom change from
    frame to frame.
    """

    place: NDArray[np.uint16]
    turn: NDArray[np.int16]
    size: NDArray[np.uint16]
    low: tuple[float, float, float]
    span: float
    largest: float

    def error(self, radius: float) -> float:
        """The most, in metres, by which a point of a copy may stand elsewhere than computed; radius: of the model, at size
        1. Each number is off by half a step; a quaternion whose four numbers are off by e each turns by 4 e at most."""
        middle = 3**0.5 * self.span / 131070
        return middle + radius * self.largest * (4 * 0.5 / 32767 + 3**0.5 / 131070)


def packed_copies(points: NDArray[np.float32], turn: NDArray[np.float32], size: NDArray[np.float32]) -> PackedCopies:
    """Copies at (k, 3) points, with (k, 4) turns and (k, 3) sizes."""
    low, high = (points.min(axis=0), points.max(axis=0)) if len(points) else (np.zeros(3), np.zeros(3))
    span = _power(float((high - low).max(initial=0)) * 1.07)
    low = np.floor(low / (span / 16)) * (span / 16)
    while float((high - low).max(initial=0)) > span:
        span *= 2
        low = np.floor(low / (span / 16)) * (span / 16)
    largest = _power(float(size.max(initial=0)))
    place, turned = np.zeros((len(points), 4), dtype=np.uint16), np.zeros((len(points), 4), dtype=np.int16)
    sized = np.zeros((len(points), 4), dtype=np.uint16)
    _pack_copies(points, turn, size, low.astype(np.float64), span, largest, place, turned, sized)
    return PackedCopies(place, turned, sized, (float(low[0]), float(low[1]), float(low[2])), span, largest)


def _power(number: float) -> float:
    """The power of two at or over a number."""
    return float(2.0 ** np.ceil(np.log2(max(number, 1e-6))))


@compiled
def _pack_copies(
    points: NDArray[np.float32],
    turn: NDArray[np.float32],
    size: NDArray[np.float32],
    low: NDArray[np.float64],
    span: float,
    largest: float,
    place: NDArray[np.uint16],
    turned: NDArray[np.int16],
    sized: NDArray[np.uint16],
):  # pragma: no cover - compiled
    for k in range(len(points)):
        for axis in range(3):
            place[k, axis] = np.uint16(min(max((points[k, axis] - low[axis]) / span, 0.0), 1.0) * 65535 + 0.5)
            sized[k, axis] = np.uint16(min(max(size[k, axis] / largest, 0.0), 1.0) * 65535 + 0.5)
        for axis in range(4):
            value = min(max(float(turn[k, axis]), -1.0), 1.0) * 32767
            turned[k, axis] = np.int16(value + 0.5 if value >= 0 else value - 0.5)


NO_COLOUR, NO_OPACITY = np.zeros((0, 3), dtype=np.float32), np.zeros(0, dtype=np.float32)


@compiled
def _pack_normals(normals: NDArray[np.float32], packed: NDArray[np.int16]):  # pragma: no cover - compiled
    for point in range(len(normals)):
        for axis in range(3):
            value = min(max(normals[point, axis], np.float32(-1)), np.float32(1)) * np.float32(32767)
            packed[point, axis] = np.int16(value + np.float32(0.5) if value >= 0 else value - np.float32(0.5))


@compiled
def _pack_tint(
    base: NDArray[np.float32], colour: NDArray[np.float32], opacity: NDArray[np.float32], packed: NDArray[np.uint16]
):  # pragma: no cover - compiled
    for point in range(len(packed)):
        for channel in range(4):
            value = np.float32(1) if channel == 3 else base[channel]
            if channel == 3 and len(opacity):
                value = opacity[point]
            if channel < 3 and len(colour) and colour[point, channel] == colour[point, channel]:
                value = colour[point, channel]
            packed[point, channel] = np.uint16(
                min(max(value, np.float32(0)), np.float32(1)) * np.float32(65535) + np.float32(0.5)
            )
