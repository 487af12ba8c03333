"""What lies before a front that goes through a grid, brick by brick."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter

from windsock.core.kernels.compiled import compiled, loop, parallel
from windsock.core.kernels.isosurface import CELLS, NODES

Floats = NDArray[np.float32]
Integers = NDArray[np.int32]


EVEN, SLOWS = 2.0, 3.0
"""Voxels about the front within which its way is told as it is; and over how many more it is told as of a front that slows down."""

FASTEST = 6.0
"""The most that an exponent may be."""


def front_bricks(distance: Floats, arrival: Floats, come: float, voxel: float, sign: float, bricks: Integers) -> Floats:
    """(k, 9, 9, 9) at the nodes of bricks: above 0 in the solid that a front has left, once it has come so far.

    distance: below 0 inside; arrival: when the front comes; both, and voxel, in metres. sign: 1 where it eats into the solid, which is then what is inside and ahead
    of it; -1 where it grows out of it, and the solid is what is inside or behind it.
    """
    made = np.empty((len(bricks), NODES, NODES, NODES), dtype=np.float32)
    _bricks(distance, arrival, come, voxel, sign, bricks, made)
    return made


def slowing(ahead: Floats, voxel: float) -> Floats:
    """(...) metres that a front has yet to travel, below 0 where it has been, infinite where it never comes; told so that it lies rightly
    between nodes, voxel metres apart, where it slows down. See `_slowing`."""
    made = np.empty_like(ahead)
    _all_slowing(ahead.reshape(-1), voxel, made.reshape(-1))
    return made


@compiled
def _slowing(ahead: float, voxel: float) -> float:  # pragma: no cover - compiled
    """Where the pace falls evenly along a way to nothing, the time to a place grows as the logarithm of what is left of the way, and so
    the way is told by the exponential of the time; about the front itself, where that makes no difference, by the time as it is."""
    way = abs(ahead) / voxel - EVEN
    if way <= 0:
        return ahead
    if ahead > 0:
        return voxel * (EVEN + SLOWS * (1 - np.exp(-way / SLOWS)))
    return -voxel * (EVEN + SLOWS * (np.exp(min(way / SLOWS, FASTEST)) - 1))


@compiled
def _all_slowing(ahead: Floats, voxel: float, made: Floats):  # pragma: no cover - compiled
    for one in range(len(ahead)):
        made[one] = _slowing(float(ahead[one]), voxel)


def smoothed_times(times: Floats, ahead: NDArray[np.bool_], nodes: float) -> Floats:
    """Times with those of the nodes about them mixed in, over so many; what is never reached stays so. ahead: the nodes that count."""
    there = ahead & np.isfinite(times)
    weight = gaussian_filter(there.astype(np.float32), nodes)
    mixed = gaussian_filter(np.where(there, times, 0).astype(np.float32), nodes)
    made = times.copy()
    made[there] = mixed[there] / np.maximum(weight[there], 1e-6)
    return made


def times_at(arrival: Floats, distance: Floats, way: float, nodes: NDArray[np.float64]) -> NDArray[np.float64]:
    """(n,) when a front comes to places, (n, 3) counted in nodes from the first one on; infinite where it never does, and off the grid.

    Straight between the nodes about a place, of which those count that the front goes through or comes from: where that are none, as on a
    surface that lies in a layer of nodes, those next to them, the nearer the more. way: as for `extended_out`.
    """
    made = np.full(len(nodes), np.inf)
    _times_at(arrival, distance, way, np.ascontiguousarray(nodes), made)
    return made


@parallel
def _times_at(
    arrival: Floats, distance: Floats, way: float, nodes: NDArray[np.float64], made: NDArray[np.float64]
):  # pragma: no cover - compiled
    shape = arrival.shape
    for one in loop(len(nodes)):
        x, y, z = nodes[one]
        if not (0 <= x <= shape[0] - 1 and 0 <= y <= shape[1] - 1 and 0 <= z <= shape[2] - 1):
            continue
        i, j, k = min(int(x), shape[0] - 2), min(int(y), shape[1] - 2), min(int(z), shape[2] - 2)
        for wider in range(2):
            total, come, never = 0.0, 0.0, 0.0
            for a in range(max(i - wider, 0), min(i + 2 + wider, shape[0])):
                for b in range(max(j - wider, 0), min(j + 2 + wider, shape[1])):
                    for c in range(max(k - wider, 0), min(k + 2 + wider, shape[2])):
                        if wider:
                            near = 1 / (1e-6 + (x - a) ** 2 + (y - b) ** 2 + (z - c) ** 2)
                        else:
                            near = (1 - abs(x - a)) * (1 - abs(y - b)) * (1 - abs(z - c))
                        if arrival[a, b, c] < np.inf:
                            total += near * arrival[a, b, c]
                            come += near
                        elif way * distance[a, b, c] < 0:
                            never += near
            if come + never > 1e-3:
                if come >= never:
                    made[one] = total / come
                break


@parallel
def _bricks(
    distance: Floats, arrival: Floats, come: float, voxel: float, sign: float, bricks: Integers, made: Floats
):  # pragma: no cover - compiled
    for brick in loop(len(bricks)):
        for i in range(NODES):
            x = min(bricks[brick, 0] * CELLS + i, distance.shape[0] - 1)
            for j in range(NODES):
                y = min(bricks[brick, 1] * CELLS + j, distance.shape[1] - 1)
                for k in range(NODES):
                    z = min(bricks[brick, 2] * CELLS + k, distance.shape[2] - 1)
                    depth = -sign * distance[x, y, z]
                    ahead = float(arrival[x, y, z]) - come
                    # Nearer the surface than that it is all the same.
                    if depth > EVEN * voxel or ahead < -EVEN * voxel:
                        ahead = _slowing(ahead, voxel)
                    made[brick, i, j, k] = sign * min(depth, ahead)


@compiled
def extended_out(arrival: Floats, distance: Floats, slowness: Floats, way: float, face: Integers):  # pragma: no cover
    """Gives the nodes on the far side of the surface, where that is near, what the front would have needed from there to the surface,
    below 0, in place. way: 1 where it goes in, -1 where it goes out."""
    for x in range(arrival.shape[0]):
        for y in range(arrival.shape[1]):
            for z in range(arrival.shape[2]):
                beyond = way * distance[x, y, z]
                if beyond >= 0 and face[x, y, z] >= 0 and slowness[x, y, z] < np.inf:
                    arrival[x, y, z] = -beyond * slowness[x, y, z]


@compiled
def seeded(times: Floats, excess: Floats, slowness: Floats, voxel: float):  # pragma: no cover - compiled
    """Starts a front, in place, at the nodes where a field is over its level, and beside them where the field crosses that on the way.

    excess: how far it is over; slowness: metres of travel for each metre, infinite where the front never goes.
    """
    shape = times.shape
    for x in range(shape[0]):
        for y in range(shape[1]):
            for z in range(shape[2]):
                own = excess[x, y, z]
                if slowness[x, y, z] == np.inf:
                    continue
                if own >= 0:
                    times[x, y, z] = 0.0
                    continue
                for turn in range(6):
                    way = 1 if turn % 2 else -1
                    i = x + way if turn // 2 == 0 else x
                    j = y + way if turn // 2 == 1 else y
                    k = z + way if turn // 2 == 2 else z
                    if i < 0 or j < 0 or k < 0 or i >= shape[0] or j >= shape[1] or k >= shape[2]:
                        continue
                    other = excess[i, j, k]
                    if other >= 0 and own > -np.inf and slowness[i, j, k] < np.inf:
                        away = own / (own - other) * voxel * slowness[x, y, z]
                        times[x, y, z] = min(times[x, y, z], away)
