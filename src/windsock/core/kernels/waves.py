"""Travelling waves, round or with sharp crests."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled, loop, parallel

Reals = NDArray[np.float64]
Floats = NDArray[np.float32]


def waved(
    points: Floats,
    to_frame: Reals,
    radial: bool,
    length: float,
    come: float,
    rise: float,
    sway: float,
    fades: float,
    weight: Reals,
) -> Floats:
    """(n, 3) points after a wave that travels along X of a frame, or outward from its Y, has raised them along Y.

    The surface at a distance d goes by `rise` cos(p) up and by `sway` sin(p) back along the way, p = 2 pi (d - come) / length: with
    both alike every point goes round a circle and the surface is a trochoid (F. J. von Gerstner, 1802). to_frame: (4, 4) from
    the points' space to the frame; come: metres that the wave has come; fades: metres over which it falls to 1 / e, 0 for never.
    weight: (n,).
    """
    made = np.empty_like(points)
    to_own = np.ascontiguousarray(np.linalg.inv(to_frame[:3, :3]), dtype=np.float64)
    _wave(points, to_frame, to_own, radial, 2 * np.pi / length, come, rise, sway, fades, weight, made)
    return made


@parallel
def _wave(
    points: Floats,
    to_frame: Reals,
    to_own: Reals,
    radial: bool,
    number: float,
    come: float,
    rise: float,
    sway: float,
    fades: float,
    weight: Reals,
    made: Floats,
):  # pragma: no cover - compiled
    for point in loop(len(points)):
        px, py, pz = points[point, 0], points[point, 1], points[point, 2]
        counts = weight[point]
        if counts == 0:
            made[point, 0], made[point, 1], made[point, 2] = px, py, pz
            continue
        x = to_frame[0, 0] * px + to_frame[0, 1] * py + to_frame[0, 2] * pz + to_frame[0, 3]
        along_x, along_z, far = 1.0, 0.0, x
        if radial:
            z = to_frame[2, 0] * px + to_frame[2, 1] * py + to_frame[2, 2] * pz + to_frame[2, 3]
            far = np.sqrt(x * x + z * z)
            along_x, along_z = (x / far, z / far) if far > 1e-9 else (0.0, 0.0)
        if fades > 0:
            counts *= np.exp(-abs(far) / fades)
        phase = number * (far - come)
        up, back = counts * rise * np.cos(phase), -counts * sway * np.sin(phase)
        x, z = back * along_x, back * along_z
        made[point, 0] = px + to_own[0, 0] * x + to_own[0, 1] * up + to_own[0, 2] * z
        made[point, 1] = py + to_own[1, 0] * x + to_own[1, 1] * up + to_own[1, 2] * z
        made[point, 2] = pz + to_own[2, 0] * x + to_own[2, 1] * up + to_own[2, 2] * z


def wave_shift(
    far: Reals,
    ways: Reals,
    ups: Reals,
    length: float,
    come: float,
    rise: float,
    sway: float,
    fades: float,
    weight: Reals,
) -> Reals:
    """(n, 3) how far the same wave moves places that are (n,) metres from where it comes from. ways: (n, 3) of length 1, on
    which it travels there; ups: (n, 3) along which it raises them."""
    made = np.empty_like(ways)
    _shift(far, ways, ups, 2 * np.pi / length, come, rise, sway, fades, weight, made)
    return made


@compiled
def _shift(
    far: Reals,
    ways: Reals,
    ups: Reals,
    number: float,
    come: float,
    rise: float,
    sway: float,
    fades: float,
    weight: Reals,
    made: Reals,
):  # pragma: no cover - compiled
    for place in range(len(far)):
        counts = weight[place] * (np.exp(-abs(far[place]) / fades) if fades > 0 else 1.0)
        phase = number * (far[place] - come)
        up, back = counts * rise * np.cos(phase), -counts * sway * np.sin(phase)
        for axis in range(3):
            made[place, axis] = ups[place, axis] * up + ways[place, axis] * back
