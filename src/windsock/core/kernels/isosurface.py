"""The surface between nodes of a grid that are above 0 and those that are not, as triangles.

Method: marching cubes (W. Lorensen, H. Cline, 1987), in bricks of 8 x 8 x 8 cells, of which only those are looked into that the surface
may cross. The table is made, not copied: round each face of a cube what lies above is parted from other such corners, so that two
cubes that share a face cut it alike and the surface always closes (compare G. Nielson, B. Hamann, "The asymptotic decider", 1991, on
what goes wrong without).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import inlined, loop, parallel

Floats = NDArray[np.float32]
Reals = NDArray[np.float64]
Integers = NDArray[np.int32]
Numbers = NDArray[np.int64]
Shape = tuple[int, int, int]

CELLS = 8
"""Cells along an edge of a brick."""

NODES = CELLS + 1

LEAST = 1e-4
"""Share of an edge by which a point of the surface keeps off the nodes, so that no face has no area."""


def _made_table() -> tuple[Integers, Integers]:
    """(256,) how many triangles a cube has by which of its corners are above, and (256, 36) the edges that their corners lie on.

    Corner c lies at (c & 1, c >> 1 & 1, c >> 2 & 1). Edge 4 * axis + e goes along an axis from the corner that is 0 there and has the two
    bits of e on the other two axes.
    """
    edge_of: dict[frozenset[int], int] = {}
    for axis in range(3):
        others = [one for one in range(3) if one != axis]
        for bits in range(4):
            low = ((bits & 1) << others[0]) | ((bits >> 1) << others[1])
            edge_of[frozenset((low, low | 1 << axis))] = 4 * axis + bits
    rounds = []
    for axis in range(3):
        u, v = 1 << (axis + 1) % 3, 1 << (axis + 2) % 3
        rounds.append([0, v, u | v, u])
        rounds.append([1 << axis | corner for corner in (0, u, u | v, v)])
    sides = [{edge_of[frozenset((one[k], one[(k + 1) % 4]))] for k in range(4)} for one in rounds]
    counts, table = np.zeros(256, dtype=np.int32), np.full((256, 36), -1, dtype=np.int32)
    for above in range(256):
        follows: dict[int, int] = {}
        for corners in rounds:
            there = [bool(above >> corner & 1) for corner in corners]
            edges = [edge_of[frozenset((corners[k], corners[(k + 1) % 4]))] for k in range(4)]
            for k in range(4):
                if not there[k] and there[(k + 1) % 4]:
                    end = (k + 1) % 4
                    while there[(end + 1) % 4]:
                        end = (end + 1) % 4
                    follows[edges[k]] = edges[end]
        made: list[int] = []
        while follows:
            start, after = follows.popitem()
            ring = [start]
            while after != start:
                ring.append(after)
                after = follows.pop(after)
            ring = min((ring[k:] + ring[:k] for k in range(len(ring))), key=lambda one: _on_sides(one, sides))
            for k in range(1, len(ring) - 1):
                made += [ring[0], ring[k], ring[k + 1]]
        counts[above], table[above, : len(made)] = len(made) // 3, made
    return counts, table


def _on_sides(ring: list[int], sides: list[set[int]]) -> int:
    """How many of the lines that part a ring of edges into triangles lie in a side of the cube, where the next cube may have one too."""
    return sum(any(ring[0] in side and other in side for side in sides) for other in ring[2:-1])


COUNTS, TABLE = _made_table()


@dataclass(frozen=True, eq=False)
class IsoSurface:
    """first, axis: (v,) the node that the edge with each point starts at (as a place in the grid, z fastest), and along which axis it
    goes; share: (v,) how far along; faces: (t, 3), counter-clockwise seen from where values are below."""

    first: Numbers
    axis: NDArray[np.int8]
    share: Reals
    faces: Integers

    def second(self, shape: Shape) -> Numbers:
        """(v,) the node at which each edge ends."""
        steps = np.array([shape[1] * shape[2], shape[2], 1])
        return self.first + steps[self.axis]

    def places(self, shape: Shape) -> Reals:
        """(v, 3) the points, in voxels from the first node."""
        made = np.stack(np.unravel_index(self.first, shape), axis=1).astype(np.float64)
        made[np.arange(len(made)), self.axis] += self.share
        return made

    def between(self, values: Floats) -> Reals:
        """(v,) values of the nodes, at the points, along the straight line."""
        flat = values.reshape(-1)
        one = flat[self.first].astype(np.float64)
        return one + (flat[self.second(values.shape)] - one) * self.share  # pyright: ignore[reportArgumentType]

    def number(self) -> Numbers:
        """(v,) a number below 0 for each point, the same as long as it lies on the same edge."""
        return -1 - (self.first * 3 + self.axis)


def bricks_of(shape: Shape) -> Shape:
    """How many bricks a grid has along its axes."""
    x, y, z = (max(-(-(count - 1) // CELLS), 1) for count in shape)
    return x, y, z


def brick_ranges(values: Floats) -> tuple[Floats, Floats]:
    """The least and the most of the values at the nodes of each brick of a grid."""
    low = np.empty(bricks_of(values.shape), dtype=np.float32)  # pyright: ignore[reportArgumentType]
    high = np.empty_like(low)
    _ranges(values, low, high)
    return low, high


def isosurface(shape: Shape, bricks: Integers, values: Floats) -> IsoSurface:
    """The surface at 0. shape: of the grid; bricks: (k, 3) those that it may cross; values: (k, 9, 9, 9) at their nodes, above 0 nowhere
    beyond the grid. Bricks that are left out have values on one side only."""
    slots = np.full(bricks_of(shape), -1, dtype=np.int32)
    slots[bricks[:, 0], bricks[:, 1], bricks[:, 2]] = np.arange(len(bricks))
    points, triangles = np.zeros(len(bricks), dtype=np.int64), np.zeros(len(bricks), dtype=np.int64)
    _count(bricks, values, np.array(shape), COUNTS, points, triangles)
    point_starts, starts = np.cumsum(points) - points, np.cumsum(triangles) - triangles
    count = int(points.sum())
    first, axis = np.empty(count, dtype=np.int64), np.empty(count, dtype=np.int8)
    share, faces = np.empty(count), np.empty((int(triangles.sum()), 3), dtype=np.int32)
    index = np.empty((len(bricks), CELLS, CELLS, CELLS, 3), dtype=np.int32)
    _points(bricks, values, np.array(shape), point_starts, points, index, first, axis, share)
    _faces(bricks, values, np.array(shape), slots, starts, triangles, COUNTS, TABLE, index, faces)
    return IsoSurface(first, axis, share, faces)


def isosurface_of(values: Floats) -> IsoSurface:
    """The surface at 0 of a whole grid."""
    low, high = brick_ranges(values)
    bricks = np.argwhere((low <= 0) & (high > 0)).astype(np.int32)
    return isosurface(values.shape, bricks, brick_values(values, bricks))  # pyright: ignore[reportArgumentType]


def brick_values(values: Floats, bricks: Integers) -> Floats:
    """(k, 9, 9, 9) the values at the nodes of bricks of a grid; those beyond the grid are those at its edge."""
    made = np.empty((len(bricks), NODES, NODES, NODES), dtype=np.float32)
    _taken(values, bricks, made)
    return made


@parallel
def _ranges(values: Floats, low: Floats, high: Floats):  # pragma: no cover - compiled
    for x in loop(low.shape[0]):
        for y in range(low.shape[1]):
            for z in range(low.shape[2]):
                least, most = np.float32(np.inf), np.float32(-np.inf)
                for i in range(x * CELLS, min((x + 1) * CELLS + 1, values.shape[0])):
                    for j in range(y * CELLS, min((y + 1) * CELLS + 1, values.shape[1])):
                        for k in range(z * CELLS, min((z + 1) * CELLS + 1, values.shape[2])):
                            least = min(least, values[i, j, k])
                            most = max(most, values[i, j, k])
                low[x, y, z], high[x, y, z] = least, most


@parallel
def _taken(values: Floats, bricks: Integers, made: Floats):  # pragma: no cover - compiled
    for brick in loop(len(bricks)):
        for i in range(NODES):
            x = min(bricks[brick, 0] * CELLS + i, values.shape[0] - 1)
            for j in range(NODES):
                y = min(bricks[brick, 1] * CELLS + j, values.shape[1] - 1)
                for k in range(NODES):
                    z = min(bricks[brick, 2] * CELLS + k, values.shape[2] - 1)
                    made[brick, i, j, k] = values[x, y, z]


@inlined
def _flat(values: Floats, brick: int, i: int, j: int, k: int) -> int:  # pragma: no cover - compiled
    """Which corners of the side of a cell at a node along z are above, as bits. Those of two sides are those of the cell."""
    return (
        (values[brick, i, j, k] > 0)
        | (values[brick, i + 1, j, k] > 0) << 1
        | (values[brick, i, j + 1, k] > 0) << 2
        | (values[brick, i + 1, j + 1, k] > 0) << 3
    )


@parallel
def _count(
    bricks: Integers, values: Floats, shape: Numbers, counts: Integers, points: Numbers, triangles: Numbers
):  # pragma: no cover - compiled
    for brick in loop(len(bricks)):
        x0, y0, z0 = bricks[brick, 0] * CELLS, bricks[brick, 1] * CELLS, bricks[brick, 2] * CELLS
        found, made = 0, 0
        for i in range(min(CELLS, shape[0] - x0)):
            in_x = x0 + i + 1 < shape[0]
            for j in range(min(CELLS, shape[1] - y0)):
                in_y = y0 + j + 1 < shape[1]
                low = _flat(values, brick, i, j, 0)
                for k in range(min(CELLS, shape[2] - z0)):
                    high = _flat(values, brick, i, j, k + 1)
                    above = low | high << 4
                    if above != 0 and above != 255:
                        own, in_z = low & 1, z0 + k + 1 < shape[2]
                        found += in_x and (low >> 1 & 1) != own
                        found += in_y and (low >> 2 & 1) != own
                        found += in_z and (high & 1) != own
                        if in_x and in_y and in_z:
                            made += counts[above]
                    low = high
        points[brick], triangles[brick] = found, made


@parallel
def _points(
    bricks: Integers,
    values: Floats,
    shape: Numbers,
    starts: Numbers,
    points: Numbers,
    index: Integers,
    first: Numbers,
    axis: NDArray[np.int8],
    share: Reals,
):  # pragma: no cover - compiled
    for brick in loop(len(bricks)):
        x0, y0, z0 = bricks[brick, 0] * CELLS, bricks[brick, 1] * CELLS, bricks[brick, 2] * CELLS
        at = starts[brick]
        if points[brick] == 0:
            continue
        for i in range(min(CELLS, shape[0] - x0)):
            for j in range(min(CELLS, shape[1] - y0)):
                for k in range(min(CELLS, shape[2] - z0)):
                    own = values[brick, i, j, k]
                    node = ((x0 + i) * shape[1] + y0 + j) * shape[2] + z0 + k
                    for way in range(3):
                        di, dj, dk = way == 0, way == 1, way == 2
                        if x0 + i + di >= shape[0] or y0 + j + dj >= shape[1] or z0 + k + dk >= shape[2]:
                            continue
                        other = values[brick, i + di, j + dj, k + dk]
                        if (own > 0) == (other > 0):
                            continue
                        along = np.float64(own) / (np.float64(own) - np.float64(other))
                        first[at], axis[at] = node, way
                        share[at] = min(max(along, LEAST), 1 - LEAST)
                        index[brick, i, j, k, way] = at
                        at += 1


@parallel
def _faces(
    bricks: Integers,
    values: Floats,
    shape: Numbers,
    slots: Integers,
    starts: Numbers,
    triangles: Numbers,
    counts: Integers,
    table: Integers,
    index: Integers,
    faces: Integers,
):  # pragma: no cover - compiled
    for brick in loop(len(bricks)):
        x0, y0, z0 = bricks[brick, 0] * CELLS, bricks[brick, 1] * CELLS, bricks[brick, 2] * CELLS
        at = starts[brick]
        if triangles[brick] == 0:
            continue
        for i in range(min(CELLS, shape[0] - 1 - x0)):
            for j in range(min(CELLS, shape[1] - 1 - y0)):
                after = _flat(values, brick, i, j, 0)
                for k in range(min(CELLS, shape[2] - 1 - z0)):
                    low, after = after, _flat(values, brick, i, j, k + 1)
                    above = low | after << 4
                    for triangle in range(counts[above]):
                        for corner in range(3):
                            edge = table[above, 3 * triangle + corner]
                            way, low, high = edge // 4, edge & 1, edge >> 1 & 1
                            ni = i if way == 0 else i + low
                            nj = j + low if way == 0 else (j if way == 1 else j + high)
                            nk = k if way == 2 else k + high
                            slot = np.int64(brick)
                            if ni == CELLS or nj == CELLS or nk == CELLS:
                                slot = np.int64(
                                    slots[
                                        bricks[brick, 0] + ni // CELLS,
                                        bricks[brick, 1] + nj // CELLS,
                                        bricks[brick, 2] + nk // CELLS,
                                    ]
                                )
                            faces[at, corner] = index[slot, ni % CELLS, nj % CELLS, nk % CELLS, way]
                        at += 1
