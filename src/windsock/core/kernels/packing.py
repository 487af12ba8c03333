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


def packed_tint(tint: NDArray[np.float32]) -> NDArray[np.uint16]:
    """(n, 4) colours and opacities, 0..1, as fractions of 65535 (glTF's normalized unsigned short)."""
    packed = np.empty(tint.shape, dtype=np.uint16)
    _pack_tint(tint, packed)
    return packed


@njit(cache=True, nogil=True)
def _pack_normals(normals, packed):  # pragma: no cover - compiled
    for point in range(len(normals)):
        for axis in range(3):
            value = min(max(normals[point, axis], np.float32(-1)), np.float32(1)) * np.float32(32767)
            packed[point, axis] = np.int16(value + np.float32(0.5) if value >= 0 else value - np.float32(0.5))


@njit(cache=True, nogil=True)
def _pack_tint(tint, packed):  # pragma: no cover - compiled
    for point in range(len(tint)):
        for channel in range(4):
            value = min(max(tint[point, channel], np.float32(0)), np.float32(1)) * np.float32(65535)
            packed[point, channel] = np.uint16(value + np.float32(0.5))
