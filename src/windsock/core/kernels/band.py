"""How much of the band of a field lies on each face of a surface."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled

Reals = NDArray[np.float64]


def band_lengths(
    places: Reals, faces: NDArray[np.int32], values: Reals, level: float, width: Reals
) -> tuple[NDArray[np.int64], Reals]:
    """The faces that a band lies on, (k,), and how much of its length, in metres, lies on each.

    places: (n, 3) in metres; faces: (m, 3); values, width: (n,) at the points. The band's weight is 1 - 2 |v - level| / width
    where that is above 0. Across a front it sums up to half of the band's width in metres, width / |grad v|, so the length on a
    face is 2 |grad v| / width times the weight's integral, which is taken by the corners and the middle of the face.
    """
    found, lengths = np.empty(len(faces), dtype=np.int64), np.empty(len(faces))
    count = _lengths(places, faces, values, level, width, found, lengths)
    return found[:count], lengths[:count]


@compiled
def _lengths(
    places: Reals,
    faces: NDArray[np.int32],
    values: Reals,
    level: float,
    width: Reals,
    found: NDArray[np.int64],
    lengths: Reals,
) -> int:  # pragma: no cover - compiled
    count = 0
    for face in range(len(faces)):
        a, b, c = faces[face, 0], faces[face, 1], faces[face, 2]
        own = float((width[a] + width[b] + width[c]) / 3)
        one, two, three = float(values[a] - level), float(values[b] - level), float(values[c] - level)
        if own <= 0 or min(one, two, three) >= own / 2 or max(one, two, three) <= -own / 2:
            continue
        aa = bb = ab = 0.0
        for axis in range(3):
            first, second = places[b, axis] - places[a, axis], places[c, axis] - places[a, axis]
            aa, bb, ab = aa + first * first, bb + second * second, ab + first * second
        square = aa * bb - ab * ab
        if square <= 1e-24:
            continue
        p, q = two - one, three - one
        slope = np.sqrt(max(p * p * bb - 2 * p * q * ab + q * q * aa, 0.0) / square)
        weight = 3 * _weight((one + two + three) / 3, own)
        weight += _weight(one, own) + _weight(two, own) + _weight(three, own)
        length = slope / own * weight / 6 * np.sqrt(square)
        if length > 0:
            found[count], lengths[count] = face, length
            count += 1
    return count


@compiled
def _weight(over: float, width: float) -> float:  # pragma: no cover - compiled
    return max(0.0, 1 - 2 * abs(over) / width)
