"""Arrays as they travel to be drawn: smaller, and made in one pass."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray


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


NO_COLOUR, NO_OPACITY = np.zeros((0, 3), dtype=np.float32), np.zeros(0, dtype=np.float32)


@njit(cache=True, nogil=True)
def _pack_normals(normals, packed):  # pragma: no cover - compiled
    for point in range(len(normals)):
        for axis in range(3):
            value = min(max(normals[point, axis], np.float32(-1)), np.float32(1)) * np.float32(32767)
            packed[point, axis] = np.int16(value + np.float32(0.5) if value >= 0 else value - np.float32(0.5))


@njit(cache=True, nogil=True)
def _pack_tint(base, colour, opacity, packed):  # pragma: no cover - compiled
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
